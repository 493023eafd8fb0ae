import { meetings } from '../geometry/meet.ts';
import { lineCurve } from '../geometry/build.ts';
import { LINE, pointAt, segmentCount, type Curve, type Point } from '../geometry/curve.ts';
import { repairOf, turnsBack } from './point-order.ts';
import { dropPoints, swapPoints } from './points-of-curves.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import type { ShapeCheck } from './shape-check.ts';
import type { Finding } from '../text/finding.ts';

/** Curves that cross or touch themselves, and spurs, where a curve runs out and back over itself. */
export function checkSelfCrossings({ model, arrangement, report }: ShapeCheck): void {
	const { byCurve, pieces, curves, x, y } = arrangement;
	const findings: Finding[] = [];
	const crossed = new Set<string>();
	for (const c of comingBack(arrangement)) {
		const list = byCurve[c]!;
		const curve = curves[c]!;
		const rows = model.fileLines.get(curve.name);
		const places = list.map(({ piece, reversed }, k) => {
			const { start, end } = pieces[piece]!;
			return { k, piece, junction: reversed ? end : start };
		});
		const seen = new Map<number, number>();
		for (const { k, piece } of places) {
			const before = seen.get(piece);
			if (before === undefined) {
				seen.set(piece, k);
				continue;
			}
			if (before !== k - 1) continue;
			// Out over a piece and straight back: the tip is where the two meet.
			const tip = places[k]!.junction;
			const at = { x: x[tip]!, y: y[tip]! };
			const number = pointNumber(curve, at);
			const mend = number === undefined ? undefined : dropPoints(model, c, [number]);
			findings.push(
				report.finding(
					'spur',
					{ curve: curve.name, at, lines: lineText(rows, number) },
					{ at, pieces: [piece], ...(mend ? { mend } : {}) }
				)
			);
		}
		const visited = new Map<number, number>();
		const crossings: Crossing[] = [];
		const spurPieces = new Set(list.filter(({ piece }, k) => seen.get(piece) !== k).map(({ piece }) => piece));
		for (const { k, junction } of places) {
			const before = visited.get(junction);
			visited.set(junction, k);
			if (before === undefined || spurPieces.has(list[k]!.piece) || spurPieces.has(list[before]!.piece)) continue;
			const at = { x: x[junction]!, y: y[junction]! };
			const ends = [before, k].map((visit) => segmentAtStart(pieces[list[visit]!.piece]!, list[visit]!.reversed, curve));
			const [s, t] = ends.includes(undefined) ? parametersAt(curve, at, arrangement.tolerance) : ends;
			const lines =
				rows && s !== undefined && t !== undefined
					? ` (lines ${rows[s]}–${rows[s + 1] ?? rows[0]} and ${rows[t]}–${rows[t + 1] ?? rows[0]} of its file)`
					: '';
			for (const piece of [list[before]!.piece, list[k]!.piece]) crossed.add(pieces[piece]!.curve.name);
			crossings.push({ at, lines, pieces: [list[before]!.piece, list[k]!.piece], s, t });
		}
		for (const crossing of crossings) {
			const { at, lines, pieces, s, t } = crossing;
			const mend =
				s === undefined || t === undefined
					? undefined
					: (mendBetween(model, c, curve, s, t + 1) ?? dropLoop(model, c, curve, crossings, crossing));
			findings.push(report.finding('self-crossing', { curve: curve.name, at, lines }, { at, pieces, ...(mend ? { mend } : {}) }));
		}
	}
	report.addAll([...findZigzags({ model, arrangement, report }, crossed), ...findings]);
}

/** A place where a curve crosses itself: the two of its segments that meet there, the lower first, as far as they are known. */
interface Crossing {
	at: Point;
	lines: string;
	pieces: number[];
	s: number | undefined;
	t: number | undefined;
}

/** No more than this part of the points of a curve is taken for a loop that is a slip. */
const mostOfLoop = 1 / 3;

/**
 * The edit that leaves out the points of a loop, with those of loops that overlap it, so that one edit mends all of them; of
 * a closed curve the side with fewer points. Undefined where that is too much of the curve.
 */
function dropLoop(model: ShapeCheck['model'], c: number, curve: Curve, crossings: readonly Crossing[], { s, t }: Crossing) {
	const count = segmentCount(curve) + (curve.closed ? 0 : 1);
	const most = Math.floor(count * mostOfLoop);
	let [low, high] = [s!, t!];
	const loops = crossings.flatMap((one) => (one.s === undefined || one.t === undefined ? [] : [[one.s, one.t] as const]));
	const across = curve.closed && high - low > count / 2;
	if (!across)
		for (let grows = true; grows;) {
			const overlapping = loops.filter(([a, b]) => a < high && b > low && b - a <= most);
			const [least, greatest] = [Math.min(low, ...overlapping.map(([a]) => a)), Math.max(high, ...overlapping.map(([, b]) => b))];
			grows = least < low || greatest > high;
			[low, high] = [least, greatest];
		}
	const numbers = across
		? [...Array.from({ length: count - 1 - high }, (_, k) => high + 1 + k), ...Array.from({ length: low + 1 }, (_, k) => k)]
		: Array.from({ length: high - low }, (_, k) => low + 1 + k);
	return numbers.length > most ? undefined : dropPoints(model, c, numbers);
}

