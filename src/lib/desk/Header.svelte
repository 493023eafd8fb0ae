<script lang="ts">
	import { resolve } from '$app/paths';
	import FindingsMenu from '../dialogs/FindingsMenu.svelte';
	import FrameMenu from '../dialogs/FrameMenu.svelte';
	import HistoryMenu from '../dialogs/HistoryMenu.svelte';
	import Mark from './Mark.svelte';
	import { unnamed } from '../projects/chosen.ts';
	import { useDesk } from './desk.svelte.ts';

	let { onpalette, ontheme }: { onpalette: () => void; ontheme: () => void } = $props();
	const desk = useDesk();
	const model = $derived(desk.result?.model);
	const saved = $derived(
		{
			saved: 'Saved',
			saving: 'Saving…',
			offline: 'No server; kept here',
			refused: `Not saved since ${new Date(desk.saver.refusedSince ?? 0).toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}`,
			conflict: 'Changed elsewhere'
		}[desk.saver.state]
	);

	/** Files are called by the title: a project that is not named yet asks for it in place, and hinders nobody. */
	const isUnnamed = $derived(unnamed(model?.title ?? ''));
</script>

<header>
	<h1 class="unseen">{model?.title || 'Project'}</h1>
	<a href={resolve('/')} data-tip="All projects" aria-label="All projects"><Mark /></a>
	{#if desk.sheet !== ''}
		<span class="sheet" role="status">Part <b>{desk.sheet}</b></span>
		<button class="action" onclick={() => desk.openPart('')}>Back to the whole drawing</button>
	{:else}
		<input
			class="title"
			aria-label="Project title"
			value={model?.title ?? ''}
			class:unnamed={isUnnamed}
			data-tip={isUnnamed ? 'Give the project a name: its files are called by it' : undefined}
			onfocus={(event) => isUnnamed && event.currentTarget.select()}
			onchange={(event) => desk.retitle(event.currentTarget.value)}
			onkeydown={(event) => ['Enter', 'Escape'].includes(event.key) && event.currentTarget.blur()}
		/>
	{/if}
	{#if desk.document}<span
			class="document number"
			data-tip="The document is this file: what is changed here is written to it, and what is saved in it shows here"
			>{desk.document}</span
		>{/if}
	<FrameMenu />
	<span
		class="saved"
		class:bad={['offline', 'refused', 'conflict'].includes(desk.saver.state)}
		role="status"
		data-revision={desk.saver.revision}
		data-saved={desk.saver.state === 'saved'}>{saved} · <span class="number">rev {desk.saver.revision}</span></span
	>
	<div class="space"></div>
	<div class="group">
		<button
			class="action plain"
			data-tip="Undo (Ctrl+Z)"
			aria-label="Undo"
			disabled={!desk.saver.canUndo}
			onclick={() => desk.undo()}><svg viewBox="0 0 20 20"><path d="M7 5L3 9l4 4M3.5 9H13a4 4 0 010 8h-3" /></svg></button
		>
		<button
			class="action plain"
			data-tip="Redo (Ctrl+Y)"
			aria-label="Redo"
			disabled={!desk.saver.canRedo}
			onclick={() => desk.redo()}><svg viewBox="0 0 20 20"><path d="M13 5l4 4-4 4M16.5 9H7a4 4 0 000 8h3" /></svg></button
		>
		<HistoryMenu />
	</div>
	<FindingsMenu />
	<button class="action plain" data-tip="Find a command (Ctrl+K)" onclick={onpalette}>Commands</button>
	<button class="action plain" data-tip="Paper or slate" aria-label="Change theme" onclick={ontheme}
		><svg viewBox="0 0 20 20"><circle cx="10" cy="10" r="6" /><path d="M10 4a6 6 0 010 12z" fill="currentColor" /></svg></button
	>
	{#if desk.sheet === ''}<button class="action main" onclick={() => desk.go('deliver')}>Deliver</button>{/if}
</header>

<style>
	header {
		display: flex;
		align-items: center;
		gap: 2px 6px;
		flex-wrap: wrap;
		min-height: 44px;
		padding: 0 10px;
		border-bottom: 1px solid var(--edge-strong);
		background: var(--sheet);
	}
	.sheet {
		padding: 2px 6px;
		font-size: 15px;
	}
	.title.unnamed:not(:focus) {
		border-bottom: 2px dashed var(--marigold);
	}
	.title {
		field-sizing: content;
		min-width: 80px;
		max-width: 220px;
		padding: 2px 6px;
		border: 1px solid transparent;
		border-radius: 3px;
		background: transparent;
		font-size: 15px;
		font-weight: 600;
	}
	.title:hover {
		border-color: var(--edge-strong);
	}
	.document {
		overflow: hidden;
		color: var(--quiet);
		font-size: 12px;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.saved {
		color: var(--quiet);
		font-size: 12px;
		white-space: nowrap;
	}
	.saved {
		padding-left: 10px;
		border-left: 1px solid var(--edge);
	}
	.bad {
		color: var(--brick);
	}
	.space {
		flex: 1;
	}
	.group {
		display: flex;
	}
	svg {
		width: 17px;
		height: 17px;
		fill: none;
		stroke: currentColor;
		stroke-width: 1.6;
	}
</style>
