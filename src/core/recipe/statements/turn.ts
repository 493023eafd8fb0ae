import { rotation } from '../../geometry/transform.ts';
import { centreOf, place } from '../construction.ts';
import { namesIn } from '../names.ts';
import type { StatementRecord } from '../statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../syntax.ts';
import { keyword } from '../tokens.ts';

export interface TurnSyntax extends Statement {
	kind: 'turn';
	name?: Word;
	curves: CurveReference[];
	by: Expression;
	centre?: Expression;
}

export const turn: StatementRecord<TurnSyntax> = {
	kind: 'turn',
	title: 'Turned copy',
	words: ['turn', 'by', 'around'],
	stage: 'shape',
	clauses: [],
	form: 'turn ${curves} by ${15 deg} around ${p}',
	doc: 'Turns curves where they stand, or with a name a copy of them; about the origin unless `around` says otherwise.',
	grammar(p) {
		p.CONSUME(keyword('turn'));
		const name = p.OPTION(() => p.SUBRULE(p.definedName));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('by'));
		const by = p.SUBRULE(p.expression);
		const centre = p.OPTION2(() => {
			p.CONSUME(keyword('around'));
			return p.SUBRULE2(p.expression);
		});
		return { kind: 'turn', name, curves, by, centre };
	},
	evaluate(statement, shop) {
		place(statement, rotation(shop.number(statement.by, 'angle'), centreOf(statement.centre, shop)), shop);
	},
	defines: ({ name }) => name && { space: 'value', name },
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by, centre }) => namesIn(curves, by, centre)
};
