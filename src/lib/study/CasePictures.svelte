<script lang="ts">
	import type { CaseRow } from './case-rows.ts';
	import { atScale, pictureUrl, viewOf } from './picture-view.ts';

	/** Small pictures of the meshes, all at one scale. */
	interface Props {
		/** Rows that have a picture. */
		rows: readonly CaseRow[];
		/** The number of the case that is looked at; 0 for none. */
		chosen: number;
	}
	let { rows, chosen = $bindable() }: Props = $props();
	const scale = $derived(Math.min(...rows.map((r) => viewOf(r.outcome!.picture).scale)));
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="pictures" tabindex="0" role="region" aria-label="Meshes of the cases">
	{#each rows as { one, outcome } (one.number)}
		<button class:on={one.number === chosen} onclick={() => (chosen = one.number)}
			><svg viewBox="0 0 480 270" role="img" aria-label="Mesh of {one.name}"
				><image href={pictureUrl(outcome!.picture)} {...atScale(outcome!.picture, scale)} /></svg
			><span>{one.name}</span></button
		>
	{:else}<p>Pictures stand here as soon as cases are done.</p>{/each}
</div>

<style>
	.pictures {
		display: grid;
		flex: 1;
		grid-template-columns: 1fr 1fr;
		gap: 6px;
		align-content: start;
		overflow-y: auto;
		min-height: 120px;
	}
	button {
		border: 1px solid var(--edge);
		font-size: 11px;
		cursor: pointer;
	}
	button.on {
		border-color: var(--marigold);
	}
	svg {
		width: 100%;
		background: #f5f2ea;
	}
	p {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
