import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded, word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Argument, Expression, PlaceSyntax } from '../language/syntax.ts';
import { keyword, Name } from '../language/tokens.ts';
import { argumentsClause } from './part.ts';

export const placement: StatementRecord<PlaceSyntax> = {
	kind: 'place',
	title: 'Placed part',
	words: ['place', 'at', 'turned', 'by', 'count', 'with', 'own', 'groups'],
	stage: 'shape',
	clauses: ['name', 'part', 'at', 'turned', 'by', 'count', 'with', 'groups'],
	form: 'place ${name} = ${pin} at (${x}, ${y})',
	doc: 'Puts a copy of a part at a place, turned about it; or a row of copies, `by` a step and `count` of them, which may be 0. `p.head` is the curve `head` of the copy p, `pin.head` that of all copies of the part pin; in a row of copies `row_2.head` is that of the second, `row.head` of all. Regions are named alike. Groups of a part are one for all copies, unless the placement has `own groups`.',
	grammar(p) {
		p.CONSUME(keyword('place'));
		const name = p.SUBRULE(p.definedName);
		const of = p.clause('part', () => word(p.CONSUME(Name)));
		const found = inAnyOrder<{
			at: Expression;
			turned: Expression;
			by: Expression;
			count: Expression;
			arguments: Argument[];
			ownGroups: true;
		}>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				at: () =>
					p.clause('at', () => {
						p.CONSUME(keyword('at'));
						return p.SUBRULE(p.expression);
					}),
				turned: () => p.clause('turned', () => p.SUBRULE(p.turnClause)),
				by: () =>
					p.clause('by', () => {
						p.CONSUME(keyword('by'));
						return p.SUBRULE2(p.expression);
					}),
				count: () =>
					p.clause('count', () => {
						p.CONSUME(keyword('count'));
						return p.SUBRULE3(p.expression);
					}),
				arguments: () => p.SUBRULE(p.ruleOf(argumentsClause)),
				ownGroups: () =>
					p.clause('groups', () => {
						p.CONSUME(keyword('own'));
						p.CONSUME(keyword('groups'));
						return true;
					})
			}
		);
		return { kind: 'place', name, part: of, ...withNeeded(found, { at: () => p.CONSUME2(keyword('at')) }) };
	},
	evaluate(statement, context) {
		context.place(statement);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: ({ at, turned, by, count, arguments: given = [] }) =>
		namesIn(
			at,
			turned,
			by,
			count,
			given.map(({ value }) => value)
		)
};
