import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface NodeSyntax extends Statement {
	kind: 'node';
	points: Expression[];
}

export const node: StatementRecord<NodeSyntax> = {
	kind: 'node',
	title: 'Node',
	words: ['node'],
	stage: 'shape',
	clauses: ['points'],
	form: 'node (${x}, ${y})',
	doc: 'Makes places nodes of the mesh: on a curve they cut it, inside a region without a layout of blocks they stand alone.',
	grammar(p) {
		p.CONSUME(keyword('node'));
		return { kind: 'node', points: p.clause('points', () => p.SUBRULE(p.expressions)) };
	},
	evaluate(statement, context) {
		for (const e of statement.points) context.model.nodes.push({ ...evaluatePoint(e, context.scope), line: context.line });
	},
	uses: ({ points }) => namesIn(points)
};
