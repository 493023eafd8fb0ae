<script lang="ts">
	import { paintGrid } from './ink.ts';
	import type { Palette } from './palette.ts';
	import { cleared } from './strokes.ts';
	import type { View } from './view.ts';

	/** The rulers and the grid of the drawing. */
	const { view, palette }: { view: View; palette: Palette | undefined } = $props();
	let canvas: HTMLCanvasElement;

	$effect(() => {
		if (!palette || view.width === 0) return;
		paintGrid(cleared(canvas, view), view, palette);
	});
</script>

<canvas bind:this={canvas} aria-hidden="true"></canvas>
