import type { StatementRecord } from './statement.ts';

/** How a form is written for readers: what is to be filled in stands for itself. */
export const readable = (form: string): string => form.replace(/\$\{([^}]*)\}/g, '$1');

/** The page of all statements: how each is written, and what it does. */
export function statementPage(records: readonly StatementRecord[]): string {
	const sections = records.map(({ words, title, form, doc }) =>
		[`## ${words[0]}`, '', `*${title}.* \`${readable(form)}\``, '', doc].join('\n')
	);
	const head = [
		'# All statements',
		'',
		'Made from the records of the statements (`src/core/recipe/statements/`); a test holds it against them, and `npx vitest run statements -u` writes it anew. The language itself, with examples, stands in [recipe.md](recipe.md).'
	];
	return `${[head.join('\n'), ...sections].join('\n\n')}\n`;
}
