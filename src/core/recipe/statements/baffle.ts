import { type BoundaryKind, type GroupColour } from '../language/boundary-kinds.ts';
import { colourOf, kindOf } from './shared/group-words.ts';
import { namesIn } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { inAnyOrder, word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword, Name } from '../language/tokens.ts';

/** A wall of two sides inside the mesh, as a statement has it. */
export interface BaffleStatement {
	name: string;
	pieces: CurveReference[];
	kind: BoundaryKind;
	/** Names of the groups to the left and to the right of its curves as they run; one group of both sides without. */
	sides?: [string, string];
	colour?: GroupColour;
}

export interface BaffleSyntax extends Statement {
	kind: 'baffle';
	name: Word;
	pieces: CurveReference[];
	boundary?: Word;
	sides?: [Word, Word];
	colour?: Word;
}

export const baffle: StatementRecord<BaffleSyntax, BaffleStatement> = {
	kind: 'baffle',
	title: 'Two-sided wall',
	words: ['baffle', 'as', 'sides', 'colour', ...pieceSetWords],
	stage: 'labels',
	rules: pieceSetRules,
	clauses: ['name', 'members', 'kind', 'sides', 'colour'],
	form: 'baffle ${name} = ${pieces} as ${wall}',
	doc: 'Makes inner curves walls of two sides: along them the nodes are doubled, so that the solver sees a thin plate. `sides a, b` names the groups to the left and to the right of the curves as they run; without, both sides are one group.',
	grammar(p) {
		p.CONSUME(keyword('baffle'));
		const name = p.SUBRULE(p.definedName);
		const pieces = p.clause('members', () => p.SUBRULE(p.ruleOf(pieceSets)));
		const parts = inAnyOrder<{ boundary: Word; sides: [Word, Word]; colour: Word }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				boundary: () =>
					p.clause('kind', () => {
						p.CONSUME(keyword('as'));
						return word(p.CONSUME(Name));
					}),
				sides: () =>
					p.clause('sides', (): [Word, Word] => {
						p.CONSUME(keyword('sides'));
						const left = word(p.CONSUME2(Name));
						p.CONSUME(Comma);
						return [left, word(p.CONSUME3(Name))];
					}),
				colour: () =>
					p.clause('colour', () => {
						p.CONSUME(keyword('colour'));
						return word(p.CONSUME4(Name));
					})
			}
		);
		return { kind: 'baffle', name, pieces, ...parts };
	},
	evaluate({ name, pieces, boundary, sides, colour }, context) {
		for (const one of [name, ...(sides ?? [])]) context.free('group', one);
		return {
			name: name.text,
			pieces: withSets(pieces, context),
			kind: kindOf(boundary, 'wall'),
			...(sides ? { sides: [sides[0].text, sides[1].text] as [string, string] } : {}),
			...(colour ? { colour: colourOf(colour) } : {})
		};
	},
	defines: ({ name }) => ({ space: 'group', name }),
	promises: ({ pieces }) => [{ asks: 'two sides', pieces }],
	definesAlso: ({ sides = [] }) => sides.map((name) => ({ space: 'group', name })),
	actsOn: ({ pieces }) => [pieces],
	uses: ({ pieces }) => namesIn(pieces)
};
