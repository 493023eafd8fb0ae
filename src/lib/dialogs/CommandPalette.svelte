<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';

	export interface Command {
		title: string;
		keys?: string;
		run: () => void;
	}

	let { open = $bindable(), commands }: { open: boolean; commands: readonly Command[] } = $props();
	let query = $state('');
	let chosen = $state(0);
	let input = $state<HTMLInputElement | undefined>();
	const found = $derived(
		commands.filter(({ title }) =>
			query
				.toLowerCase()
				.split(/\s+/)
				.every((part) => title.toLowerCase().includes(part))
		)
	);

	/** Who types faster than the dialog opens loses no letter. */
	function onEarlyKey(event: KeyboardEvent): void {
		if (!open || event.target === input || event.ctrlKey || event.metaKey) return;
		if (event.key.length === 1) query += event.key;
		else if (event.key === 'Enter') run(found[chosen]);
		else return;
		event.preventDefault();
	}

	function run(command: Command | undefined): void {
		if (!command) return;
		close();
		command.run();
	}

	function close(): void {
		open = false;
		query = '';
		chosen = 0;
	}

	function onKeyDown(event: KeyboardEvent): void {
		if (event.key === 'ArrowDown') chosen = Math.min(found.length - 1, chosen + 1);
		else if (event.key === 'ArrowUp') chosen = Math.max(0, chosen - 1);
		else if (event.key === 'Enter') run(found[chosen]);
		else return;
		event.preventDefault();
	}
</script>

<svelte:window onkeydown={onEarlyKey} />

<Dialog {open} onOpenChange={(event) => !event.open && close()}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel palette">
				<Dialog.Title class="hidden">Commands</Dialog.Title>
				<!-- svelte-ignore a11y_autofocus -->
				<input
					bind:this={input}
					class="field"
					autofocus
					placeholder="Find a command"
					aria-label="Find a command"
					bind:value={query}
					oninput={() => (chosen = 0)}
					onkeydown={onKeyDown}
				/>
				<ul role="listbox" aria-label="Commands">
					{#each found as command, k (command.title)}
						<li role="option" aria-selected={k === chosen}>
							<button tabindex="-1" onclick={() => run(command)}
								><span>{command.title}</span><kbd>{command.keys ?? ''}</kbd></button
							>
						</li>
					{/each}
				</ul>
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
	input {
		width: 100%;
		padding: 6px 8px;
		font-size: 14px;
	}
	ul {
		overflow: auto;
		max-height: 340px;
		margin-top: 6px;
	}
	li button {
		display: flex;
		justify-content: space-between;
		width: 100%;
		padding: 4px 8px;
		border-radius: 3px;
		cursor: pointer;
	}
	li button:hover {
		background: var(--kingfisher-soft);
	}
	li[aria-selected='true'] button {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	kbd {
		opacity: 0.75;
		font-family: 'IBM Plex Mono', monospace;
		font-size: 11px;
	}
	p {
		padding: 8px;
		color: var(--quiet);
	}
</style>
