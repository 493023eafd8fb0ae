<script lang="ts">
	import { defaultKeymap, history, historyKeymap } from '@codemirror/commands';
	import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint';
	import { search, searchKeymap } from '@codemirror/search';
	import { EditorState, Transaction } from '@codemirror/state';
	import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view';
	import { onMount, untrack } from 'svelte';
	import { type Finding, mendsOf } from '../../core/text/finding.ts';
	import { syntaxFindings } from '../../core/recipe/language/parse.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { AfterPaint } from './after-paint.ts';
	import { recipeLanguage } from './recipe-language.ts';

	const desk = useDesk();
	let host: HTMLDivElement;
	let editor = $state.raw<EditorView | undefined>();

	const theme = EditorView.theme({
		'&': { height: '100%', fontSize: '12px', color: 'var(--ink)', backgroundColor: 'var(--sheet)' },
		'.cm-scroller': { fontFamily: "'IBM Plex Mono', monospace", lineHeight: '1.55' },
		'.cm-gutters': { backgroundColor: 'var(--sheet)', color: 'var(--quiet)', border: 'none' },
		'.cm-activeLine': { backgroundColor: 'color-mix(in srgb, var(--kingfisher-soft) 45%, transparent)' },
		'.cm-cursor': { borderLeftColor: 'var(--ink)' },
		'&.cm-focused': { outline: 'none' },
		'.cm-selectionBackground, &.cm-focused .cm-selectionBackground': { backgroundColor: 'var(--marigold-soft) !important' },
		'.cm-tooltip': {
			backgroundColor: 'var(--sheet)',
			border: '1px solid var(--edge-strong)',
			color: 'var(--ink)',
			maxWidth: '340px'
		},
		'.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--kingfisher)', color: 'var(--on-kingfisher)' },
		'.cm-panels': { backgroundColor: 'var(--paper)', color: 'var(--ink)' }
	});

	/** The key is painted before anything else follows from it. */
	const typed = new AfterPaint(() => editor && desk.typeText(editor.state.doc.toString()));

	onMount(() => {
		editor = new EditorView({
			parent: host,
			state: EditorState.create({
				doc: untrack(() => desk.text),
				extensions: [
					lineNumbers(),
					lintGutter(),
					history(),
					drawSelection(),
					highlightActiveLine(),
					search({ top: true }),
					recipeLanguage(),
					EditorView.lineWrapping,
					EditorView.contentAttributes.of({ 'aria-label': 'Recipe text' }),
					keymap.of([...defaultKeymap, ...historyKeymap, ...searchKeymap]),
					theme,
					EditorView.updateListener.of((update) => {
						if (update.docChanged && !update.transactions.some((t) => t.annotation(Transaction.remote))) typed.soon();
					})
				]
			})
		});
		// What scrolls is reached by the keyboard, too.
		editor.scrollDOM.tabIndex = 0;
		desk.bringTyped = () => typed.now();
		return () => {
			typed.now();
			desk.bringTyped = () => {};
			desk.finishTyping();
			editor?.destroy();
		};
	});

	// Edits made elsewhere: replace only what differs, so that the cursor stays.
	$effect(() => {
		const { text } = desk;
		// What was typed last is on its way to the desk.
		if (!editor || typed.waits) return;
		const current = editor.state.doc.toString();
		if (current === text) return;
		let start = 0;
		while (start < current.length && start < text.length && current[start] === text[start]) start++;
		let tail = 0;
		while (
			tail < current.length - start &&
			tail < text.length - start &&
			current[current.length - 1 - tail] === text[text.length - 1 - tail]
		)
			tail++;
		editor.dispatch({
			changes: { from: start, to: current.length - tail, insert: text.slice(start, text.length - tail) },
			annotations: Transaction.remote.of(true)
		});
	});

	// Syntax errors at once; the other findings when the result is there.
	$effect(() => {
		if (!editor || typed.waits) return;
		const findings: Finding[] = desk.isCurrent ? desk.result!.findings : syntaxFindings(desk.recipe);
		const length = editor.state.doc.length;
		const diagnostics = findings.flatMap((finding): Diagnostic[] => {
			const { span, severity, message } = finding;
			return span && span.to <= length
				? [
						{
							from: span.from,
							to: Math.max(span.to, Math.min(span.from + 1, length)),
							severity: severity === 'note' ? 'info' : severity,
							message,
							actions: mendsOf(finding).map((mend) => ({ name: mend.label, apply: () => desk.mend(mend) }))
						}
					]
				: [];
		});
		editor.dispatch(setDiagnostics(editor.state, diagnostics));
	});
</script>

<div class="host" bind:this={host}></div>

<style>
	.host {
		height: 100%;
	}
</style>
