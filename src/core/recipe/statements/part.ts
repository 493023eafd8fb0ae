import { namesIn } from '../language/names.ts';
import { type NamedRule, word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Argument, Expression, PartSyntax, Statement, Word } from '../language/syntax.ts';
import { Comma, Equals, keyword, Name } from '../language/tokens.ts';

/** `with r = 4.5, tail = 12` */
export const argumentsClause: NamedRule<Argument[]> = {
	name: 'argumentsClause',
	parse: (p) =>
		p.clause('with', () => {
			p.CONSUME(keyword('with'));
			const list: Argument[] = [];
			const take = (name: Word, value: Expression) => list.push({ name, value });
			const name = word(p.CONSUME(Name));
			p.CONSUME(Equals);
			take(name, p.SUBRULE(p.expression));
			p.MANY(() => {
				p.CONSUME(Comma);
				const next = word(p.CONSUME2(Name));
				p.CONSUME2(Equals);
				take(next, p.SUBRULE2(p.expression));
			});
			return list;
		})
};

export const part: StatementRecord<PartSyntax> = {
	kind: 'part',
	title: 'Part',
	words: ['part', 'with', 'from'],
	stage: 'shape',
	rules: [argumentsClause],
	clauses: ['name', 'file', 'with'],
	form: 'part ${pin} with ${r} = ${4.5}',
	doc: 'A recipe in the recipe, down to `end`, whose parameters are its arguments: `place` puts copies of it into the drawing, with its curves, regions, fills, divisions, layers, sizes and groups. It sees nothing of what stands outside but other parts. `part name from "file"` reads it from a recipe beside this one, whose `let` statements are its parameters.',
	grammar(p) {
		p.CONSUME(keyword('part'));
		const name = p.clause('name', () => word(p.CONSUME(Name)));
		const file = p.OPTION(() => {
			p.CONSUME(keyword('from'));
			return p.clause('file', () => p.SUBRULE(p.quoted));
		});
		const parameters = p.OPTION2(() => p.SUBRULE(p.ruleOf(argumentsClause)));
		return { kind: 'part', name, ...(file ? { file } : {}), parameters: parameters ?? [] };
	},
	evaluate(statement, context) {
		context.definePart(statement);
	},
	file: ({ file }) => file,
	uses: ({ parameters }) => namesIn(parameters.map(({ value }) => value))
};

export interface EndSyntax extends Statement {
	kind: 'end';
}

export const partEnd: StatementRecord<EndSyntax> = {
	kind: 'end',
	title: 'End of a part',
	words: ['end'],
	stage: 'shape',
	clauses: [],
	form: 'end',
	doc: 'Ends a part.',
	grammar(p) {
		p.CONSUME(keyword('end'));
		return { kind: 'end' };
	},
	evaluate(_, context) {
		context.endPart();
	}
};
