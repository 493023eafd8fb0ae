import { lineCurve } from '../../geometry/build.ts';
import { drawnFrom } from '../model/drawn.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, same } from '../model/evaluation-context.ts';

export interface LineSyntax extends Statement {
	kind: 'line';
	name: Word;
	start: Expression;
	end: Expression;
}

export const line: StatementRecord<LineSyntax> = {
	kind: 'line',
	title: 'Line',
	words: ['line', 'to'],
	stage: 'shape',
	clauses: ['name', 'start', 'end'],
	form: 'line ${name} = (${x}, ${y}) to (${x}, ${y})',
	doc: 'A straight line between two points.',
	grammar(p) {
		p.CONSUME(keyword('line'));
		const name = p.SUBRULE(p.definedName);
		const start = p.clause('start', () => p.SUBRULE(p.expression));
		p.CONSUME(keyword('to'));
		return { kind: 'line', name, start, end: p.clause('end', () => p.SUBRULE2(p.expression)) };
	},
	evaluate(statement, context) {
		const [a, b] = [evaluatePoint(statement.start, context.scope), evaluatePoint(statement.end, context.scope)];
		if (same(a, b)) fail(statement.end, `the line ends where it starts, at (${a.x}, ${a.y})`);
		context.add(drawnFrom(statement, [a.x, a.y, b.x, b.y], () => lineCurve(statement.name.text, a, b)));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	ends: ({ start, end }) => ({ start, end }),
	uses: ({ start, end }) => namesIn(start, end)
};
