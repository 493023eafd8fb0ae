<script lang="ts">
	import { thingKey } from '../desk/desk.svelte.ts';
	import type { DrawingScene } from './drawing-scene.svelte.ts';
	import { flagsOf } from './gestures/corner-owner.ts';
	import type { Gesture } from './gestures/gesture.ts';
	import type { Hold } from './gestures/hold.svelte.ts';
	import { paintInk } from './ink.ts';
	import { inkParts, type InkScene } from './ink-scene.ts';
	import type { Palette } from './palette.ts';
	import type { SizeContours } from './size-contours.ts';
	import { lengthsAt } from './measured.ts';
	import { cleared } from './strokes.ts';
	import { Unchanged } from './unchanged.ts';

	/** The curves, points and marks of the drawing, painted only where something of them changed. */
	interface Props {
		scene: DrawingScene;
		gestures: readonly Gesture[];
		hold: Hold;
		palette: Palette | undefined;
		contours: SizeContours | undefined;
		/** The place that is marked. */
		mark: { x: number; y: number } | undefined;
		/** The room that the tools take, where no names are written. */
		strip: { width: number; height: number };
		canvas: HTMLCanvasElement | undefined;
	}
	let { scene, gestures, hold, palette, contours, mark, strip, canvas = $bindable() }: Props = $props();

	const { desk, drafting, lines } = $derived(scene);
	const painted = new Unchanged();
	const noContours: InkScene['contours'] = [];
	const noFlags: InkScene['flags'] = [];
	/** The lengths of what hangs on the point that is being dragged. */
	const dimensions = $derived(
		scene.moving && desk.result ? lengthsAt(desk.result.arrangement, scene.moving, 1 / scene.view.scale) : []
	);

	$effect(() => {
		const { view } = scene;
		if (!palette || view.width === 0 || !canvas) return;
		if (desk.result) lines.use(desk.result.arrangement, view.scale);
		const ink: InkScene = {
			view,
			palette,
			result: desk.result,
			lines,
			names: desk.names,
			station: desk.station,
			isSelected: (kind, name) => desk.selection.has(thingKey(kind, name)),
			hover: desk.hover,
			unlabelled: new Set(desk.unlabelled),
			preview: drafting.preview.curves,
			placed: drafting.marks,
			dimensions,
			snap: ['place', 'either', 'corner'].includes(drafting.wants) ? drafting.cursor : undefined,
			box: hold.box,
			lasso: hold.lasso,
			irregular: desk.marksIrregular ? desk.irregular : undefined,
			mark,
			handles: gestures.flatMap((gesture) => gesture.handles?.(view) ?? []),
			corners: gestures.map((gesture) => gesture.corners?.(view)).find(Boolean),
			flags:
				desk.station === 'label' && desk.result
					? flagsOf(desk.result, view).map(({ px, py, colour }) => ({ px, py, colour }))
					: noFlags,
			layerColours: desk.isCurrent ? desk.layerColours : undefined,
			contours: contours?.lines ?? noContours,
			strip
		};
		// A result that changes nothing of what is seen, like a label of an edge, leaves the picture as it is.
		if (painted.isSame([...inkParts(ink, [...desk.selection]), devicePixelRatio])) return;
		paintInk(cleared(canvas, view), ink);
	});
</script>

<canvas bind:this={canvas} aria-hidden="true"></canvas>
