<script lang="ts">
	import type { FillKind } from '../../core/recipe/statements/fill.ts';
	import { fillFaces, offeredFills } from '../desk/bare-faces.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';

	/** What an outline that is no region yet is to be filled with, where it was clicked. */
	let { face, left, top, onclose }: { face: number; left: number; top: number; onclose: () => void } = $props();
	const desk = useDesk();
	const choices: [FillKind, string][] = [...offeredFills, ['none', 'Leave empty']];

	function choose(kind: FillKind): void {
		const { text, names } = fillFaces(desk.recipe, desk.result!, [face], kind);
		onclose();
		desk.edit(text, kind === 'none' ? `Leave ${names[0]} empty` : `Fill ${names[0]}: ${kind}`);
		desk.select(
			names.map((name) => thingKey('region', name)),
			false
		);
	}
</script>

<div
	class="panel face"
	role="group"
	aria-label="Fill this outline"
	style:left="{Math.max(50, left)}px"
	style:top="{Math.max(30, top)}px"
>
	<p>A closed outline, no region yet</p>
	{#each choices as [kind, title] (kind)}
		<button class="action" disabled={!desk.isCurrent} onclick={() => choose(kind)}>{title}</button>
	{/each}
</div>

<style>
	.face {
		position: absolute;
		display: grid;
		gap: 4px;
		width: 200px;
		padding: 6px 8px;
		font-size: 12px;
	}
	p {
		color: var(--quiet);
	}
</style>
