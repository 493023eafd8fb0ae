import { translation } from '../../geometry/transform.ts';
import { place } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface MoveSyntax extends Statement {
	kind: 'move';
	name?: Word;
	curves: CurveReference[];
	by: Expression;
}

export const move: StatementRecord<MoveSyntax> = {
	kind: 'move',
	title: 'Moved copy',
	words: ['move', 'by'],
	stage: 'shape',
	clauses: [],
	form: 'move ${curves} by (${dx}, ${dy})',
	doc: 'Moves curves where they stand; with a name, a copy of them.',
	grammar(p) {
		p.CONSUME(keyword('move'));
		const name = p.OPTION(() => p.SUBRULE(p.definedName));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('by'));
		return { kind: 'move', name, curves, by: p.SUBRULE(p.expression) };
	},
	evaluate(statement, context) {
		const step = evaluatePoint(statement.by, context.scope);
		place(statement, translation(step.x, step.y), context);
	},
	defines: ({ name }) => name && { space: 'value', name },
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by }) => namesIn(curves, by)
};
