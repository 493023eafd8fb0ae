import { Lexer } from 'chevrotain';
import { sharedWords, StatementParser } from './grammar.ts';
import { statements } from './statements/table.ts';
import type { StatementRecord } from './statement.ts';
import type { Statement } from './syntax.ts';
import { tokensWith } from './tokens.ts';

/** The language as the records of the statements make it. */
export interface Language {
	/** The words that start a statement, in the order in which they are told. */
	starts: readonly string[];
	/** Every word with a meaning. */
	words: readonly string[];
	lexer: Lexer;
	parser: StatementParser;
	recordOf(statement: Statement): StatementRecord;
}

let made: Language | undefined;

/** Puts lexer and grammar together when they are first needed. */
export function language(): Language {
	if (made) return made;
	const words = [...new Set([...sharedWords, ...statements.flatMap((record) => record.words)])];
	const tokens = tokensWith(words);
	const byKind = new Map(statements.map((record) => [record.kind, record]));
	return (made = {
		starts: statements.map((record) => record.words[0]!),
		words,
		lexer: new Lexer(tokens, { positionTracking: 'onlyOffset', ensureOptimizations: false }),
		parser: new StatementParser(tokens, statements),
		recordOf: (statement) => byKind.get(statement.kind)!
	});
}
