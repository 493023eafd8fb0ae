import type { BoundaryKind, GroupColour } from '../language/boundary-kinds.ts';
import { evaluatePoint } from '../model/expressions.ts';
import type { Point } from '../../geometry/curve.ts';
import { colourOf, kindOf } from './shared/group-words.ts';
import { namesIn, regionsIn } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { inAnyOrder, type NamedRule, word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword, Name } from '../language/tokens.ts';

export interface GroupStatement {
	name: string;
	pieces?: CurveReference[];
	regions?: string[];
	/** Places whose nodes it is, and how they are written. */
	points?: { at: Point; source: string }[];
	kind: BoundaryKind;
	colour?: GroupColour;
}

export interface GroupSyntax extends Statement {
	kind: 'group';
	name: Word;
	pieces?: CurveReference[];
	regions?: Word[];
	points?: Expression[];
	sources?: string[];
	boundary?: Word;
	colour?: Word;
}

/** `colour teal` */
const colourClause: NamedRule<Word> = {
	name: 'colourClause',
	parse: (p) =>
		p.clause('colour', () => {
			p.CONSUME(keyword('colour'));
			return word(p.CONSUME(Name));
		})
};

export const group: StatementRecord<GroupSyntax, GroupStatement> = {
	kind: 'group',
	title: 'Group',
	words: ['group', 'region', 'points', 'as', 'colour', ...pieceSetWords],
	rules: [...pieceSetRules, colourClause],
	stage: 'labels',
	clauses: ['name', 'members', 'kind', 'colour'],
	form: 'group ${name} = ${pieces} as ${wall}',
	doc: 'A boundary group names pieces, with a kind and a colour; a material group names regions; a group of points names places whose nodes it is, for supports, loads and monitors.',
	grammar(p) {
		p.CONSUME(keyword('group'));
		const name = p.SUBRULE(p.definedName);
		const members = p.OR({
			// A curve may be called `points`; before a name or a place the word wins.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				{
					ALT: () => {
						const regions = p.clause('members', () => {
							p.CONSUME(keyword('region'));
							return p.SUBRULE(p.names);
						});
						return { regions };
					}
				},
				{
					ALT: () => {
						const sources: string[] = [];
						const points = p.clause('members', () => {
							p.CONSUME(keyword('points'));
							const list: Expression[] = [];
							const place = (parse: () => Expression) => {
								const { value, source } = p.spanned(parse);
								list.push(value);
								sources.push(source);
							};
							place(() => p.SUBRULE(p.expression));
							p.MANY(() => {
								p.CONSUME(Comma);
								place(() => p.SUBRULE2(p.expression));
							});
							return list;
						});
						return { points, sources };
					}
				},
				{
					ALT: () => {
						const pieces = p.clause('members', () => p.SUBRULE(p.ruleOf(pieceSets)));
						const { colour, boundary } = inAnyOrder<{ colour: Word; boundary: Word }>(
							(parse) => p.MANY2(parse),
							(choices) => p.OR2(choices),
							{
								boundary: () =>
									p.clause('kind', () => {
										p.CONSUME(keyword('as'));
										return word(p.CONSUME(Name));
									}),
								colour: () => p.SUBRULE2(p.ruleOf(colourClause))
							}
						);
						return { pieces, boundary, colour };
					}
				}
			]
		});
		const colour = p.OPTION2({ GATE: () => !members.colour, DEF: () => p.SUBRULE(p.ruleOf(colourClause)) });
		return { kind: 'group', name, ...members, ...(colour ? { colour } : {}) };
	},
	evaluate(statement, context) {
		const { name, boundary, colour, pieces, regions, points, sources } = statement;
		context.free('group', name);
		return {
			name: name.text,
			kind: kindOf(boundary, 'general'),
			...(pieces ? { pieces: withSets(pieces, context) } : {}),
			...(regions ? { regions: regions.flatMap((r) => context.regions(r)) } : {}),
			...(points ? { points: points.map((p, k) => ({ at: evaluatePoint(p, context.scope), source: sources![k]! })) } : {}),
			...(colour ? { colour: colourOf(colour) } : {})
		};
	},
	promises: ({ name, pieces, regions }) => [
		...(pieces ? [{ asks: 'edges', pieces, group: name } as const] : []),
		...(regions ? [{ asks: 'elements', regions, group: name } as const] : [])
	],
	defines: ({ name }) => ({ space: 'group', name }),
	actsOn: ({ pieces, regions, points, sources }) => [
		...(pieces ? [pieces] : []),
		...(regions ? [regions] : []),
		...(points
			? [points.map((p, k) => ({ name: p.kind === 'name' ? p.name : '', source: sources![k]!, from: p.from, to: p.to }))]
			: [])
	],
	uses: ({ pieces, regions, points }) => [...namesIn(pieces, points), ...regionsIn(regions)]
};
