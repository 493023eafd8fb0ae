<script lang="ts">
	import { onMount } from 'svelte';
	import type { Measure } from '../../core/quality/measure.ts';
	import { elementCentre, elementReach, type MeasureResult } from '../../core/quality/quality.ts';
	import type { OpenedMesh } from '../desk/mesh.worker.ts';
	import type { MeshView } from '../drawing/mesh-view.ts';
	import { cleared } from '../drawing/strokes.ts';
	import { readPalette } from '../drawing/palette.ts';
	import { closeUp, screenX, screenY, zoomed, type View } from '../drawing/view.ts';
	import { colourOfGroup, viewOfBox, type MeshBox } from './mesh-box.ts';

	/** The mesh of a file with its groups in colours, to be zoomed and moved. */
	interface Props {
		name: string;
		file: OpenedMesh['file'];
		box: MeshBox;
		measure: Measure;
		taken: MeasureResult;
		/** The range of the measure that is lit; undefined for none. */
		brush: [number, number] | undefined;
		/** The group that is looked at alone; empty for all. */
		group: string;
	}
	const { name, file, box, measure, taken, brush, group }: Props = $props();

	let view = $state.raw<View>({ x: 0, y: 0, scale: 1, width: 0, height: 0 });
	let frame: HTMLElement;
	let meshCanvas: HTMLCanvasElement;
	let lineCanvas: HTMLCanvasElement;
	let meshView = $state.raw<MeshView>();

	const fit = () => (view = { ...view, ...viewOfBox(box, view.width, view.height) });

	/** Zooms to the worst element. */
	export function showWorst(): void {
		const { worst } = taken;
		view = { ...view, ...elementCentre(file, worst), scale: closeUp(elementReach(file, worst), view) };
	}

	onMount(() => {
		let isClosed = false;
		void import('../drawing/mesh-view.ts').then(({ MeshView }) => {
			if (!isClosed) meshView = new MeshView(meshCanvas);
		});
		const resize = new ResizeObserver(() => {
			const { clientWidth: width, clientHeight: height } = frame;
			const isFirst = view.width === 0;
			view = { ...view, width, height };
			if (isFirst && width > 0) fit();
		});
		resize.observe(frame);
		return () => {
			isClosed = true;
			resize.disconnect();
			meshView?.close();
		};
	});

	$effect(() => {
		if (!meshView || view.width === 0) return;
		const shown = { mesh: file, measure: { taken } };
		const palette = readPalette(frame);
		meshView.show(shown);
		meshView.measure(shown, measure);
		meshView.draw(
			view,
			{
				line: palette.graphite,
				tint: palette.tints,
				lit: palette.brick,
				strength: 0.8,
				colourByQuality: brush ? false : 'lightly',
				brush
			},
			devicePixelRatio
		);
	});

	// Groups in their colours over the mesh; the one that is looked at alone.
	$effect(() => {
		if (view.width === 0) return;
		const context = cleared(lineCanvas, view);
		file.groups.forEach(({ name, sides }, g) => {
			context.strokeStyle = colourOfGroup(g);
			context.globalAlpha = group === '' || group === name ? 1 : 0.15;
			context.lineWidth = group === name ? 4 : 2.4;
			context.beginPath();
			for (let k = 0; k < sides.length; k += 2) {
				context.moveTo(screenX(view, file.x[sides[k]!]!), screenY(view, file.y[sides[k]!]!));
				context.lineTo(screenX(view, file.x[sides[k + 1]!]!), screenY(view, file.y[sides[k + 1]!]!));
			}
			context.stroke();
		});
	});

	function onWheel(event: WheelEvent): void {
		event.preventDefault();
		const bounds = frame.getBoundingClientRect();
		view = zoomed(view, Math.exp(-event.deltaY * 0.0015), event.clientX - bounds.left, event.clientY - bounds.top);
	}

	function onPointerMove(event: PointerEvent): void {
		if (event.buttons === 0) return;
		view = { ...view, x: view.x - event.movementX / view.scale, y: view.y + event.movementY / view.scale };
	}
</script>

<div
	class="picture"
	bind:this={frame}
	role="application"
	aria-label="Mesh of {name}"
	onwheel={onWheel}
	onpointermove={onPointerMove}
	ondblclick={fit}
>
	<canvas bind:this={meshCanvas}></canvas>
	<canvas bind:this={lineCanvas}></canvas>
	<p>wheel zooms, drag moves, double click fits</p>
</div>

<style>
	.picture {
		position: relative;
		overflow: hidden;
		border: 1px solid var(--edge);
		background: var(--sheet);
		touch-action: none;
	}
	canvas {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
	}
	.picture p {
		position: absolute;
		bottom: 4px;
		left: 8px;
		color: var(--quiet);
		font-size: 11px;
		pointer-events: none;
	}
</style>
