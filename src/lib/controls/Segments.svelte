<script lang="ts" generics="T extends string">
	import { SegmentedControl } from '@skeletonlabs/skeleton-svelte';

	/** One of a few, side by side. */
	let {
		label,
		value,
		items,
		onchoose
	}: { label: string; value: T; items: readonly { value: T; title: string }[]; onchoose: (value: T) => void } = $props();
</script>

<SegmentedControl {value} onValueChange={(event) => event.value && onchoose(event.value as T)} class="segments">
	<SegmentedControl.Label class="unseen">{label}</SegmentedControl.Label>
	<SegmentedControl.Control class="segments-control">
		{#each items as item (item.value)}
			<SegmentedControl.Item value={item.value} class="segment">
				<SegmentedControl.ItemText>{item.title}</SegmentedControl.ItemText>
				<SegmentedControl.ItemHiddenInput />
			</SegmentedControl.Item>
		{/each}
	</SegmentedControl.Control>
</SegmentedControl>

<style>
	:global(.segments-control) {
		display: inline-flex;
		border: 1px solid var(--edge-strong);
		border-radius: 3px;
	}
	:global(.segment) {
		padding: 2px 8px;
		font-size: 12px;
		cursor: pointer;
	}
	:global(.segment + .segment) {
		border-left: 1px solid var(--edge);
	}
	:global(.segment[data-state='checked']) {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	:global(.segment[data-focus-visible]) {
		outline: 2px solid var(--kingfisher);
		outline-offset: 1px;
	}
</style>
