import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface NodeSyntax extends Statement {
	kind: 'node';
	points: Expression[];
}

export const node: StatementRecord<NodeSyntax, { points: Point[] }> = {
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
		const points = statement.points.map((e) => evaluatePoint(e, context.scope));
		context.model.nodes.push(...points.map((at) => ({ ...at, line: context.line })));
		return { points };
	},
	promises: ({ points }) => points.map((at) => ({ asks: 'node', at })),
	uses: ({ points }) => namesIn(points)
};
