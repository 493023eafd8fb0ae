<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { tools } from '../drawing/tools/table.ts';

	let { open = $bindable() }: { open: boolean } = $props();
	const rows: [string, string][] = [
		['Ctrl+Shift+1 … 5', 'stations: Shape, Divide, Fill, Label, Deliver'],
		...tools.filter((tool) => tool.key).map((tool): [string, string] => [tool.key!, `in Shape: ${tool.title.toLowerCase()}`]),
		['a digit', 'in Divide, with pieces selected: their count'],
		['L', 'in Fill, with walls selected: layers on them'],
		['a letter', 'in Label, with pieces or regions selected: the name of their group'],
		['Ctrl+A', 'select all that the station shows'],
		['a digit or =, while drawing', 'type coordinates, a step, or length and angle; = for a name'],
		['Tab, Enter', 'in the card: next value, place it'],
		['+', 'in Fill and Label: select all that goes on from the selected pieces'],
		['Alt and an arrow key', 'in Label, on the edges of a group: move it up or down; the upper one owns what they share'],
		['Z', 'back to the view before the last Show'],
		['F', 'fit everything into the drawing'],
		['wheel, middle drag', 'zoom to the pointer, pan (Alt-drag pans too)'],
		['Shift-click, drag', 'add to the selection, select by a box'],
		['Delete', 'delete what is selected'],
		['F2, double click', 'rename: in a table, or a point or region in the drawing'],
		['double click', 'on a curve in the drawing: type its dimensions, its count'],
		['W', 'walk to the worst elements'],
		['T', 'table or recipe text in the ledger'],
		['Tab', 'in the recipe: take what is on offer'],
		['Ctrl+Z, Ctrl+Y', 'undo, redo'],
		['Ctrl+K', 'find any command'],
		['Escape', 'back out of anything'],
		['?', 'this list']
	];
</script>

<Dialog {open} onOpenChange={(event) => (open = event.open)}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel keys">
				<Dialog.Title class="heading">Keys</Dialog.Title>
				<table>
					<tbody
						>{#each rows as [keys, what] (what)}<tr><td><kbd>{keys}</kbd></td><td>{what}</td></tr>{/each}</tbody
					>
				</table>
				<Dialog.CloseTrigger class="action">Close</Dialog.CloseTrigger>
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.keys) {
		overflow-y: auto;
		width: 520px;
		max-height: 92vh;
		padding: 16px;
	}
	:global(.keys .heading) {
		margin-bottom: 8px;
		font-size: 15px;
		font-weight: 600;
	}
	table {
		width: 100%;
		margin-bottom: 12px;
	}
	td {
		padding: 3px 8px 3px 0;
		border-top: 1px solid var(--edge);
	}
	kbd {
		font-family: 'IBM Plex Mono', monospace;
		font-size: 12px;
		white-space: nowrap;
	}
</style>
