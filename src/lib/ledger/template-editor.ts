import { autocompletion, type CompletionContext, type CompletionResult } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';

const named = (type: string, ...labels: string[]) => labels.map((label) => ({ label, type }));

const tagNames = [
	...['assign', 'capture', 'case', 'comment', 'each', 'else', 'elsif', 'endcapture', 'endcase', 'endcomment', 'endeach'],
	...['endfor', 'endif', 'endraw', 'endunless', 'file', 'for', 'if', 'in', 'raw', 'unless', 'when']
];
const filters = ['fixed', 'exponent', 'width', 'shortest', 'join', 'size', 'plus', 'minus', 'times', 'upcase', 'downcase'];

/** What a template of a deck can name, and the properties of each. */
const variables = [
	...['title', 'units', 'dimension', 'axis', 'node_count', 'element_count', 'nodes', 'elements', 'regions', 'materials'],
	...['groups', 'nodes_of', 'owned_nodes_of', 'parameters', 'periodic', 'index']
];
const properties: Record<string, string[]> = {
	node: ['id', 'x', 'y', 'z'],
	n: ['id', 'x', 'y', 'z'],
	e: ['id', 'shape', 'region', 'region_id', 'nodes'],
	element: ['id', 'shape', 'region', 'region_id', 'nodes'],
	region: ['name', 'id', 'material', 'elements'],
	group: ['name', 'of', 'kind', 'condition', 'count', 'sides', 'nodes', 'owned_nodes'],
	material: ['name', 'regions', 'elements']
};

const style = HighlightStyle.define([
	{ tag: tags.comment, color: 'var(--quiet)', fontStyle: 'italic' },
	{ tag: tags.string, color: 'var(--marigold-ink)' },
	{ tag: [tags.keyword, tags.controlKeyword, tags.definitionKeyword], color: 'var(--kingfisher)', fontWeight: '600' },
	{ tag: [tags.variableName, tags.propertyName], color: 'var(--ink)' },
	{ tag: [tags.brace, tags.processingInstruction], color: 'var(--kingfisher)' }
]);

/** Colours of a template: plain text outside, names and keywords between `{{ }}` and `{% %}`. */
const template = StreamLanguage.define<{ isInside: boolean; isTag: boolean }>({
	startState: () => ({ isInside: false, isTag: false }),
	token(stream, state) {
		if (!state.isInside) {
			if (stream.match(/^\{[{%]-?/)) {
				state.isInside = true;
				state.isTag = stream.current().includes('%');
				return 'brace';
			}
			stream.next();
			while (!stream.eol() && !stream.match(/^\{[{%]/, false)) stream.next();
			return null;
		}
		if (stream.eatSpace()) return null;
		if (stream.match(/^-?[}%]\}/)) {
			state.isInside = false;
			return 'brace';
		}
		if (stream.match(/^("[^"]*"|'[^']*')/)) return 'string';
		const word = stream.match(/^[A-Za-z_][\w-]*/);
		if (Array.isArray(word)) return state.isTag && tagNames.includes(word[0]) ? 'keyword' : 'variableName';
		stream.next();
		return null;
	}
});

/** Names on offer at the cursor: properties behind a point, filters behind a bar, else tags and variables. */
function offered(context: CompletionContext): CompletionResult | null {
	const line = context.state.doc.lineAt(context.pos);
	const before = line.text.slice(0, context.pos - line.from);
	const open = Math.max(before.lastIndexOf('{{'), before.lastIndexOf('{%'));
	if (open < 0 || before.indexOf('}', open) >= 0) return null;
	const word = /[\w-]*$/.exec(before)![0];
	const from = context.pos - word.length;
	const owner = /(\w+)\.[\w-]*$/.exec(before)?.[1];
	if (owner) return { from, options: named('property', ...(properties[owner] ?? [])) };
	if (/\|\s*[\w-]*$/.test(before)) return { from, options: named('function', ...filters) };
	if (word === '' && !context.explicit) return null;
	const tags = before.startsWith('{%', open) ? named('keyword', ...tagNames) : [];
	return { from, options: [...tags, ...named('variable', ...variables)] };
}

/**
 * An editor of a template, with the names that there are on offer.
 *
 * @param onchange the text after every key
 * @param onsave Ctrl+S
 */
export function templateEditor(
	parent: HTMLElement,
	text: string,
	onchange: (text: string) => void,
	onsave: () => void
): EditorView {
	return new EditorView({
		parent,
		state: EditorState.create({
			doc: text,
			extensions: [
				lineNumbers(),
				history(),
				drawSelection(),
				template,
				syntaxHighlighting(style),
				autocompletion({ override: [offered] }),
				EditorView.contentAttributes.of({ 'aria-label': 'Template' }),
				EditorView.theme({
					'&': { fontSize: '12px', color: 'var(--ink)' },
					'.cm-scroller': { fontFamily: "'IBM Plex Mono', monospace" },
					'.cm-gutters': { backgroundColor: 'var(--paper)', color: 'var(--quiet)', border: 'none' },
					'.cm-cursor': { borderLeftColor: 'var(--ink)' }
				}),
				keymap.of([
					{
						key: 'Mod-s',
						preventDefault: true,
						run: () => {
							onsave();
							return true;
						}
					},
					...defaultKeymap,
					...historyKeymap
				]),
				EditorView.updateListener.of((update) => {
					if (update.docChanged) onchange(update.state.doc.toString());
				})
			]
		})
	});
}
