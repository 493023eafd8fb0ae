import type { Curve, Point } from '../../../geometry/curve.ts';
import { toleranceOf } from '../../model/construction.ts';
import { evaluatePoint } from '../../model/expressions.ts';
import { namesIn, type NameUse } from '../../language/names.ts';
import type { NamedRule } from '../../language/rules.ts';
import type { CurveReference, Expression, Statement, Word } from '../../language/syntax.ts';
import { keyword } from '../../language/tokens.ts';
import { constructed, fail, type EvaluationContext } from '../../model/evaluation-context.ts';

/** A corner of two curves that is cut off: rounded or bevelled. */
export interface CornerSyntax extends Statement {
	name: Word;
	first: CurveReference;
	second: CurveReference;
	/** Where, when the two meet more than once. */
	near?: Expression;
	/** The radius of a fillet; the length or the two lengths that a chamfer takes away. */
	lengths: Expression[];
}

/** The two curves of a corner, and where it is: `a with b near p`. */
export const cornerCurves: NamedRule<Pick<CornerSyntax, 'first' | 'second' | 'near'>> = {
	name: 'cornerCurves',
	parse(p) {
		const [first, second] = p.clause('curves', () => {
			const a = p.SUBRULE(p.curveReference);
			p.CONSUME(keyword('with'));
			return [a, p.SUBRULE2(p.curveReference)] as const;
		});
		const near = p.OPTION(() => p.SUBRULE(p.ruleOf(cornerPlace)));
		return { first, second, ...(near ? { near } : {}) };
	}
};

/** Where a corner is: `near p`, before its lengths or after them. */
export const cornerPlace: NamedRule<Expression> = {
	name: 'cornerPlace',
	parse: (p) =>
		p.clause('near', () => {
			p.CONSUME(keyword('near'));
			return p.SUBRULE(p.expression);
		})
};

export const cornerUses = ({ first, second, near, lengths }: CornerSyntax): NameUse[] => namesIn(first, second, near, lengths);

/** Cuts a corner off by what `make` puts between the two curves. */
export function cutCorner(
	statement: CornerSyntax,
	context: EvaluationContext,
	clause: string,
	make: (
		first: Curve,
		second: Curve,
		tolerance: number,
		near: Point | undefined
	) => { first: Curve; second: Curve; between: Curve }
): void {
	const [a, b] = [context.curve(statement.first), context.curve(statement.second)];
	if (a === b) fail(statement.second, 'a corner is between two curves; split this one first');
	const { curves } = context.model;
	const [first, second] = [curves[a]!, curves[b]!];
	for (const [curve, reference] of [
		[first, statement.first],
		[second, statement.second]
	] as const)
		if (curve.closed) fail(reference, `“${curve.name}” is closed and has no corner with another curve; split and trim it first`);
	const near = statement.near && evaluatePoint(statement.near, context.scope);
	const at = statement.clauses.find((c) => c.name === clause) ?? statement.name;
	const result = constructed(at, () => make(first, second, 10 * toleranceOf([first, second]), near));
	context.replace([
		[a, result.first],
		[b, result.second]
	]);
	context.add(result.between);
}
