import type { StatementRecord } from './statement.ts';
import { wholeForm } from './whole-form.ts';

/** How a form is written for readers: what is to be filled in stands for itself. */
export const readable = (form: string): string => form.replace(/\$\{([^}]*)\}/g, '$1');

/** The page of all statements: how each is written, and what it does. */
export function statementPage(records: readonly StatementRecord[]): string {
	const sections = records.map((record) => {
		const { words, title, form, doc } = record;
		return [`## ${words[0]}`, '', `*${title}.* \`${readable(form)}\``, '', doc, '', '```text', wholeForm(record), '```'].join(
			'\n'
		);
	});
	const head = [
		'# All statements',
		'',
		'Made from the records of the statements (`src/core/recipe/statements/`); a test holds it against them, and `npx vitest run statements -u` writes it anew. The language itself, with examples, stands in [recipe.md](recipe.md).',
		'',
		'Each has an example, which can be read as it stands, and its whole form as the grammar has it: in brackets what may be left out, between bars what is chosen from, in capitals what is filled in. Clauses in brackets that follow one another come in any order, each once.'
	];
	return `${[head.join('\n'), ...sections].join('\n\n')}\n`;
}
