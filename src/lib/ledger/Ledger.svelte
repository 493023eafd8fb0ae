<script lang="ts">
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
	<div class="faces" role="tablist" aria-label="Faces of the ledger">
		<button role="tab" aria-selected={desk.face === 'table'} onclick={() => (desk.face = 'table')}>{titles[desk.station]}</button>
		<button role="tab" aria-selected={desk.face === 'recipe'} onclick={() => (desk.face = 'recipe')}>Recipe</button>
	</div>
	<div class="body" role="tabpanel" data-scrolls>
		{#if desk.face === 'recipe'}{#await import('./RecipeFace.svelte') then { default: RecipeFace }}<RecipeFace />{/await}
		{:else if desk.station === 'shape'}<ShapeLedger />
		{:else if desk.station === 'divide'}<DivideLedger />
		{:else if desk.station === 'fill'}<FillLedger />
		{:else if desk.station === 'label'}<LabelLedger />
		{:else}<DeliverLedger />{/if}
	</div>
</section>

<style>
	.ledger {
		display: flex;
		flex-direction: column;
		height: 100%;
		min-width: 0;
		background: var(--sheet);
	}
	.faces {
		display: flex;
		gap: 2px;
		padding: 4px 8px 0;
		border-bottom: 1px solid var(--edge-strong);
	}
	.faces button {
		padding: 4px 12px;
		border: 1px solid transparent;
		border-bottom: none;
		border-radius: 3px 3px 0 0;
		color: var(--quiet);
		font-weight: 500;
		cursor: pointer;
	}
	.faces button[aria-selected='true'] {
		margin-bottom: -1px;
		border-color: var(--edge-strong);
		background: var(--sheet);
		color: var(--ink);
	}
	.body {
		flex: 1;
		overflow: auto;
		min-height: 0;
	}
	.body :global(table) {
		width: 100%;
		border-collapse: collapse;
		font-size: 12px;
	}
	.body :global(th) {
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
	.body :global(th:first-child) {
		padding-left: 8px;
		text-align: left;
	}
	.body :global(th.text) {
		text-align: left;
	}
	.body :global(td) {
		padding: 1px 4px;
		border-top: 1px solid var(--edge);
		vertical-align: middle;
	}
	.body :global(td.number) {
		text-align: right;
	}
	.body :global(td.name) {
		overflow: hidden;
		padding-left: 8px;
	}
	.body :global(td.name button) {
		display: block;
		overflow: hidden;
		width: 100%;
		padding: 2px 0;
		text-align: left;
		text-overflow: ellipsis;
		white-space: nowrap;
		cursor: pointer;
	}
	.body :global(tr.hovered) {
		background: color-mix(in srgb, var(--marigold-soft) 55%, transparent);
	}
	.body :global(tr.selected) {
		background: var(--marigold-soft);
	}
	.body :global(td select) {
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
	.body :global(td select:hover) {
		border-color: var(--edge-strong);
	}
	.body :global(option) {
		background: var(--sheet);
		color: var(--ink);
	}
	.body :global(.hint) {
		padding: 6px 8px;
		color: var(--quiet);
		font-size: 12px;
	}
</style>
