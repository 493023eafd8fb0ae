import { Lexer } from 'chevrotain';
import { sharedWords, StatementParser } from './grammar.ts';
import { statements } from '../statements/table.ts';
import type { StatementRecord } from './statement.ts';
import type { Statement } from './syntax.ts';
import { tokensWith } from './tokens.ts';

/** The language as the records of the statements make it. */
export interface Language {
	/** The words that start a statement, in the order in which they are listed. */
	starts: readonly string[];
	/** Every word with a meaning. */
	words: readonly string[];
	lexer: Lexer;
	parser: StatementParser;
	recordOf(statement: Statement): StatementRecord;
	/** What a statement is that starts with a word, for one that cannot be read. */
	recordStarting(word: string): StatementRecord | undefined;
}

let made: Language | undefined;

/** Puts lexer and grammar together when they are first needed. */
export const language = (): Language => (made ??= languageOf(false));

/**
 * @param isChecked whether lexer and grammar are looked through for mistakes, which takes longer than all else: the tests do it,
 *   so that no start of the program waits for it
 */
export function languageOf(isChecked: boolean): Language {
	const words = [...new Set([...sharedWords, ...statements.flatMap((record) => record.words)])];
	const tokens = tokensWith(words);
	const byWord = new Map(statements.map((record) => [record.words[0]!, record]));
	const byKind = new Map(statements.map((record) => [record.kind, record]));
	return {
		starts: [...statements.map((record) => record.words[0]!), 'guide'],
		words,
		lexer: new Lexer(tokens, { positionTracking: 'onlyOffset', ensureOptimizations: true, skipValidations: !isChecked }),
		parser: new StatementParser(tokens, statements, isChecked),
		recordOf: (statement) => byKind.get(statement.kind)!,
		recordStarting: (word) => byWord.get(word)
	};
}
