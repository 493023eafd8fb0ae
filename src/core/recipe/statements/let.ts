import { evaluate } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface LetSyntax extends Statement {
	kind: 'let';
	name: Word;
	value: Expression;
	range?: { low: Expression; high: Expression };
}

export const parameter: StatementRecord<LetSyntax> = {
	kind: 'let',
	title: 'Parameter',
	words: ['let', 'range', 'to'],
	stage: 'parameters',
	clauses: ['name', 'value', 'range'],
	form: 'let ${name} = ${value}',
	doc: 'A parameter; `range low to high` gives the desk a slider.',
	grammar(p) {
		p.CONSUME(keyword('let'));
		const name = p.SUBRULE(p.definedName);
		const value = p.clause('value', () => p.SUBRULE(p.expression));
		const range = p.OPTION(() =>
			p.clause('range', () => {
				p.CONSUME(keyword('range'));
				const low = p.SUBRULE2(p.expression);
				p.CONSUME(keyword('to'));
				return { low, high: p.SUBRULE3(p.expression) };
			})
		);
		return { kind: 'let', name, value, range };
	},
	evaluate(statement, context) {
		const { name, value: written, range: ends } = statement;
		const value = evaluate(context.setting(name.text) ?? written, context.scope);
		context.define(name.text, value);
		if (value.kind === 'point') fail(written, 'a parameter is a number; name a point with “point”');
		const range = ends && { low: context.number(ends.low, 'any'), high: context.number(ends.high, 'any') };
		context.model.parameters.push({
			name: name.text,
			value: value.value,
			dimension: value.dimension,
			line: context.line,
			...(range ? { range } : {})
		});
		if (!range) return;
		if (range.low >= range.high) fail(ends!.low, `the range starts at ${range.low}, which is not below its end ${range.high}`);
		if (value.value < range.low || value.value > range.high)
			context.report.add('range', { name: name.text, value: value.value, low: range.low, high: range.high }, { within: written });
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: ({ value, range }) => namesIn(value, range?.low, range?.high)
};
