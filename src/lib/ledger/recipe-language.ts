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
import { type Offer, offersAt } from '../../core/recipe/editor/completion.ts';
import { functionNames } from '../../core/recipe/language/functions.ts';
import { language as recipe } from '../../core/recipe/language/language.ts';
import { knownUnits } from '../../core/recipe/language/units.ts';

const words = new Set(recipe().words);
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
		const word = stream.match(/^[\p{L}_][\p{L}\p{Nd}_]*/u) as RegExpMatchArray | null;
		if (word) {
			if (afterNumber && knownUnits.has(word[0])) return 'unit';
			// A word is a name where one stands: before “=”, beside a dot.
			const [before, after] = [stream.string.slice(0, stream.start).trimEnd(), stream.string.slice(stream.pos)];
			if (/^(guide)?$/.test(before.trimStart()) && kinds.has(word[0]) && !/^\s*=/.test(after)) return 'definitionKeyword';
			if (functions.has(word[0]) && after.startsWith('(')) return 'function';
			if (/^\s*=/.test(after) || before.endsWith('.') || after.startsWith('.')) return 'variableName';
			return words.has(word[0]) ? 'keyword' : 'variableName';
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

const types: Record<Offer['kind'], string> = { statement: 'keyword', word: 'keyword', name: 'variable', unit: 'type' };

function complete(context: CompletionContext): CompletionResult | null {
	const { from, word, offers } = offersAt(context.state.doc.toString(), context.pos);
	if (word === '' && !context.explicit) return null;
	const options = offers.map(({ label, kind, detail, doc, template }): Completion => {
		const option = { label, type: types[kind], ...(detail ? { detail } : {}), ...(doc ? { info: doc } : {}) };
		// Tab goes from one thing to fill in to the next.
		return template === undefined ? option : snippetCompletion(template, option);
	});
	return { from, options, validFor: /^[\p{L}\p{N}_.]*$/u };
}
