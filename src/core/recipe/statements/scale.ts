import { scaling } from '../../geometry/transform.ts';
import { centreOf, place } from '../construction.ts';
import { namesIn } from '../names.ts';
import type { StatementRecord } from '../statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../syntax.ts';
import { keyword } from '../tokens.ts';
import { fail } from '../workshop.ts';

export interface ScaleSyntax extends Statement {
	kind: 'scale';
	name?: Word;
	curves: CurveReference[];
	by: Expression;
	centre?: Expression;
}

export const scale: StatementRecord<ScaleSyntax> = {
	kind: 'scale',
	title: 'Scaled copy',
	words: ['scale', 'by', 'around'],
	stage: 'shape',
	clauses: [],
	form: 'scale ${curves} by ${2} around ${p}',
	doc: 'Scales curves where they stand, or with a name a copy of them; about the origin unless `around` says otherwise.',
	grammar(p) {
		p.CONSUME(keyword('scale'));
		const name = p.OPTION(() => p.SUBRULE(p.definedName));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('by'));
		const by = p.SUBRULE(p.expression);
		const centre = p.OPTION2(() => {
			p.CONSUME(keyword('around'));
			return p.SUBRULE2(p.expression);
		});
		return { kind: 'scale', name, curves, by, centre };
	},
	evaluate(statement, shop) {
		const factor = shop.number(statement.by, 'number');
		if (factor === 0) fail(statement.by, 'a scale of zero leaves nothing');
		place(statement, scaling(factor, centreOf(statement.centre, shop)), shop);
	},
	defines: ({ name }) => name && { space: 'value', name },
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by, centre }) => namesIn(curves, by, centre)
};
