import type { StatementRecord } from '../language/statement.ts';
import type { Statement } from '../language/syntax.ts';
import { keyword, Quoted } from '../language/tokens.ts';

export interface TitleSyntax extends Statement {
	kind: 'title';
	title: string;
}

export const title: StatementRecord<TitleSyntax> = {
	kind: 'title',
	title: 'Title',
	words: ['title'],
	stage: 'header',
	once: true,
	clauses: ['title'],
	form: 'title "${Text}"',
	doc: 'The title of the project: any text without double quotes.',
	grammar(p) {
		p.CONSUME(keyword('title'));
		const title = p.clause('title', () => p.CONSUME(Quoted));
		return { kind: 'title', title: title.image.slice(1, -1) };
	},
	evaluate(statement, context) {
		context.model.title = statement.title;
	}
};
