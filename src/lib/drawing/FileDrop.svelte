<script lang="ts">
	import type { CoordinateFile } from '../../core/recipe/model/model.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** A file that was dropped, chosen or pasted, shown before it is imported. */
	const { onclose }: { onclose: (added: boolean) => void } = $props();
	const desk = useDesk();
	let offered = $state.raw<{ name: string; bytes: Uint8Array; read: CoordinateFile } | undefined>();

	/** Shows what a file holds. */
	export async function offer(name: string, bytes: Uint8Array): Promise<void> {
		const { readFileOfRecipe } = await import('../../formats/read-file.ts');
		offered = { name, bytes, read: await readFileOfRecipe(bytes) };
	}

	/** Shows what a file holds that was dropped or chosen. */
	export async function take(file: File | undefined): Promise<void> {
		if (file) await offer(file.name, new Uint8Array(await file.arrayBuffer()));
	}

	/** Puts the file away without importing it; returns whether there was one. */
	export function close(): boolean {
		const wasOpen = offered !== undefined;
		offered = undefined;
		return wasOpen;
	}

	const isTyping = (target: EventTarget | null) =>
		target instanceof HTMLElement && target.closest('input, textarea, [contenteditable=true]') !== null;

	/** Rows of numbers pasted from another program, such as a spreadsheet, are offered as a file. */
	function onPaste(event: ClipboardEvent): void {
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (isTyping(event.target) || !/\d/.test(text)) return;
		event.preventDefault();
		let number = 1;
		while (`pasted-${number}.csv` in desk.files) number++;
		void offer(`pasted-${number}.csv`, new TextEncoder().encode(text));
	}
</script>

<svelte:window onpaste={onPaste} />

{#if offered}
	{@const { name, bytes, read } = offered}
	{#await import('./FileCard.svelte') then { default: FileCard }}
		<FileCard
			{name}
			{bytes}
			{read}
			onclose={(added) => {
				close();
				onclose(added);
			}}
		/>
	{/await}
{/if}
