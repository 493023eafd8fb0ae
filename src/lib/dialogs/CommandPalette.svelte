<script lang="ts">
	import { type Command, commandsFor } from '../desk/commands.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { thingsFor } from '../desk/things.ts';
	import { Dialog, Listbox, Portal, useListCollection } from '@skeletonlabs/skeleton-svelte';

	let { open = $bindable(), onrun }: { open: boolean; onrun: (command: Command) => void } = $props();
	let query = $state('');
	let input = $state<HTMLInputElement | undefined>();
	const desk = useDesk();
	const found = $derived([...commandsFor(query), ...thingsFor(query, desk)]);

	/** Who types faster than the dialog opens loses no letter. */
	function onEarlyKey(event: KeyboardEvent): void {
		if (!open || event.target === input || event.ctrlKey || event.metaKey) return;
		if (event.key.length === 1) query += event.key;
		else if (event.key === 'Enter') run(chosen);
		else return;
		event.preventDefault();
	}

	function run(command: Command | undefined): void {
		if (!command) return;
		close();
		onrun(command);
	}

	function close(): void {
		open = false;
		query = '';
		lit = null;
	}

	const collection = $derived(
		useListCollection({ items: [...found], itemToValue: ({ title }) => title, itemToString: ({ title }) => title })
	);
	let lit = $state<string | null>(null);
	/** The first that is found, until the arrow keys choose another. */
	const chosen = $derived(found.find(({ title }) => title === lit) ?? found[0]);
</script>

<svelte:window onkeydown={onEarlyKey} />

<Dialog {open} onOpenChange={(event) => !event.open && close()}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel palette">
				<Dialog.Title class="hidden">Commands</Dialog.Title>
				<Listbox
					{collection}
					highlightedValue={chosen?.title ?? null}
					onHighlightChange={(event) => (lit = event.highlightedValue)}
					onSelect={(event) => run(found.find(({ title }) => title === event.value))}
				>
					<Listbox.Input
						class="field palette-input"
						autofocus
						placeholder="Find a command"
						aria-label="Find a command"
						value={query}
						oninput={(event: Event & { currentTarget: HTMLInputElement }) => {
							query = event.currentTarget.value;
							lit = null;
						}}
						{@attach (element: HTMLInputElement) => {
							input = element;
							element.focus();
						}}
					/>
					<Listbox.Content class="palette-list" aria-label="Commands">
						{#each found as command (command.title)}
							<Listbox.Item item={command} class="palette-item" data-lit={command === chosen}>
								<Listbox.ItemText>{command.title}</Listbox.ItemText><kbd>{command.keys ?? ''}</kbd>
							</Listbox.Item>
						{/each}
					</Listbox.Content>
				</Listbox>
				{#if found.length === 0}<p>No command has these words.</p>{/if}
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.backdrop) {
		position: fixed;
		inset: 0;
		z-index: 40;
		background: rgb(20 28 34 / 30%);
	}
	:global(.positioner) {
		position: fixed;
		inset: 0;
		z-index: 41;
		display: grid;
		justify-items: center;
		align-items: start;
		padding-top: 90px;
	}
	:global(.palette) {
		width: 420px;
		padding: 8px;
	}
	:global(.palette-input) {
		width: 100%;
		padding: 6px 8px;
		font-size: 14px;
	}
	:global(.palette-list) {
		overflow: auto;
		max-height: 340px;
		margin-top: 6px;
	}
	:global(.palette-item) {
		display: flex;
		justify-content: space-between;
		padding: 4px 8px;
		border-radius: 3px;
		cursor: pointer;
	}
	:global(.palette-item[data-lit='true']) {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	kbd {
		color: var(--quiet);
		font-family: 'IBM Plex Mono', monospace;
		font-size: 11px;
	}
	:global(.palette-item[data-lit='true']) kbd {
		color: inherit;
	}
	p {
		padding: 8px;
		color: var(--quiet);
	}
</style>
