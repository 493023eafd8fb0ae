<script lang="ts">
	import type { CaseRow } from './case-rows.ts';
	import LaidOver from './LaidOver.svelte';
	import { pictureUrl } from './picture-view.ts';

	/** The case that is looked at: its mesh, another laid over it, its values taken into the recipe. */
	interface Props {
		row: CaseRow;
		/** Rows that have a picture. */
		pictured: readonly CaseRow[];
		/** Whether its picture is to be shown here. */
		showsPicture: boolean;
		onopen: (row: CaseRow) => void;
	}
	const { row, pictured, showsPicture, onopen }: Props = $props();
	/** The number of the case that is laid over it; 0 for none. */
	let other = $state(0);
	const over = $derived(pictured.find(({ one }) => one.number === other && one.number !== row.one.number));
	const picture = $derived(row.outcome?.picture);
</script>

<div class="chosen">
	<b>{row.one.name}</b>
	{#if row.outcome?.message}<p class="problem">{row.outcome.message}</p>{/if}
	{#if picture && over?.outcome?.picture}<LaidOver
			first={picture}
			second={over.outcome.picture}
			names={[row.one.name, over.one.name]}
		/>{:else if showsPicture && picture}<img src={pictureUrl(picture)} alt="Mesh of {row.one.name}" />{/if}
	{#if picture}<select class="field" aria-label="Lay another case over it" bind:value={other}>
			<option value={0}>lay another case over it…</option>
			{#each pictured.filter((r) => r.one.number !== row.one.number) as { one } (one.number)}<option value={one.number}
					>{one.name}</option
				>{/each}
		</select>{/if}
	{#if Object.keys(row.one.settings).length > 0}<button
			class="action"
			data-tip="Writes the values of this case into the recipe; undo takes them back"
			onclick={() => onopen(row)}>Open this case</button
		>{/if}
</div>

<style>
	.chosen {
		display: grid;
		gap: 6px;
		padding-top: 8px;
		border-top: 1px solid var(--edge);
	}
	img {
		width: 100%;
		max-height: 150px;
		object-fit: contain;
	}
	button {
		justify-self: start;
	}
	.problem {
		color: var(--brick);
	}
</style>
