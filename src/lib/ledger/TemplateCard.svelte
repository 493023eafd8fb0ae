<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { onMount } from 'svelte';
	import { addStatement } from '../../core/recipe/edits/edits.ts';
	import { deliveriesOf } from '../../core/recipe/statements/deliver.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { fetchFile } from '../api/client.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import type { EditorView } from '@codemirror/view';

	/** Decks: templates beside the recipe, written here with a look at what comes out. */
	const desk = useDesk();
	const start = `{% comment %} A deck: any text, with what is in the mesh. {% endcomment %}
TITLE {{ title }}
NODES {{ node_count }}
{% each n in nodes %}{{ n.id | width: 8 }} {{ n.x | exponent: 7 }} {{ n.y | exponent: 7 }}
{% endeach -%}
ELEMENTS {{ element_count }}
{% each e in elements %}{{ e.id | width: 8 }}{% for n in e.nodes %} {{ n }}{% endfor %}
{% endeach -%}
{% for group in groups -%}
GROUP {{ group.name }}
{% each n in group.owned_nodes %}{{ n }}
{% endeach -%}
{% endfor -%}
`;
	const templates = $derived(
		desk.result ? [...new Set(deliveriesOf(desk.result.model).flatMap((d) => (d.template ? [d.template.name] : [])))] : []
	);
	let open = $state<string | undefined>();
	let host = $state<HTMLDivElement>();
	let editor: EditorView | undefined;
	let text = $state('');
	let saved = $state('');
	let preview = $state<{ parts: { name: string; text: string }[] } | { problem: string; line?: number } | undefined>();
	let newName = $state('');
	let problem = $state('');

	async function show(name: string): Promise<void> {
		const hash = desk.files[name];
		const content = hash === undefined ? start : new TextDecoder().decode(await fetchFile(hash));
		open = name;
		text = saved = content;
	}

	async function add(event: SubmitEvent): Promise<void> {
		event.preventDefault();
		const typed = newName.trim();
		const name = typed.endsWith('.liquid') ? typed : `${typed}.liquid`;
		if (!/^[^"/\\]+$/.test(typed)) {
			problem = 'A template has a plain file name, like plain.liquid.';
			return;
		}
		problem = '';
		if (desk.files[name] === undefined) {
			const stored = await desk.addFile(new TextEncoder().encode(start), { plain: true });
			if ('error' in stored) {
				problem = stored.error;
				return;
			}
			desk.edit(applyEdits(desk.text, addStatement(desk.recipe, `deliver deck "${name}"`)), `Deck ${name}`, {
				...desk.files,
				[name]: stored.hash
			});
		} else desk.edit(applyEdits(desk.text, addStatement(desk.recipe, `deliver deck "${name}"`)), `Deck ${name}`);
		newName = '';
		await show(name);
	}

	async function save(): Promise<void> {
		if (open === undefined) return;
		const stored = await desk.addFile(new TextEncoder().encode(text), { plain: true });
		if ('error' in stored) {
			problem = stored.error;
			return;
		}
		problem = '';
		saved = text;
		desk.edit(desk.text, `Template ${open}`, { ...desk.files, [open]: stored.hash });
	}

	// The editor comes when a template is opened.
	$effect(() => {
		if (!host || open === undefined) return;
		const parent = host;
		let isOver = false;
		void import('./template-editor.ts').then(({ templateEditor }) => {
			if (isOver) return;
			editor = templateEditor(
				parent,
				text,
				(changed) => (text = changed),
				() => void save()
			);
		});
		return () => {
			isOver = true;
			editor?.destroy();
			editor = undefined;
		};
	});

	// A look at what comes out, a moment after the last key.
	$effect(() => {
		if (open === undefined || !desk.isCurrent) return;
		const [name, content] = [open, text];
		const wait = setTimeout(() => {
			void desk.previewDeck({ name, text: content }).then(
				(found) => (preview = found),
				(error: unknown) => (preview = { problem: sentenceOf(error, 'the deck') })
			);
		}, 250);
		return () => clearTimeout(wait);
	});

	onMount(() => () => editor?.destroy());
</script>

<h3>Decks by a template of your own</h3>
<form onsubmit={add}>
	{#each templates as name (name)}<button
			type="button"
			class="action"
			aria-pressed={open === name}
			onclick={() => void show(name)}>{name}</button
		>{/each}
	<input class="field" aria-label="Name of a new template" placeholder="plain.liquid" bind:value={newName} />
	<button class="action" disabled={newName.trim() === ''}>New deck</button>
</form>
{#if open !== undefined}
	<div class="editor" bind:this={host}></div>
	<div class="row">
		<button class="action main" disabled={text === saved} onclick={() => void save()} data-tip="Ctrl+S">Save {open}</button>
		<button class="action plain" onclick={() => (open = undefined)}>Close</button>
		{#if text !== saved}<span class="hint">not saved yet</span>{/if}
	</div>
	{#if preview && 'problem' in preview}<p class="problem" role="alert">{preview.problem}</p>
	{:else if preview}
		{#each preview.parts as part (part.name)}
			<p class="name number">{part.name}</p>
			<pre class="number" aria-label="Preview of {part.name}">{part.text}</pre>
		{/each}
	{/if}
{/if}
{#if problem}<p class="problem" role="alert">{problem}</p>{/if}

<style>
	form,
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		align-items: center;
	}
	input {
		flex: 1;
		min-width: 110px;
	}
	.editor {
		overflow: auto;
		max-height: 280px;
		margin: 6px 0;
		border: 1px solid var(--edge-strong);
		border-radius: 3px;
		background: var(--paper);
	}
	pre {
		overflow: auto;
		max-height: 220px;
		padding: 6px;
		border: 1px solid var(--edge);
		background: var(--paper);
		font-size: 11px;
	}
	.name {
		padding-top: 4px;
		color: var(--quiet);
		font-size: 11px;
	}
	.problem {
		color: var(--brick);
	}
</style>
