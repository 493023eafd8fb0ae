<script lang="ts">
	import { useDesk } from '../desk/desk.svelte.ts';
	import type { Drafting } from './drafting.svelte.ts';
	import { formatAt, niceStep, ruler, worldX, worldY, type View } from './view.ts';

	/** Along the bottom of the drawing: where the pointer is, what it snaps to, what was just done, and the scale. */
	interface Props {
		view: View;
		drafting: Drafting;
		/** Where the pointer is, in pixels; undefined outside. */
		pointer: { px: number; py: number } | undefined;
	}
	const { view, drafting, pointer }: Props = $props();
	const desk = useDesk();

	const step = $derived(niceStep(view.scale, 1));
	const cursor = $derived(desk.tool === 'select' ? undefined : drafting.cursor);
	const place = $derived(cursor ?? (pointer && { x: worldX(view, pointer.px), y: worldY(view, pointer.py) }));
	const bar = $derived(niceStep(view.scale, 60));
</script>

<div class="status number" style:left="{ruler.left + 8}px">
	{#if pointer && place}
		<span>x {formatAt(place.x, step)}</span>
		<span>y {formatAt(place.y, step)}</span>
	{/if}
	{#if cursor}<span class="snap">{cursor.snap}</span>{/if}
	{#if desk.notice}<span class="notice" role="status">{desk.notice}</span>{/if}
</div>
<div class="scale number" aria-hidden="true">
	<span>{formatAt(bar, bar)} {desk.result?.model.units ?? ''}</span>
	<i style:width="{bar * view.scale}px"></i>
</div>

<style>
	.status,
	.scale {
		position: absolute;
		bottom: 6px;
		display: flex;
		gap: 12px;
		padding: 1px 6px;
		border-radius: 3px;
		background: color-mix(in srgb, var(--paper) 85%, transparent);
		color: var(--quiet);
		font-size: 11px;
		pointer-events: none;
	}
	.status:empty {
		display: none;
	}
	.snap {
		color: var(--kingfisher);
	}
	.notice {
		color: var(--ink);
	}
	.scale {
		right: 10px;
		flex-direction: column;
		align-items: center;
		gap: 0;
	}
	i {
		display: block;
		height: 4px;
		border: 1px solid var(--quiet);
		border-top: none;
	}
</style>
