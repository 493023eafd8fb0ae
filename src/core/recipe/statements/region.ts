import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { fail } from '../model/evaluation-context.ts';
import { keyword, Name } from '../language/tokens.ts';

export interface RegionStatement {
	name: string;
	bounds?: CurveReference[];
	at?: Point;
}

export interface RegionSyntax extends Statement {
	kind: 'region';
	name: Word;
	bounds?: CurveReference[];
	at?: Expression;
}

export const region: StatementRecord<RegionSyntax, RegionStatement> = {
	kind: 'region',
	title: 'Region',
	words: ['region', 'bounded', 'by', 'at'],
	stage: 'regions',
	clauses: ['name', 'bounds'],
	form: 'region ${name} at (${x}, ${y})',
	doc: 'Names a part of the domain, by the curves of its outline (holes need no mention) or by a point inside. Where other curves cut its inside into several faces, the region is all of them.',
	grammar(p) {
		p.CONSUME(keyword('region'));
		const name = p.clause('name', () => word(p.CONSUME(Name)));
		const shape = p.clause('bounds', () =>
			p.OR([
				{
					ALT: () => {
						p.CONSUME(keyword('bounded'));
						p.CONSUME(keyword('by'));
						return { bounds: p.SUBRULE(p.curveReferences) };
					}
				},
				{
					ALT: () => {
						p.CONSUME(keyword('at'));
						return { at: p.SUBRULE(p.expression) };
					}
				}
			])
		);
		return { kind: 'region', name, ...shape };
	},
	evaluate(statement, context) {
		const name = statement.name.text;
		context.free('region', statement.name);
		const bounds = statement.clauses.find((c) => c.name === 'bounds')!;
		if (statement.at && context.curvesNamed(statement.at))
			fail(statement.at, 'a region stands “at” a place inside it, or is “bounded by” curves', [
				{ label: 'Write “bounded by”', edits: [{ from: bounds.from, to: bounds.from + 'at'.length, insert: 'bounded by' }] }
			]);
		return {
			name,
			...(statement.bounds ? { bounds: statement.bounds } : {}),
			...(statement.at ? { at: evaluatePoint(statement.at, context.scope) } : {})
		};
	},
	defines: ({ name }) => ({ space: 'region', name }),
	actsOn: ({ bounds }) => (bounds ? [bounds] : []),
	uses: ({ bounds, at }) => namesIn(bounds, at)
};
