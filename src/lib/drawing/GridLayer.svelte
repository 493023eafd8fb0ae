<script lang="ts">
	import { paintGrid } from './ink.ts';
	import type { Palette } from './palette.ts';
	import type { View } from './view.ts';

	/** The rulers and the grid of the drawing. */
	const { view, palette }: { view: View; palette: Palette | undefined } = $props();
	let canvas: HTMLCanvasElement;

	$effect(() => {
		if (!palette || view.width === 0) return;
		canvas.width = view.width * devicePixelRatio;
		canvas.height = view.height * devicePixelRatio;
		const context = canvas.getContext('2d')!;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		paintGrid(context, view, palette);
	});
</script>

<canvas bind:this={canvas} aria-hidden="true"></canvas>

<style>
	canvas {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
	}
</style>
