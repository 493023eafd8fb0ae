<script lang="ts">
	import { Tabs } from '@skeletonlabs/skeleton-svelte';
	import { useDesk } from '../desk/desk.svelte.ts';
	import DeliverLedger from './DeliverLedger.svelte';
	import DivideLedger from './DivideLedger.svelte';
	import FillLedger from './FillLedger.svelte';
	import LabelLedger from './LabelLedger.svelte';
	import ShapeLedger from './ShapeLedger.svelte';

	const desk = useDesk();
	const titles = { shape: 'Shape', divide: 'Divide', fill: 'Fill', label: 'Label', deliver: 'Deliver' };
</script>

<section class="ledger" aria-label="Ledger">
	<h2 class="unseen">Ledger</h2>
	<Tabs class="faces-root" value={desk.face} onValueChange={(event) => (desk.face = event.value as typeof desk.face)}>
		<Tabs.List class="faces" aria-label="Faces of the ledger">
			<Tabs.Trigger value="table" class="face">{titles[desk.station]}</Tabs.Trigger>
			<Tabs.Trigger value="recipe" class="face">Recipe</Tabs.Trigger>
		</Tabs.List>
		<Tabs.Content value={desk.face} class="body" data-scrolls tabindex={0}>
			{#if desk.face === 'recipe'}{#await import('./RecipeFace.svelte') then { default: RecipeFace }}<RecipeFace />{/await}
			{:else if desk.station === 'shape'}<ShapeLedger />
			{:else if desk.station === 'divide'}<DivideLedger />
			{:else if desk.station === 'fill'}<FillLedger />
			{:else if desk.station === 'label'}<LabelLedger />
			{:else}<DeliverLedger />{/if}
		</Tabs.Content>
	</Tabs>
</section>

<style>
	.ledger {
		display: flex;
		flex: 1;
		flex-direction: column;
		height: 100%;
		min-width: 0;
		background: var(--sheet);
	}
	.ledger :global(.faces-root) {
		display: flex;
		flex: 1;
		flex-direction: column;
		min-height: 0;
	}
	.ledger :global(.faces) {
		display: flex;
		gap: 2px;
		padding: 4px 8px 0;
		border-bottom: 1px solid var(--edge-strong);
	}
	.ledger :global(.face) {
		padding: 4px 12px;
		border: 1px solid transparent;
		border-bottom: none;
		border-radius: 3px 3px 0 0;
		color: var(--quiet);
		font-weight: 500;
		cursor: pointer;
	}
	.ledger :global(.face[aria-selected='true']) {
		margin-bottom: -1px;
		border-color: var(--edge-strong);
		background: var(--sheet);
		color: var(--ink);
	}
	.ledger :global(.body) {
		flex: 1;
		overflow: auto;
		min-height: 0;
	}
	.ledger :global(.body table) {
		width: 100%;
		border-collapse: collapse;
		font-size: 12px;
	}
	.ledger :global(.body th) {
		position: sticky;
		top: 0;
		z-index: 1;
		padding: 4px 5px;
		background: var(--sheet);
		box-shadow: inset 0 -1px var(--edge-strong);
		color: var(--quiet);
		font-size: 11px;
		font-weight: 500;
		text-align: right;
	}
	.ledger :global(.body th:first-child) {
		padding-left: 8px;
		text-align: left;
	}
	.ledger :global(.body th.text) {
		text-align: left;
	}
	.ledger :global(.body td) {
		padding: 1px 4px;
		border-top: 1px solid var(--edge);
		vertical-align: middle;
	}
	.ledger :global(.body td.number) {
		text-align: right;
	}
	.ledger :global(.body td.name) {
		overflow: hidden;
		padding-left: 8px;
	}
	.ledger :global(.body td.name button) {
		display: block;
		overflow: hidden;
		width: 100%;
		padding: 2px 0;
		text-align: left;
		text-overflow: ellipsis;
		white-space: nowrap;
		cursor: pointer;
	}
	.ledger :global(.body tr.hovered) {
		background: color-mix(in srgb, var(--marigold-soft) 55%, transparent);
	}
	.ledger :global(.body tr.selected) {
		background: var(--marigold-soft);
	}
	.ledger :global(.body td select) {
		width: 100%;
		padding: 2px 1px;
		border: 1px solid transparent;
		border-radius: 2px;
		background: transparent;
		color: inherit;
		font-size: 12px;
		text-overflow: ellipsis;
		appearance: none;
		cursor: pointer;
	}
	.ledger :global(.body td select:hover) {
		border-color: var(--edge-strong);
	}
	.ledger :global(.body option) {
		background: var(--sheet);
		color: var(--ink);
	}
	.ledger :global(.body .hint) {
		padding: 6px 8px;
		color: var(--quiet);
		font-size: 12px;
	}
</style>
