import { didYouMean } from '../../text/nearest.ts';
import {
	type BoundaryKind,
	boundaryKinds,
	type GroupColour,
	groupColours,
	isBoundaryKind,
	isGroupColour
} from '../boundary-kinds.ts';
import { namesIn, regionsIn } from '../names.ts';
import { word } from '../rules.ts';
import { stated, type StatementRecord } from '../statement.ts';
import type { CurveReference, Statement, Word } from '../syntax.ts';
import { keyword, Name } from '../tokens.ts';
import { fail } from '../workshop.ts';

export interface GroupStatement {
	name: string;
	pieces?: CurveReference[];
	regions?: string[];
	kind: BoundaryKind;
	colour?: GroupColour;
}

export interface GroupSyntax extends Statement {
	kind: 'group';
	name: Word;
	pieces?: CurveReference[];
	regions?: Word[];
	boundary?: Word;
	colour?: Word;
}

export const group: StatementRecord<GroupSyntax, GroupStatement> = {
	kind: 'group',
	title: 'Group',
	words: ['group', 'region', 'as', 'colour'],
	stage: 'labels',
	clauses: ['name', 'members', 'kind', 'colour'],
	form: 'group ${name} = ${pieces} as ${wall}',
	doc: 'A boundary group names pieces, with a kind and a colour; a material group names regions.',
	grammar(p) {
		p.CONSUME(keyword('group'));
		const name = p.SUBRULE(p.definedName);
		const members = p.OR([
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
					const pieces = p.clause('members', () => p.SUBRULE(p.curveReferences));
					const boundary = p.OPTION(() =>
						p.clause('kind', () => {
							p.CONSUME(keyword('as'));
							return word(p.CONSUME(Name));
						})
					);
					return { pieces, boundary };
				}
			}
		]);
		const colour = p.OPTION2(() =>
			p.clause('colour', () => {
				p.CONSUME(keyword('colour'));
				return word(p.CONSUME2(Name));
			})
		);
		return { kind: 'group', name, ...members, colour };
	},
	evaluate(statement, shop) {
		const { name, boundary, colour } = statement;
		if (stated(shop.model, group).some((g) => g.name === name.text)) fail(name, `a group \`${name.text}\` exists already`);
		const kind = boundary?.text ?? 'general';
		if (!isBoundaryKind(kind))
			fail(
				boundary!,
				`\`${kind}\` is no kind of boundary${didYouMean(kind, Object.keys(boundaryKinds))}; there are ${Object.keys(boundaryKinds).join(', ')}`
			);
		if (colour && !isGroupColour(colour.text))
			fail(colour, `\`${colour.text}\` is no colour of a group; there are ${Object.keys(groupColours).join(', ')}`);
		return {
			name: name.text,
			kind,
			...(statement.pieces ? { pieces: statement.pieces } : {}),
			...(statement.regions ? { regions: statement.regions.map((r) => r.text) } : {}),
			...(colour && isGroupColour(colour.text) ? { colour: colour.text } : {})
		};
	},
	defines: ({ name }) => ({ space: 'group', name }),
	actsOn: ({ pieces, regions }) => [...(pieces ? [pieces] : []), ...(regions ? [regions] : [])],
	uses: ({ pieces, regions }) => [...namesIn(pieces), ...regionsIn(regions)]
};
