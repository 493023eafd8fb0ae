<script lang="ts" generics="T">
	import type { Snippet } from 'svelte';
	import { VirtualList } from './virtual.svelte.ts';

	/** The rows of a table, of which only those in sight are in the document. */
	interface Props {
		rows: readonly T[];
		keyOf: (row: T) => string;
		columns: number;
		/** Height of a row, in pixels. */
		size?: number;
		/** The row that is to be in sight, by its key. */
		shown?: string | undefined;
		row: Snippet<[T]>;
	}
	const { rows, keyOf, columns, size = 27, shown, row }: Props = $props();
	/** Fewer rows than this stand there whole. */
	const few = 100;

	const list = new VirtualList();
	let body: HTMLTableSectionElement;
	const isLong = $derived(rows.length > few);

	$effect(() => list.attach(body, body.closest<HTMLElement>('[data-scrolls]')!));
	$effect(() => list.update({ count: rows.length, size }));
	$effect(() => {
		if (shown === undefined || !isLong) return;
		const index = rows.findIndex((r) => keyOf(r) === shown);
		if (index >= 0) list.show(index);
	});
	const inSight = $derived(isLong ? list.items.flatMap((item) => rows[item.index] ?? []) : rows);
</script>

<tbody bind:this={body}>
	{#if isLong && list.before > 0}<tr aria-hidden="true" style:height="{list.before}px"><td colspan={columns}></td></tr>{/if}
	{#each inSight as item (keyOf(item))}{@render row(item)}{/each}
	{#if isLong && list.after > 0}<tr aria-hidden="true" style:height="{list.after}px"><td colspan={columns}></td></tr>{/if}
</tbody>
