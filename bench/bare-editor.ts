import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
import { EditorState } from '@codemirror/state';
import { EditorView, keymap, lineNumbers } from '@codemirror/view';

/** An editor with nothing but a text: what a key takes at least. */
declare global {
	interface Window {
		bareEditor(text: string): void;
	}
}
window.bareEditor = (doc) => {
	const extensions = [lineNumbers(), history(), EditorView.lineWrapping, keymap.of([...defaultKeymap, ...historyKeymap])];
	new EditorView({ parent: document.body, state: EditorState.create({ doc, extensions }) });
};
