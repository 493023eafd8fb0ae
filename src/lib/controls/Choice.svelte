<script lang="ts">
	import { Switch } from '@skeletonlabs/skeleton-svelte';
	import type { Snippet } from 'svelte';

	/** Something that is on or off, with its words. */
	let { checked = $bindable(), children }: { checked: boolean | undefined; children: Snippet } = $props();
</script>

<Switch checked={checked === true} onCheckedChange={(event) => (checked = event.checked)} class="switch">
	<Switch.Control class="switch-control"><Switch.Thumb class="switch-thumb" /></Switch.Control>
	<Switch.Label class="switch-label">{@render children()}</Switch.Label>
	<Switch.HiddenInput />
</Switch>

<style>
	:global(.switch) {
		display: inline-flex;
		gap: 7px;
		align-items: center;
		cursor: pointer;
	}
	:global(.switch-control) {
		display: inline-flex;
		flex: none;
		width: 26px;
		height: 14px;
		padding: 1px;
		border: 1px solid var(--quiet);
		border-radius: 8px;
		background: var(--sheet);
		transition: background 100ms;
	}
	:global(.switch-control[data-state='checked']) {
		border-color: var(--kingfisher);
		background: var(--kingfisher);
	}
	:global(.switch-control[data-focus-visible]) {
		outline: 2px solid var(--kingfisher);
		outline-offset: 1px;
	}
	:global(.switch-thumb) {
		width: 10px;
		height: 10px;
		border-radius: 50%;
		background: var(--quiet);
		transition: transform 100ms;
	}
	:global(.switch-thumb[data-state='checked']) {
		background: var(--on-kingfisher);
		transform: translateX(12px);
	}
</style>
