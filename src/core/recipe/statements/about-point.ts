import type { Affine } from '../../geometry/transform.ts';
import { place } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, type Rules, withNeeded } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import type { EvaluationContext } from '../model/evaluation-context.ts';

/** Curves mapped by a number about a point, where they stand. */
export interface AboutPointSyntax<Kind extends string> extends Statement {
	kind: Kind;
	curves: CurveReference[];
	by: Expression;
	centre?: Expression;
}

/** `by step` and `about centre`, for {@link inAnyOrder}. */
export const stepParts = (p: Rules): { by: () => Expression; centre: () => Expression } => ({
	by: () => {
		p.CONSUME(keyword('by'));
		return p.SUBRULE(p.expression);
	},
	centre: () => {
		p.CONSUME(keyword('about'));
		return p.SUBRULE2(p.expression);
	}
});

/**
 * The record of a statement `<kind> curves by n about p`.
 *
 * @param map the map of such a statement; throws {@link ExpressionError}
 */
export function aboutPoint<Kind extends 'turn' | 'scale'>(
	kind: Kind,
	found: Pick<StatementRecord<AboutPointSyntax<Kind>>, 'title' | 'form' | 'doc'>,
	map: (statement: AboutPointSyntax<Kind>, context: EvaluationContext) => Affine
): StatementRecord<AboutPointSyntax<Kind>> {
	return {
		kind,
		...found,
		words: [kind, 'by', 'about'],
		stage: 'shape',
		clauses: [],
		grammar(p) {
			p.CONSUME(keyword(kind));
			const curves = p.SUBRULE(p.curveReferences);
			const found = inAnyOrder<{ by: Expression; centre: Expression }>(
				(parse) => p.MANY(parse),
				(choices) => p.OR(choices),
				stepParts(p)
			);
			return { kind, curves, ...withNeeded(found, { by: () => p.CONSUME2(keyword('by')) }) };
		},
		evaluate(statement, context) {
			place(statement, map(statement, context), context);
		},
		actsOn: ({ curves }) => [curves],
		uses: ({ curves, by, centre }) => namesIn(curves, by, centre)
	};
}
