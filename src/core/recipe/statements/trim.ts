import { curveLength, lengthAt, segmentCount } from '../../geometry/curve.ts';
import { meetings, nearestOnCurve } from '../../geometry/meet.ts';
import { partCurve } from '../../geometry/transform.ts';
import { toleranceOf } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface TrimSyntax extends Statement {
	kind: 'trim';
	curve: CurveReference;
	to: CurveReference;
	keep: Expression;
}

export const trim: StatementRecord<TrimSyntax> = {
	kind: 'trim',
	title: 'Trim',
	words: ['trim', 'to', 'keep'],
	stage: 'shape',
	clauses: [],
	form: 'trim ${curve} to ${other} keep ${p}',
	doc: 'Cuts a curve where it meets another and keeps the part that a point is nearest to.',
	grammar(p) {
		p.CONSUME(keyword('trim'));
		const curve = p.SUBRULE(p.curveReference);
		p.CONSUME(keyword('to'));
		const to = p.SUBRULE2(p.curveReference);
		p.CONSUME(keyword('keep'));
		return { kind: 'trim', curve, to, keep: p.SUBRULE(p.expression) };
	},
	evaluate(statement, context) {
		const c = context.curve(statement.curve);
		const { curves } = context.model;
		const curve = curves[c]!;
		const cutters = context
			.curves(statement.to)
			.filter((k) => k !== c)
			.map((k) => curves[k]!);
		const tolerance = toleranceOf([curve, ...cutters]);
		const keep = evaluatePoint(statement.keep, context.scope);
		const count = segmentCount(curve);
		const stops = [...new Set(cutters.flatMap((k) => meetings(curve, k, tolerance)).map((m) => m.s))].sort((a, b) => a - b);
		const inner = stops.filter(
			(t) => curve.closed || (lengthAt(curve, t) > 4 * tolerance && curveLength(curve) - lengthAt(curve, t) > 4 * tolerance)
		);
		if (inner.length === 0) fail(statement.to, `“${statement.to.name}” does not cut “${curve.name}”`);
		if (curve.closed && inner.length === 1)
			fail(
				statement.to,
				`“${statement.to.name}” cuts the closed “${curve.name}” only once; it takes two cuts to take a part away`
			);
		const { t } = nearestOnCurve(curve, keep);
		const after = inner.find((s) => s > t);
		const before = inner.filter((s) => s <= t).at(-1);
		if (curve.closed) {
			const from = before ?? inner.at(-1)! - count;
			const to = after ?? inner[0]! + count;
			const part = from < 0 ? partCurve(curve, from + count, to + count, curve.name) : partCurve(curve, from, to, curve.name);
			context.replace([[c, part]]);
		} else context.replace([[c, partCurve(curve, before ?? 0, after ?? count, curve.name)]]);
	},
	uses: ({ curve, to, keep }) => namesIn(curve, to, keep),
	needs: ({ curve, to }) => [curve, to]
};
