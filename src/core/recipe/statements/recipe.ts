import type { StatementRecord } from '../language/statement.ts';
import type { Statement } from '../language/syntax.ts';
import { keyword, NumberLiteral } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface RecipeSyntax extends Statement {
	kind: 'recipe';
	/** As it is written. */
	version: string;
}

export const recipe: StatementRecord<RecipeSyntax> = {
	kind: 'recipe',
	title: 'Version',
	words: ['recipe'],
	stage: 'header',
	once: true,
	clauses: [],
	form: 'recipe 1',
	doc: 'Comes first and says which version of the language the file is in.',
	grammar(p) {
		p.CONSUME(keyword('recipe'));
		return { kind: 'recipe', version: p.CONSUME(NumberLiteral).image };
	},
	evaluate(statement) {
		if (Number(statement.version) !== 1)
			fail({ from: 7, to: 7 }, `this program reads “recipe 1”, not version “${statement.version}”`);
	}
};