/** The curves that run over a piece twice, or set out from a junction twice. */
function comingBack({ byCurve, pieces, x }: Arrangement): number[] {
	const lastAt = new Int32Array(x.length).fill(-1);
	const lastOver = new Int32Array(pieces.length).fill(-1);
	const found: number[] = [];
	for (const [c, list] of byCurve.entries())
		for (const { piece, reversed } of list) {
			const from = reversed ? pieces[piece]!.end : pieces[piece]!.start;
			if (lastOver[piece] === c || lastAt[from] === c) {
				found.push(c);
				break;
			}
			lastOver[piece] = lastAt[from] = c;
		}
	return found;
}

const lineText = (rows: Uint32Array | undefined, number: number | undefined) =>
	rows && number !== undefined ? ` (line ${rows[number]} of its file)` : '';

/** The segment of a curve on which one of its pieces starts as the curve runs; undefined for a piece that is another curve's. */
function segmentAtStart({ curve: pieceCurve, t0, t1 }: Piece, reversed: boolean, curve: Curve): number | undefined {
	if (pieceCurve !== curve) return undefined;
	return Math.floor(reversed ? t1 : t0) % segmentCount(curve);
}

/** The number of the joint of a curve at a point. */
function pointNumber(curve: Curve, at: Point): number | undefined {
	for (let t = 0; t < segmentCount(curve); t++) {
		const p = pointAt(curve, t);
		if (p.x === at.x && p.y === at.y) return t;
	}
	return undefined;
}

/** The first two segments of a curve through a point, other than neighbours. */
function parametersAt(curve: Curve, at: Point, tolerance: number): [number?, number?] {
	const probe = lineCurve(
		'',
		{ x: at.x - 4 * tolerance, y: at.y - 3 * tolerance },
		{ x: at.x + 4 * tolerance, y: at.y + 3 * tolerance }
	);
	const segments = [
		...new Set(meetings(curve, probe, 4 * tolerance).map((m) => Math.min(Math.floor(m.s), segmentCount(curve) - 1)))
	];
	const on = segments.length >= 2 ? segments : segmentsThrough(curve, at, tolerance);
	const first = on[0];
	return [
		first,
		// Straight neighbours share a point, and cross nowhere; a spline may cross over from one segment to the next.
		on.find(
			(s) =>
				first !== undefined &&
				s > first + (curve.kinds[first] === LINE ? 1 : 0) &&
				!(curve.closed && first === 0 && s === segmentCount(curve) - 1)
		)
	];
}

function segmentsThrough(curve: Curve, at: Point, tolerance: number): number[] {
	const found: number[] = [];
	for (let i = 0; i < segmentCount(curve); i++) {
		const [a, b] = [pointAt(curve, i), pointAt(curve, i + 1)];
		const [dx, dy] = [b.x - a.x, b.y - a.y];
		const length = dx * dx + dy * dy;
		const f = Math.min(1, Math.max(0, ((at.x - a.x) * dx + (at.y - a.y) * dy) / length));
		const [ex, ey] = [a.x + f * dx - at.x, a.y + f * dy - at.y];
		if (ex * ex + ey * ey <= 16 * tolerance * tolerance) found.push(i);
	}
	return found;
}

/** The edit that puts the points of a curve right between two of them, and what it does. */
function mendBetween(model: ShapeCheck['model'], c: number, curve: Curve, from: number, to: number) {
	const { closed } = curve;
	const count = segmentCount(curve) + (closed ? 0 : 1);
	const repair = repairOf({ at: (k) => pointAt(curve, k), count, ring: closed }, from, to);
	if (!repair) return undefined;
	return repair.kind === 'swap' ? swapPoints(model, c, repair.points) : dropPoints(model, c, repair.points);
}

/** A line of a file has more points than this before a turning back in it is taken for a slip. */
const fewest = 20;
/** Two turnings back so few points apart are one slip. */
const nearby = 6;

/** Where a line from a file turns back and on again, which two rows in the wrong order make of it, or a wrong one. */
function findZigzags(
	{ model, arrangement: { curves }, report }: Pick<ShapeCheck, 'model' | 'arrangement' | 'report'>,
	crossed: ReadonlySet<string>
): Finding[] {
	if (model.fileLines.size === 0) return [];
	return curves.flatMap((curve, c): Finding[] => {
		const rows = model.fileLines.get(curve.name);
		const count = segmentCount(curve);
		if (!rows || count < fewest || crossed.has(curve.name)) return [];
		const backs: number[] = [];
		for (let k = 1; k < count; k++) if (turnsBack(pointAt(curve, k - 1), pointAt(curve, k), pointAt(curve, k + 1))) backs.push(k);
		// Where a line turns back all along, it is meant to.
		if (backs.length > count / 20) return [];
		const found: Finding[] = [];
		for (let i = 0; i + 1 < backs.length; i++) {
			const [from, to] = [backs[i]!, backs[i + 1]!];
			if (to - from > nearby) continue;
			i++;
			const mend = mendBetween(model, c, curve, from, to);
			if (!mend) continue;
			const at = pointAt(curve, from);
			const lines = ` (lines ${rows[from]}–${rows[to]} of its file)`;
			found.push(report.finding('zigzag', { curve: curve.name, at, lines }, { at, mend }));
		}
		return found;
	});
}
