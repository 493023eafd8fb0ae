import { CurveBuilder } from '../../geometry/build.ts';
import { type Curve, curveLength, parameterAtLength, segmentCount } from '../../geometry/curve.ts';
import { meetings, nearestOnCurve } from '../../geometry/meet.ts';
import { toleranceOf } from '../model/construction.ts';
import { evaluate } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fits } from '../model/values.ts';
import { fail, round } from '../model/evaluation-context.ts';

export interface SplitSyntax extends Statement {
	kind: 'split';
	curve: CurveReference;
	at?: Expression[];
	into?: Expression;
}

export const split: StatementRecord<SplitSyntax> = {
	kind: 'split',
	title: 'Split',
	words: ['split', 'at', 'into'],
	stage: 'shape',
	clauses: [],
	form: 'split ${curve} into ${n}',
	doc: 'Makes junctions on a curve: n equal pieces, or at points on it, at curves across it, and at shares of its length.',
	grammar(p) {
		p.CONSUME(keyword('split'));
		const curve = p.SUBRULE(p.curveReference);
		const where = p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('at'));
					return { at: p.SUBRULE(p.expressions) };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('into'));
					return { into: p.SUBRULE(p.expression) };
				}
			}
		]);
		return { kind: 'split', curve, ...where };
	},
	evaluate(statement, context) {
		const c = context.curve(statement.curve);
		const { curves } = context.model;
		const curve = curves[c]!;
		const length = curveLength(curve);
		const stops: number[] = [];
		if (statement.into) {
			const parts = context.number(statement.into, 'number');
			if (!(Number.isInteger(parts) && parts >= 2 && parts <= 10_000))
				fail(statement.into, `a curve is split into 2 to 10000 parts, a whole number; found ${parts}`);
			for (let k = curve.closed ? 0 : 1; k < parts; k++) stops.push(parameterAtLength(curve, (k / parts) * length));
		}
		for (const e of statement.at ?? []) {
			const others = context.curvesNamed(e);
			if (others) {
				const tolerance = toleranceOf([curve, ...others.map((k) => curves[k]!)]);
				const places = others.flatMap((k) => meetings(curve, curves[k]!, tolerance));
				if (places.length === 0) fail(e, `this curve does not meet “${curve.name}”`);
				stops.push(...places.map((p) => p.s));
				continue;
			}
			const value = evaluate(e, context.scope);
			if (value.kind === 'number') {
				if (!fits(value.dimension, 'number') || !(value.value >= 0 && value.value <= 1))
					fail(e, `a share of the length is a plain number between 0 and 1, found ${round(value.value)}`);
				stops.push(parameterAtLength(curve, value.value * length));
				continue;
			}
			const { t, distance } = nearestOnCurve(curve, value);
			if (distance > 1e-6 * length)
				fail(
					e,
					`(${round(value.x)}, ${round(value.y)}) is ${round(distance)} away from “${curve.name}”; “nearest(${curve.name}, …)” gives a point on it`
				);
			stops.push(t);
		}
		context.replace([[c, withJunctions(curve, stops)]]);
	},
	uses: ({ curve, at, into }) => namesIn(curve, at, into),
	needs: ({ curve }) => [curve]
};

/** The same curve with a junction at each of the parameters. */
function withJunctions(curve: Curve, stops: readonly number[]): Curve {
	const count = segmentCount(curve);
	const sorted = [...new Set(stops)].filter((t) => t > 0 && t < count).sort((a, b) => a - b);
	const wholeStart = curve.closed && stops.some((t) => t === 0 || t === count);
	const builder = new CurveBuilder();
	const joints: number[] = wholeStart ? [0] : [];
	let from = 0;
	// Old joints keep their place in the order, new ones come between.
	const corners = curve.corners.map((k) => k + sorted.filter((t) => t < k && t !== Math.floor(t)).length);
	for (const t of [...sorted, count]) {
		builder.along(curve, from, t);
		if (t < count) joints.push(builder.count);
		from = t;
	}
	return builder.build(curve.name, curve.closed, { only: [...corners, ...joints] });
}
