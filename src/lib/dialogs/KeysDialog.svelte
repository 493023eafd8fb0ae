<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { capital } from '../../core/text/sentences.ts';
	import { commands } from '../desk/commands.ts';

	let { open = $bindable() }: { open: boolean } = $props();
	const lower = (text: string): string => text[0]!.toLowerCase() + text.slice(1);
	/** Keys of commands, then what keys and pointer do that no command is. */
	const rows: [string, string][] = [
		['Ctrl+Shift+1 … 5', 'go to a station: Shape, Divide, Fill, Label, Deliver'],
		...commands
			.filter(({ keys }) => keys && !/^Ctrl\+Shift/.test(keys))
			.map(({ keys, title, station }): [string, string] => [
				keys!,
				station ? `in ${capital(station)}: ${lower(title)}` : lower(title)
			]),
		['a digit', 'in Divide, with pieces selected: their count'],
		['a letter', 'in Label, with pieces or regions selected: the name of their group'],
		['a digit or =, while drawing', 'type coordinates, a step, or length and angle; = for a name'],
		['Tab, Enter', 'in the card: next value, place it'],
		['Alt and an arrow key', 'in Label, on the edges of a group: move it up or down; the upper one owns what they share'],
		['wheel, middle drag', 'zoom to the pointer, pan (Alt-drag pans too)'],
		['Shift-click, drag', 'add to the selection, select by a box'],
		['double click', 'on a point or region: rename it; on a curve: type its dimensions, its count'],
		['Tab', 'in the recipe: take what is on offer'],
		['Escape', 'back out of anything']
	];
</script>

<Dialog {open} onOpenChange={(event) => (open = event.open)}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel keys">
				<Dialog.Title class="heading">Keys</Dialog.Title>
				<dl>
					{#each rows as [keys, what] (`${keys} ${what}`)}<div>
							<dt><kbd>{keys}</kbd></dt>
							<dd>{what}</dd>
						</div>{/each}
				</dl>
				<Dialog.CloseTrigger class="action">Close</Dialog.CloseTrigger>
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.keys) {
		overflow-y: auto;
		width: min(980px, 94vw);
		max-height: calc(100vh - 110px);
		padding: 16px;
	}
	:global(.keys .heading) {
		margin-bottom: 8px;
		font-size: 15px;
		font-weight: 600;
	}
	dl {
		margin-bottom: 12px;
		columns: 2;
		column-gap: 24px;
	}
	dl > div {
		display: grid;
		grid-template-columns: 150px 1fr;
		padding: 2px 0;
		border-top: 1px solid var(--edge);
		break-inside: avoid;
	}
	kbd {
		font-family: 'IBM Plex Mono', monospace;
		font-size: 12px;
		white-space: normal;
	}
</style>
