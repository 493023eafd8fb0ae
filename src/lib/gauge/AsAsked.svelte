<script lang="ts">
	import { promiseFigures, promiseText } from '../../core/figures/promise-figures.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** Whether the mesh has the numbers that the recipe asks for; a click walks to those that it has not. */
	const desk = useDesk();
	const figures = $derived(promiseFigures(desk.result?.promises ?? []));
	let walked = $state(0);
	$effect(() => {
		void figures;
		walked = 0;
	});

	function show(): void {
		const check = figures.missed[walked % figures.missed.length];
		if (!check) return;
		walked++;
		if (check.at) desk.showAt = { ...check.at };
		desk.notice = promiseText(check, desk.result?.model.units ?? '');
	}
</script>

{#if figures.missed.length > 0}<button
		class="missed"
		data-count="missed"
		data-tip="Walk to the numbers of the recipe that the mesh has not; {figures.measured} were measured"
		onclick={show}>{figures.missed.length} not as asked{walked > 0 ? ` ${walked}` : ''}</button
	>{:else if figures.measured > 0}<span
		data-count="missed"
		data-tip="All {figures.measured} numbers that the recipe asks for were measured on the mesh, and are there">as asked</span
	>{/if}

<style>
	button,
	span {
		padding: 0 6px;
		border: 1px solid transparent;
		border-radius: 3px;
		font-size: 11.5px;
		white-space: nowrap;
	}
	button {
		cursor: pointer;
	}
	.missed {
		border-color: var(--brick);
		color: var(--brick);
	}
	span {
		color: var(--kingfisher);
	}
</style>
