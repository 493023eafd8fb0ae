<script lang="ts">
	import { onMount } from 'svelte';
	import { measures } from '../../core/quality/quality.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import type { MeshView } from './mesh-view.ts';
	import type { Palette } from './palette.ts';
	import type { SizeContours } from './size-contours.ts';
	import type { View } from './view.ts';

	/** The mesh behind the drawing, its elements coloured by quality or by size. */
	interface Props {
		view: View;
		palette: Palette | undefined;
		contours: SizeContours | undefined;
	}
	const { view, palette, contours }: Props = $props();
	const desk = useDesk();
	let canvas: HTMLCanvasElement;
	let meshView = $state.raw<MeshView | undefined>();

	/** How strongly the mesh is drawn: 0 where none is to be seen, 1 in full. */
	const strength = $derived.by(() => {
		if (desk.meshing.stopped) return 0;
		if (desk.meshing.progress !== undefined) return 0.25;
		return desk.station === 'shape' ? 0.35 : desk.station === 'label' ? 0.5 : 1;
	});

	let isClosed = false;
	let isLoading = false;
	onMount(() => () => {
		isClosed = true;
		meshView?.close();
	});

	// What draws meshes is loaded with the first mesh.
	$effect(() => {
		if (desk.elements === 0 || isLoading) return;
		isLoading = true;
		void import('./mesh-view.ts').then(({ MeshView }) => {
			if (!isClosed) meshView = new MeshView(canvas);
		});
	});

	$effect(() => {
		if (!desk.result || !meshView) return;
		const measure = measures.find((m) => m.key === desk.result!.measure.key)!;
		meshView.show(desk.result);
		if (contours) meshView.sizes(desk.result, contours.sizes);
		else meshView.measure(desk.result, measure);
	});

	$effect(() => {
		if (!palette || view.width === 0 || !meshView || !desk.result) return;
		void desk.measure;
		meshView.draw(
			view,
			{
				line: palette.graphite,
				tint: palette.tints,
				lit: palette.marigold,
				strength,
				colourByQuality: contours ? 'lightly' : desk.colourByQuality && 'fully',
				brush: contours ? undefined : desk.brush
			},
			devicePixelRatio
		);
	});
</script>

<canvas bind:this={canvas} aria-hidden="true" data-layer="mesh"></canvas>
