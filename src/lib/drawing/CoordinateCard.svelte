<script lang="ts">
	import { capital } from '../../core/text/sentences.ts';
	import Segments from '../controls/Segments.svelte';
	import { onMount } from 'svelte';
	import type { CardMode, Drafting } from './drafting.svelte.ts';

	let {
		drafting,
		first,
		proposed = false,
		left,
		top,
		frameWidth,
		frameHeight,
		onclose
	}: {
		drafting: Drafting;
		first: string;
		proposed?: boolean;
		left: number;
		top: number;
		frameWidth: number;
		frameHeight: number;
		/** Closes the card; `given` when something was placed. */
		onclose: (given: boolean) => void;
	} = $props();

	const words: Record<CardMode, { title: string; labels: [string, string?] }> = $derived({
		at: { title: 'At', labels: ['x', 'y'] },
		step: { title: 'Step', labels: ['dx', 'dy'] },
		polar: { title: 'Length, angle', labels: ['length', 'angle °'] },
		number: { title: capital(drafting.numberLabel), labels: [drafting.numberLabel] }
	});

	let chosen = $state<CardMode | undefined>();
	const modes = $derived(drafting.modes);
	const mode = $derived(chosen && modes.includes(chosen) ? chosen : modes[0]!);
	// The card opens with the character that called it.
	// svelte-ignore state_referenced_locally
	let a = $state(first);
	let b = $state('');
	let problem = $state('');
	$effect(() => {
		drafting.typed = mode === 'number' ? a : '';
	});
	let inputs: HTMLInputElement[] = $state([]);

	onMount(() => {
		inputs[0]?.focus();
		// A proposal is there to be typed over; a first character is there to be gone on from.
		if (proposed) inputs[0]?.select();
		else inputs[0]?.setSelectionRange(a.length, a.length);
	});

	function enter(event: SubmitEvent): void {
		event.preventDefault();
		if (words[mode].labels.length === 2 && b.trim() === '') {
			inputs[1]?.focus();
			return;
		}
		const wrong = drafting.type(mode, a, b);
		if (wrong) problem = wrong;
		else onclose(true);
	}

	function onKeyDown(event: KeyboardEvent): void {
		if (event.key === 'Escape') {
			event.stopPropagation();
			onclose(false);
		}
		// A comma moves on, as in a typed pair.
		if (event.key === ',' && event.target === inputs[0] && words[mode].labels.length === 2 && !a.includes('(')) {
			event.preventDefault();
			inputs[1]?.focus();
		}
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<form
	class="card panel"
	style:left="{Math.min(left + 14, frameWidth - 230)}px"
	style:top="{Math.min(Math.max(top + 14, 30), frameHeight - 120)}px"
	onsubmit={enter}
	onkeydown={onKeyDown}
	aria-label="Typed coordinates"
>
	{#if modes.length > 1}
		<div class="modes">
			<Segments
				label="Way of typing"
				value={mode}
				items={modes.map((value) => ({ value, title: words[value].title }))}
				onchoose={(m) => (chosen = m)}
			/>
		</div>
	{/if}
	<div class="fields">
		{#each words[mode].labels as label, i (label)}
			<label>
				<span>{label}</span>
				{#if i === 0}<input class="field number" bind:this={inputs[0]} bind:value={a} autocomplete="off" spellcheck="false" />
				{:else}<input class="field number" bind:this={inputs[1]} bind:value={b} autocomplete="off" spellcheck="false" />{/if}
			</label>
		{/each}
		<button class="action main" data-tip="Place it (Enter)">Place</button>
	</div>
	{#if problem}<p role="alert">{problem}</p>{/if}
</form>

<style>
	.card {
		position: absolute;
		z-index: 5;
		padding: 6px;
		width: 222px;
	}
	.modes {
		display: flex;
		gap: 2px;
		margin-bottom: 5px;
	}
	.fields {
		display: flex;
		align-items: end;
		gap: 5px;
	}
	label {
		flex: 1;
		min-width: 0;
		font-size: 11px;
	}
	span {
		display: block;
		margin-bottom: 3px;
		color: var(--quiet);
	}
	input {
		width: 100%;
	}
	p {
		margin-top: 5px;
		color: var(--brick);
		font-size: 11.5px;
	}
</style>
