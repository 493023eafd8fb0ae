import { describe, expect, it } from 'vitest';
import { StatementParser } from './grammar.ts';
import { language, languageOf } from './language.ts';
import type { Rules } from './rules.ts';
import type { StatementRecord } from './statement.ts';
import { keyword, tokensWith } from './tokens.ts';

describe('the language, looked through', () => {
	it('has no word that cannot be read, and no statement that could be read in two ways', () => {
		const { lexer, words } = languageOf(true);
		expect(lexer.lexerDefinitionErrors).toEqual([]);
		expect(words).toEqual(language().words);
	});

	it('is told of a mistake in a statement', () => {
		const twice = (kind: string): StatementRecord =>
			({
				kind,
				words: ['twice'],
				grammar: (p: Rules) => {
					p.CONSUME(keyword('twice'));
					return { kind };
				}
			}) as unknown as StatementRecord;
		const make = (isChecked: boolean) => new StatementParser(tokensWith(['twice']), [twice('one'), twice('other')], isChecked);
		expect(() => make(true)).toThrow(/Ambiguous/);
		expect(() => make(false)).not.toThrow();
	});
});
