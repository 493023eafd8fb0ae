<script lang="ts">
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';

	/** What is in no group yet: pieces of the boundary, and regions of no material. */
	const desk = useDesk();
	/** More than this are not shown one by one. */
	const most = 100;
	const pieces = $derived(desk.unlabelled.map((p) => desk.names[p]!));
	const bare = $derived.by(() => {
		const { result } = desk;
		if (!result) return { names: [], all: false };
		const known = new Set(result.mesh.groups.flatMap((g) => (g.members === 'elements' ? g.regions : [])));
		const names = result.regions.flatMap(({ name, fill }, r) => (fill === 'none' || known.has(r) ? [] : [name]));
		return { names, all: known.size === 0 };
	});
</script>

{#snippet list(kind: 'piece' | 'region', names: readonly string[], quiet: boolean)}
	<p class="chips">
		{#each names.slice(0, most) as name (name)}
			<button
				class="chip"
				class:quiet
				class:lit={desk.isSelected(kind, name)}
				onclick={(event) => desk.select([thingKey(kind, name)], event.shiftKey || event.ctrlKey)}
				onpointerenter={() => (desk.hover = thingKey(kind, name))}
				onpointerleave={() => (desk.hover = '')}>{name}</button
			>
		{/each}
		{#if names.length > most}<span class="more">and {names.length - most} more</span>{/if}
	</p>
	<button
		class="action all"
		onclick={() =>
			desk.select(
				names.map((name) => thingKey(kind, name)),
				false
			)}>{kind === 'piece' ? 'Select all of them' : 'Select these regions'}</button
	>
{/snippet}

{#if pieces.length > 0}
	<h3>Boundary in no group: {pieces.length}</h3>
	{@render list('piece', pieces, false)}
{:else if desk.elements > 0}<p class="hint good">Every boundary piece is in a group.</p>{/if}
{#if bare.names.length > 0}
	<h3 class:quiet={bare.all}>Regions of no material: {bare.names.length}</h3>
	{@render list('region', bare.names, bare.all)}
	{#if bare.all}<p class="hint">Where all is one material, none need be given.</p>{/if}
{:else if desk.elements > 0}<p class="hint good">Every region has a material.</p>{/if}

<style>
	h3 {
		padding: 10px 8px 4px;
		color: var(--brick);
		font-weight: 600;
	}
	h3.quiet {
		color: var(--ink);
	}
	.chips {
		padding: 0 8px;
	}
	.chip {
		margin: 1px 3px 1px 0;
		padding: 0 5px;
		border: 1px solid var(--brick);
		border-radius: 9px;
		color: var(--brick);
		font-size: 11px;
		cursor: pointer;
	}
	.chip.quiet {
		border-color: var(--edge);
		color: var(--quiet);
	}
	.chip.lit {
		border-color: var(--marigold);
		background: var(--marigold-soft);
		color: var(--ink);
	}
	.more {
		color: var(--quiet);
		font-size: 11px;
	}
	.all {
		margin: 6px 8px;
	}
	.good {
		color: var(--kingfisher);
	}
</style>
