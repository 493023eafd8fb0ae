import {
	acceptCompletion,
	autocompletion,
	closeCompletion,
	completionStatus,
	hasNextSnippetField,
	moveCompletionSelection,
	nextSnippetField,
	selectedCompletionIndex,
	snippetCompletion,
	type Completion,
	type CompletionContext,
	type CompletionResult
} from '@codemirror/autocomplete';
import { HighlightStyle, LanguageSupport, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { Prec } from '@codemirror/state';
import { keymap, type EditorView } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { boundaryKinds, groupColours } from '../../core/recipe/boundary-kinds.ts';
import { functionNames } from '../../core/recipe/expressions.ts';
import { expectedNext, parseRecipe } from '../../core/recipe/parse.ts';
import { language as recipe } from '../../core/recipe/language.ts';
import { statements } from '../../core/recipe/statements/table.ts';
import { knownUnits, lengthUnits } from '../../core/recipe/units.ts';

const reserved = new Set(recipe().words);
const kinds = new Set(recipe().starts);
const functions = new Set(functionNames);

const language = StreamLanguage.define<{ afterNumber: boolean }>({
	name: 'recipe',
	startState: () => ({ afterNumber: false }),
	token(stream, state) {
		const { afterNumber } = state;
		if (stream.eatSpace()) return null;
		state.afterNumber = false;
		if (stream.match(/^#.*/)) return 'comment';
		if (stream.match(/^"[^"]*"?/)) return 'string';
		if (stream.match(/^(\d+\.?\d*|\.\d+)([eE][+-]?\d+)?/)) {
			state.afterNumber = true;
			return 'number';
		}
		const word = stream.match(/^[\p{L}_][\p{L}\p{N}_]*/u) as RegExpMatchArray | null;
		if (word) {
			if (afterNumber && knownUnits.has(word[0])) return 'unit';
			if (kinds.has(word[0])) return 'definitionKeyword';
			if (reserved.has(word[0])) return 'keyword';
			return functions.has(word[0]) ? 'function' : 'variableName';
		}
		stream.next();
		return 'operator';
	},
	tokenTable: { unit: tags.unit, definitionKeyword: tags.definitionKeyword, function: tags.function(tags.variableName) },
	languageData: { commentTokens: { line: '#' } }
});

const style = HighlightStyle.define([
	{ tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
	{ tag: tags.string, color: 'var(--marigold-ink)' },
	{ tag: tags.number, color: 'var(--ink)' },
	{ tag: tags.unit, color: 'var(--quiet)' },
	{ tag: tags.definitionKeyword, color: 'var(--kingfisher)', fontWeight: '600' },
	{ tag: tags.keyword, color: 'var(--kingfisher)' },
	{ tag: tags.function(tags.variableName), color: 'var(--quiet)' },
	{ tag: tags.operator, color: 'var(--quiet)' }
]);

/**
 * Highlighting and completion of recipes; completion asks the grammar what may stand next. Tab takes
 * the first offer, or the one that the arrow keys chose; Enter ends the line, whatever is on offer.
 */
export function recipeLanguage(): LanguageSupport {
	return new LanguageSupport(language, [
		syntaxHighlighting(style),
		autocompletion({ override: [complete], icons: false, selectOnOpen: false }),
		Prec.highest(keymap.of([{ key: 'Tab', run: takeOffer }]))
	]);
}

/** A template for every kind of statement: Tab goes from one thing to fill in to the next. */
const starts: Completion[] = statements.map(({ words, form, title, doc }) =>
	snippetCompletion(form, { label: words[0]!, detail: title, info: doc, type: 'keyword' })
);

function takeOffer(view: EditorView): boolean {
	if (completionStatus(view.state) === null) return false;
	// In a template Tab goes on to what is to be filled in next, unless an offer was chosen.
	if (selectedCompletionIndex(view.state) === null && hasNextSnippetField(view.state)) {
		closeCompletion(view);
		return nextSnippetField(view);
	}
	if (selectedCompletionIndex(view.state) === null) moveCompletionSelection(true)(view);
	acceptCompletion(view);
	// Not yet taken or taken, the focus stays.
	return true;
}

function complete(context: CompletionContext): CompletionResult | null {
	const line = context.state.doc.lineAt(context.pos);
	const before = line.text.slice(0, context.pos - line.from);
	const word = /[\p{L}_][\p{L}\p{N}_.]*$/u.exec(before)?.[0] ?? '';
	if (word === '' && !context.explicit) return null;
	const ahead = before.slice(0, before.length - word.length);
	const options: Completion[] = [];
	if (ahead.trim() === '') options.push(...starts);
	else {
		const could = expectedNext(ahead);
		options.push(
			...could.filter((label) => /^`[a-z][a-z-]*`$/.test(label)).map((label) => ({ label: label.slice(1, -1), type: 'keyword' }))
		);
		if (could.includes('a name')) options.push(...namesFor(ahead, context.state.doc.toString()));
		if (could.includes('a unit')) options.push(...[...knownUnits].map((label) => ({ label, type: 'type' })));
	}
	return { from: context.pos - word.length, options, validFor: /^[\p{L}\p{N}_.]*$/u };
}

/** Names that fit: kinds after `as`, colours after `colour`, regions where regions stand, else what is defined above. */
function namesFor(ahead: string, text: string): Completion[] {
	const words = (list: Iterable<string>, detail: string) => [...list].map((label) => ({ label, detail, type: 'variable' }));
	if (/\bas\s+$/.test(ahead)) return words(Object.keys(boundaryKinds), 'kind');
	if (/\bcolour\s+$/.test(ahead)) return words(Object.keys(groupColours), 'colour');
	if (/^\s*units\s+$/.test(ahead)) return words(lengthUnits, 'unit');
	if (/\babout\s+$/.test(ahead)) return words(['x', 'y'], 'axis');
	const defined = parseRecipe(text).lines.flatMap(({ statement }) => {
		const record = statement && recipe().recordOf(statement);
		const own = record?.defines?.(statement!);
		return own ? [{ name: own.name.text, space: own.space, title: record!.title.toLowerCase() }] : [];
	});
	const regions = /^\s*fill\b|=\s*region\b/.test(ahead);
	return defined
		.filter(({ space }) => space === (regions ? 'region' : 'value'))
		.map(({ name, title }) => ({ label: name, detail: title, type: 'variable' }));
}
