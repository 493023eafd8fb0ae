import { autocompletion } from '@codemirror/autocomplete';
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { liquid } from '@codemirror/lang-liquid';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { EditorState } from '@codemirror/state';
import { drawSelection, EditorView, keymap, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';

const named = (type: string, ...labels: string[]) => labels.map((label) => ({ label, type }));

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
				liquid({
					tags: named('keyword', 'each', 'endeach', 'file'),
					filters: named('function', 'fixed', 'exponent', 'width', 'shortest'),
					variables: named('variable', ...variables),
					properties: ([first]) => named('property', ...(properties[first ?? ''] ?? []))
				}),
				syntaxHighlighting(style),
				autocompletion(),
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
