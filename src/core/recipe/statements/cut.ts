import { lineCurve, tangent } from '../../geometry/build.ts';
import { type Curve, curveLength, locate, parameterAtLength, type Point, pointAt } from '../../geometry/curve.ts';
import { meetings, nearestOnCurve } from '../../geometry/meet.ts';
import { atan2, cos, sin } from '../../numeric/elementary.ts';
import { sizeOf } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, round } from '../model/evaluation-context.ts';

export interface CutSyntax extends Statement {
	kind: 'cut';
	name: Word;
	/** A point; or a curve, with the place on it as a share of its length. */
	start: Expression;
	share?: Expression;
	end: Expression;
	/** How far the cut turns from the square direction. */
	turned?: Expression;
	/** The direction of the cut, as an angle from the x axis. */
	heading?: Expression;
}

export const cut: StatementRecord<CutSyntax> = {
	kind: 'cut',
	title: 'Cut',
	words: ['cut', 'at', 'to', 'turned', 'heading'],
	stage: 'shape',
	clauses: [],
	form: 'cut ${name} = ${p} to ${curve}',
	doc: 'A straight line to divide a domain: from a point the shortest way to a curve, from a share of a curve square to it, turned by an angle, or by `heading` in a given direction.',
	grammar(p) {
		p.CONSUME(keyword('cut'));
		const name = p.SUBRULE(p.definedName);
		const start = p.SUBRULE(p.expression);
		const share = p.OPTION(() => {
			p.CONSUME(keyword('at'));
			return p.SUBRULE2(p.expression);
		});
		p.CONSUME(keyword('to'));
		const end = p.SUBRULE3(p.expression);
		const direction = p.OPTION2(() =>
			p.OR([
				{ ALT: () => ({ turned: p.SUBRULE(p.turnClause) }) },
				{
					ALT: () => {
						p.CONSUME(keyword('heading'));
						return { heading: p.SUBRULE4(p.expression) };
					}
				}
			])
		);
		return { kind: 'cut', name, start, share, end, ...direction };
	},
	evaluate(statement, context) {
		const { curves } = context.model;
		const name = statement.name.text;
		const targets = context.curvesNamed(statement.end)?.map((c) => curves[c]!);
		const turned = statement.turned ? context.number(statement.turned, 'angle') : 0;
		let from: Point;
		let direction: number | undefined = statement.heading && context.number(statement.heading, 'angle');
		const sources = context.curvesNamed(statement.start);
		if (statement.share || sources) {
			if (!sources) fail(statement.start, '“at” follows the name of a curve');
			if (sources.length > 1) fail(statement.start, `this names ${sources.length} curves; a cut starts on one of them`);
			if (!statement.share) fail(statement.start, 'say where on this curve the cut starts, like “at 0.5” for its middle');
			const curve = curves[sources[0]!]!;
			const share = context.number(statement.share, 'number');
			if (!(share >= 0 && share <= 1)) fail(statement.share, `a share of the length is between 0 and 1, found ${share}`);
			const t = parameterAtLength(curve, share * curveLength(curve));
			from = pointAt(curve, t);
			if (direction === undefined && targets) {
				const { segment, u } = locate(curve, t);
				const d = tangent(curve, segment, u);
				// Square to the curve, on the side on which the target is hit first.
				const reach = 3 * sizeOf(targets.concat(curve));
				const hits = [1, -1].flatMap((side) => {
					const angle = atan2(side * d.x, -side * d.y) + turned;
					const hit = firstHit(from, angle, reach, targets);
					return hit ? [hit] : [];
				});
				const [nearest] = hits.sort((a, b) => a.length - b.length);
				if (!nearest) fail(statement.end, `a cut square to “${curve.name}” does not meet this curve`);
				return context.add(lineCurve(name, from, nearest));
			}
		} else from = evaluatePoint(statement.start, context.scope);
		if (!targets) {
			const to = evaluatePoint(statement.end, context.scope);
			if (from.x === to.x && from.y === to.y) fail(statement.end, 'the cut ends where it starts');
			return context.add(lineCurve(name, from, to));
		}
		const reach = 3 * sizeOf(targets, [from]);
		if (direction === undefined) {
			const feet = targets.map((curve) => ({ curve, ...nearestOnCurve(curve, from) }));
			const foot = feet.reduce((a, b) => (b.distance < a.distance ? b : a));
			if (!(foot.distance > 0))
				fail(statement.start, 'the point lies on this curve already; start at the other one, or give a heading');
			const p = pointAt(foot.curve, foot.t);
			if (turned === 0) return context.add(lineCurve(name, from, p));
			direction = atan2(p.y - from.y, p.x - from.x) + turned;
		}
		const hit = firstHit(from, direction, reach, targets);
		if (!hit) fail(statement.end, `a cut from (${round(from.x)}, ${round(from.y)}) in this direction does not meet this curve`);
		context.add(lineCurve(name, from, hit));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.start, s.share, s.end, s.turned, s.heading)
};

/** Where a ray first meets one of the curves, away from its start. */
function firstHit(
	from: Point,
	angle: number,
	reach: number,
	targets: readonly Curve[]
): (Point & { length: number }) | undefined {
	const ray = lineCurve('', from, { x: from.x + reach * cos(angle), y: from.y + reach * sin(angle) });
	const tolerance = reach * 1e-12;
	return targets
		.flatMap((curve) => meetings(ray, curve, tolerance))
		.map(({ x, y, s }) => ({ x, y, length: s * reach }))
		.filter((p) => p.length > 1e-9 * reach)
		.sort((a, b) => a.length - b.length)[0];
}
