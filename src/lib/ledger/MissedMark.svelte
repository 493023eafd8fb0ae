<script lang="ts">
	import { promiseText } from '../../core/figures/promise-figures.ts';
	import type { PromiseCheck } from '../../core/promises/check.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** A mark beside a number that the mesh has not: what came is in its tooltip, and a click goes there. */
	const { missed }: { missed: readonly PromiseCheck[] } = $props();
	const desk = useDesk();
	const text = $derived(missed.map((m) => promiseText(m, desk.result?.model.units ?? '')).join('; '));
</script>

{#if missed.length > 0}<button
		aria-label="Not as asked: {text}"
		data-tip={text}
		onclick={() => {
			if (missed[0]!.at) desk.showAt = { ...missed[0]!.at };
			desk.notice = text;
		}}>≠</button
	>{/if}

<style>
	button {
		flex: none;
		padding: 0 3px;
		color: var(--brick);
		font-weight: 600;
		cursor: pointer;
	}
</style>
