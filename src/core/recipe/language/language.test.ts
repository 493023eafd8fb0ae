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

	it('takes every letter of every script for a name, and no other sign', () => {
		const signs = Array.from({ length: 0x32000 }, (_, code) => code)
			.filter((code) => code < 0xd800 || code > 0xdfff)
			.map((code) => String.fromCodePoint(code));
		const { lexer } = language();
		const letters = signs.filter((sign) => /[\p{L}_]/u.test(sign));
		const { tokens, errors } = lexer.tokenize(letters.join(' '));
		expect(errors).toEqual([]);
		expect(tokens.map((token) => token.image)).toEqual(letters);
		expect(new Set(tokens.map((token) => token.tokenType.name))).toEqual(new Set(['Name']));
		const others = signs.filter((sign) => !/[\p{L}_#"]/u.test(sign)).join(' ');
		expect(lexer.tokenize(others).tokens.filter((token) => token.tokenType.name === 'Name')).toEqual([]);
	}, 60_000);

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
