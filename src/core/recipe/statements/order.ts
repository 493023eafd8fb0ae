import type { Model } from '../model/model.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { Statement } from '../language/syntax.ts';
import { keyword, NumberLiteral } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

/** Elements with nodes on the middles of their sides. */
export interface OrderStatement {
	/** Quadrilaterals without a node in their middle. */
	serendipity: boolean;
}

export interface OrderSyntax extends Statement {
	kind: 'order';
	serendipity: boolean;
	order: string;
}

export const order: StatementRecord<OrderSyntax, OrderStatement> = {
	kind: 'order',
	title: 'Order',
	words: ['order', 'serendipity'],
	stage: 'deliveries',
	once: true,
	clauses: ['order', 'serendipity'],
	form: 'order 2',
	doc: 'Delivers elements of second order: with nodes on the middles of their sides, on the true curve, and in the middle of quadrilaterals; `serendipity` leaves the latter out.',
	grammar(p) {
		p.CONSUME(keyword('order'));
		const number = p.clause('order', () => p.CONSUME(NumberLiteral).image);
		const serendipity = p.OPTION(() => p.clause('serendipity', () => p.CONSUME(keyword('serendipity')))) !== undefined;
		return { kind: 'order', order: number, serendipity };
	},
	evaluate({ order: number, serendipity, clauses }) {
		if (number !== '2') fail(clauses[0]!, `elements are of order 2, or of order 1 without this statement; found ${number}`);
		return { serendipity };
	}
};

/** What a recipe says of elements of second order; undefined where they are of the first. */
export const orderOf = (model: Model): (OrderStatement & { line: number }) | undefined => stated(model, order).at(-1);
