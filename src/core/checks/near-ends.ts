import Flatbush from 'flatbush';
import { hypot } from '../numeric/elementary.ts';
import { nearestOnCurve } from '../geometry/meet.ts';
import { extent, pointAt, segmentCount, type Point } from '../geometry/curve.ts';
import { endExpression } from './points-of-curves.ts';
import { curveOfPieces, sourceText, type ShapeCheck } from './shape-check.ts';
import type { TextEdit } from '../text/edit.ts';
import type { Finding } from '../text/finding.ts';

/** An end nearer to another curve than this share of the drawing is taken for a missed joint. */
const share = 5e-3;

/** Open ends: those that all but meet something, with the weld that joins them; and the others. */
export function checkEnds({ model, arrangement, report }: ShapeCheck): void {
	const { pieces, degree, x, y, sides, byCurve, curves, diagonal } = arrangement;
	const open: { p: number; j: number; atStart: boolean }[] = [];
	for (const [p, { start, end }] of pieces.entries()) {
		if (degree[start] === 1) open.push({ p, j: start, atStart: true });
		if (degree[end] === 1) open.push({ p, j: end, atStart: false });
	}
	if (open.length === 0) return;
	const curveOf = curveOfPieces(arrangement);
	const index = new Flatbush(curves.length);
	for (const curve of curves) index.add(...extent([curve])!);
	index.finish();
	const found = new Set<number>();
	const list: Finding[] = [];
	for (const { p, j, atStart } of open) {
		const at = { x: x[j]!, y: y[j]! };
		const curve = curveOf[p]!;
		const reach = Math.min(share * diagonal, 0.2 * pieces[p]!.length);
		const near = index
			.search(at.x - reach, at.y - reach, at.x + reach, at.y + reach)
			// A curve that was left out, or of which nothing is left, joins nothing.
			.filter((c) => c !== curve && byCurve[c]!.length > 0)
			.map((c) => ({ c, ...nearestOnCurve(curves[c]!, at) }))
			.filter(({ distance }) => distance <= reach)
			.sort((a, b) => a.distance - b.distance || a.c - b.c)[0];
		const name = curves[curve]!.name;
		if (!near) {
			const inside = sides[2 * p]! >= 0;
			list.push(report.finding(inside ? 'inner-edge' : 'open-end', { curve: name, at }, { at, pieces: [p] }));
			continue;
		}
		if (found.has(j)) continue;
		const other = curves[near.c]!;
		const foot = pointAt(other, near.t);
		const otherEnd = endNear(other, foot, reach);
		if (otherEnd) {
			const k = otherEnd === 'start' ? pieces[byCurve[near.c]![0]!.piece]! : pieces[byCurve[near.c]!.at(-1)!.piece]!;
			found.add(k.start).add(k.end);
		}
		const mend = weld(curve, atStart, near.c, otherEnd, foot);
		list.push(
			report.finding(
				'near-ends',
				{ curve: name, other: other.name, at, distance: near.distance },
				{ at, pieces: [p, byCurve[near.c]![0]?.piece ?? p], ...(mend ? { mend } : {}) }
			)
		);
	}
	report.addAll(list);

	function endNear(curve: (typeof curves)[number], p: Point, reach: number): 'start' | 'end' | undefined {
		if (curve.closed) return undefined;
		const away = (q: Point) => hypot(q.x - p.x, q.y - p.y);
		if (away(pointAt(curve, 0)) <= reach) return 'start';
		return away(pointAt(curve, segmentCount(curve))) <= reach ? 'end' : undefined;
	}

	/** Writes the place of the other curve into the statement of whichever curve says where it ends. */
	function weld(
		c: number,
		atStart: boolean,
		other: number,
		otherEnd: 'start' | 'end' | undefined,
		foot: Point
	): TextEdit[] | undefined {
		const mine = endExpression(model, c, atStart);
		const theirs = otherEnd && endExpression(model, other, otherEnd === 'start');
		const set = (target: NonNullable<typeof mine>, source: string): TextEdit[] => {
			const base = model.recipe.lines[target.line]!.from;
			const { from, to } = target.expression;
			return [{ from: base + from, to: base + to, insert: source }];
		};
		// Of two written ends the later statement takes the place of the earlier, so that names stand before their use.
		if (mine && theirs && theirs.line > mine.line) return set(theirs, sourceText(model, mine.line, mine.expression));
		if (mine && theirs) return set(mine, sourceText(model, theirs.line, theirs.expression));
		const earlier = (a: number, b: number) => model.curveLines[a]! < model.curveLines[b]!;
		if (mine) {
			const name = model.curves[other]!.name;
			return set(mine, otherEnd && earlier(other, c) ? `${otherEnd}(${name})` : `(${foot.x}, ${foot.y})`);
		}
		if (!theirs) return undefined;
		const end = pointAt(model.curves[c]!, atStart ? 0 : segmentCount(model.curves[c]!));
		return set(theirs, earlier(c, other) ? `${atStart ? 'start' : 'end'}(${model.curves[c]!.name})` : `(${end.x}, ${end.y})`);
	}
}
