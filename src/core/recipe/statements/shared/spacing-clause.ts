import { namesIn, type NameUse } from '../../language/names.ts';
import { word, type NamedRule } from '../../language/rules.ts';
import type { CurveReference, Expression } from '../../language/syntax.ts';
import { CloseRound, Comma, keyword, Name, OpenRound } from '../../language/tokens.ts';
import { fail, replacing, type EvaluationContext } from '../../model/evaluation-context.ts';

/** The numbers that a spacing is given by. */
export type SpacingWord = 'bias' | 'first' | 'last' | 'growth' | 'largest';

/** What a spacing clause says. */
export interface SpacingSyntax {
	numbers?: Partial<Record<SpacingWord, Expression>>;
	positions?: Expression[];
	toward?: 'both' | 'middle' | CurveReference;
	like?: CurveReference;
}

/** The words of {@link spacingClause}. */
export const spacingWords: readonly string[] = [
	...['bias', 'first', 'last', 'growth', 'largest', 'toward', 'at', 'positions', 'from', 'like', 'both', 'middle']
];

const spacingEnd: NamedRule<'both' | 'middle' | CurveReference> = {
	name: 'spacingEnd',
	parse(p) {
		return p.OR({
			// A curve may be called `both` or `middle`; here the words win.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				{ ALT: () => p.CONSUME(keyword('both')).image },
				{ ALT: () => p.CONSUME(keyword('middle')).image },
				{
					ALT: () => {
						// The end of a curve: `start(foil)`, `end(foil)`.
						const callee = word(p.CONSUME(Name));
						p.CONSUME2(OpenRound);
						const curve = p.SUBRULE3(p.expression);
						const close = p.CONSUME2(CloseRound);
						const span = { from: callee.from, to: close.startOffset + 1 };
						return { name: '(x, y)', point: { kind: 'call', callee, arguments: [curve], ...span }, ...span };
					}
				},
				{ ALT: () => p.SUBRULE(p.curveReference) },
				{
					ALT: () => {
						const open = p.CONSUME(OpenRound);
						const x = p.SUBRULE(p.expression);
						p.CONSUME(Comma);
						const y = p.SUBRULE2(p.expression);
						const close = p.CONSUME(CloseRound);
						const span = { from: open.startOffset, to: close.startOffset + 1 };
						return { name: '(x, y)', point: { kind: 'pair', x, y, ...span }, ...span };
					}
				}
			]
		});
	}
};

/** `bias 12 toward pipe`, `first 0.05 growth 1.2 at wall`, `positions 0.1, 0.4 from p`, `like other` */
export const spacingClause: NamedRule<SpacingSyntax> = {
	name: 'spacingClause',
	parse(p) {
		return p.clause('spacing', () =>
			p.OR([
				{
					ALT: () => {
						const numbers: Partial<Record<SpacingWord, Expression>> = {};
						p.AT_LEAST_ONE(() => {
							const name = p.OR2([
								{ ALT: () => p.CONSUME(keyword('bias')) },
								{ ALT: () => p.CONSUME(keyword('first')) },
								{ ALT: () => p.CONSUME(keyword('last')) },
								{ ALT: () => p.CONSUME(keyword('growth')) },
								{ ALT: () => p.CONSUME(keyword('largest')) }
							]);
							numbers[name.image as SpacingWord] = p.SUBRULE(p.expression);
						});
						p.OR3([{ ALT: () => p.CONSUME(keyword('toward')) }, { ALT: () => p.CONSUME(keyword('at')) }]);
						return { numbers, toward: p.SUBRULE(p.ruleOf(spacingEnd)) };
					}
				},
				{
					ALT: () => {
						p.CONSUME(keyword('positions'));
						const positions = p.SUBRULE(p.expressions);
						p.CONSUME(keyword('from'));
						return { positions, toward: p.SUBRULE2(p.ruleOf(spacingEnd)) };
					}
				},
				{
					ALT: () => {
						p.CONSUME(keyword('like'));
						return { like: p.SUBRULE(p.curveReference) };
					}
				}
			])
		);
	}
};

export const spacingRules: readonly NamedRule<unknown>[] = [spacingEnd, spacingClause];

/** The names that a spacing uses. */
export const spacingUses = ({ numbers, positions, toward, like }: SpacingSyntax): NameUse[] => [
	...namesIn(Object.values(numbers ?? {}), positions, like),
	...(typeof toward === 'object' ? namesIn(toward.point ?? toward) : [])
];

export function spacingNumber(word: SpacingWord, expression: Expression, context: EvaluationContext): number {
	if (word === 'first' || word === 'last' || word === 'largest') return context.positive(expression, `a ${word} cell`);
	const value = context.number(expression, 'number');
	if (word === 'bias' && !(value >= 1 && value <= 1e12))
		fail(
			expression,
			`a bias of ${value} does not work: it is the largest cell over the smallest, so it must be at least 1; to cluster at the other end, name that end after “toward”`
		);
	if (word === 'growth' && !(value > 0 && value <= 100))
		fail(
			expression,
			`a growth of ${value} does not work: it is each cell over the one before, away from the end named, and must be above 0, like 1.2`
		);
	return value;
}

export function countOf(expression: Expression, most: number, context: EvaluationContext): number {
	const count = context.number(expression, 'number');
	if (!(Number.isInteger(count) && count >= 1))
		fail(
			expression,
			`${count} is no count of divisions; it is a whole number from 1`,
			expression.kind === 'number' && count > 0
				? [...new Set([Math.max(1, Math.floor(count)), Math.ceil(count)])].map((whole) => replacing(expression, String(whole)))
				: []
		);
	if (count > most) fail(expression, `${count} divisions are too many here; the limit is ${most}`);
	return count;
}
