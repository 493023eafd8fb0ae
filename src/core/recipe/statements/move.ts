import { translation } from '../../geometry/transform.ts';
import { place } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface MoveSyntax extends Statement {
	kind: 'move';
	curves: CurveReference[];
	by: Expression;
}

export const move: StatementRecord<MoveSyntax> = {
	kind: 'move',
	title: 'Moved curve',
	words: ['move', 'by'],
	stage: 'shape',
	clauses: [],
	form: 'move ${curves} by (${dx}, ${dy})',
	doc: 'Moves curves where they stand. `copy` leaves them and makes another.',
	grammar(p) {
		p.CONSUME(keyword('move'));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('by'));
		return { kind: 'move', curves, by: p.SUBRULE(p.expression) };
	},
	evaluate(statement, context) {
		const step = evaluatePoint(statement.by, context.scope);
		place(statement, translation(step.x, step.y), context);
	},
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by }) => namesIn(curves, by)
};
