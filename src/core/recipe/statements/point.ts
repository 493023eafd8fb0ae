import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface PointSyntax extends Statement {
	kind: 'point';
	name: Word;
	at: Expression;
}

export const point: StatementRecord<PointSyntax> = {
	kind: 'point',
	title: 'Point',
	words: ['point'],
	stage: 'shape',
	clauses: ['name', 'value'],
	form: 'point ${name} = (${x}, ${y})',
	doc: 'Gives a place a name.',
	grammar(p) {
		p.CONSUME(keyword('point'));
		const name = p.SUBRULE(p.definedName);
		return { kind: 'point', name, at: p.clause('value', () => p.SUBRULE(p.expression)) };
	},
	evaluate(statement, context) {
		const name = statement.name.text;
		const p = evaluatePoint(statement.at, context.scope);
		context.define(name, { kind: 'point', ...p });
		context.model.points.push({ name, ...p, line: context.line });
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: ({ at }) => namesIn(at)
};
