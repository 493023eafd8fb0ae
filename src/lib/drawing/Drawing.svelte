<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import { measures } from '../../core/quality/quality.ts';
	import { extent } from '../../core/geometry/curve.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import CoordinateCard from './CoordinateCard.svelte';
	import { Drafting } from './drafting.svelte.ts';
	import { paintGrid, paintInk } from './ink.ts';
	import { inkParts, type InkScene } from './ink-scene.ts';
	import { Unchanged } from './unchanged.ts';
	import { contoursOf } from './size-contours.ts';
	import type { CoordinateFile } from '../../core/recipe/model/model.ts';
	import type { MeshView } from './mesh-view.ts';
	import { DrawingScene } from './drawing-scene.svelte.ts';
	import type { PointerPlace } from './pointer-place.ts';
	import { Hold } from './gestures/hold.svelte.ts';
	import { flagsOf } from './gestures/corner-owner.ts';
	import { gestures } from './gestures/table.ts';
	import { readPalette, type Palette } from './palette.ts';
	import FaceCard from './FaceCard.svelte';
	import DimensionCard from './DimensionCard.svelte';
	import MeasuredPanel from './MeasuredPanel.svelte';
	import DrawingNotes from './DrawingNotes.svelte';
	import type { Place } from './tools/tool.ts';
	import ToolStrip from './ToolStrip.svelte';
	import WallLoupe from './WallLoupe.svelte';
	import { stackUnder } from './wall-stacks.ts';
	import {
		closeUp,
		fitted,
		formatAt,
		isInSight,
		niceStep,
		ruler,
		screenX,
		screenY,
		worldX,
		worldY,
		zoomed,
		type View
	} from './view.ts';

	let { mode }: { mode: string } = $props();

	const desk = useDesk();
	const drafting = new Drafting(desk);
	const scene = new DrawingScene(desk, drafting);
	const { lines } = scene;
	const held = gestures.map((make) => make(scene));
	const hold = new Hold(held);
	const painted = new Unchanged();
	const noContours: InkScene['contours'] = [];
	const noFlags: InkScene['flags'] = [];

	let frame: HTMLDivElement;
	let gridCanvas: HTMLCanvasElement;
	let meshCanvas: HTMLCanvasElement;
	let inkCanvas: HTMLCanvasElement;
	let meshView = $state.raw<MeshView | undefined>();
	let palette = $state.raw<Palette | undefined>();
	const view = $derived(scene.view);
	let pointer = $state.raw<{ px: number; py: number } | undefined>();
	let mark = $state.raw<{ x: number; y: number } | undefined>();
	let card = $state<{ first: string; proposed: boolean } | undefined>();
	let dropped = $state.raw<{ name: string; bytes: Uint8Array; read: CoordinateFile } | undefined>();
	let isOver = $state(false);
	/** The room that the tools take, where no names are written. */
	let strip = $state.raw({ width: 0, height: 0 });
	let hasFitted = false;

	const wide = $derived(view.width > 0);
	const cursorStep = $derived(niceStep(view.scale, 1));
	const scaleBar = $derived.by(() => {
		const step = niceStep(view.scale, 60);
		return { length: step * view.scale, text: `${formatAt(step, step)} ${desk.result?.model.units ?? ''}` };
	});
	/** The lengths of what hangs on the point that is being dragged. */
	const dimensions = $derived.by(() => {
		const { result } = desk;
		if (!scene.moving || !result) return [];
		const { x, y } = scene.moving;
		return result.arrangement.pieces.flatMap((piece) => {
			const ends = [piece.start, piece.end].map((j) => ({ x: result.arrangement.x[j]!, y: result.arrangement.y[j]! }));
			if (!ends.some((p) => Math.hypot(p.x - x, p.y - y) * view.scale < 1)) return [];
			const [a, b] = ends as [Place, Place];
			return [{ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, text: String(Number(piece.length.toPrecision(6))) }];
		});
	});
	/** The stack of layers under the pointer in Fill, or where a plot is looked at. */
	const stack = $derived.by(() => {
		const { result, lookAt } = desk;
		if (desk.station !== 'fill' || desk.tool !== 'select' || hold.active || !result || !lookAt) return undefined;
		return stackUnder(result, lookAt, 8 / view.scale);
	});
	/** The sizes of the elements, where they are to be seen. */
	const contours = $derived(desk.showSizes && desk.station === 'fill' && desk.result ? contoursOf(desk.result) : undefined);

	// Another tool starts anew; a number that is requested opens the card at once.
	$effect(() => {
		void desk.tool;
		untrack(() => {
			card = undefined;
			drafting.begin();
		});
	});
	$effect(() => {
		const { ask } = drafting;
		if (ask?.kind === 'number') untrack(() => (card = { first: ask.initial ?? '', proposed: true }));
	});

	/** The tools float over the drawing; in Shape they take two rows. */
	const toolsHeight = () => (desk.station === 'shape' ? Math.max(50, strip.height - 20) : 0);

	export function fit(): void {
		scene.view = fitted(view, desk.result && extent(desk.result.model.curves), toolsHeight());
		asFitted = scene.view;
	}

	/** The view as it was fitted last; another one was chosen by hand. */
	let asFitted: View | undefined;
	let known = new Set<string>();

	// What was just made is brought into sight where none of it is.
	$effect(() => {
		const curves = desk.result?.model.curves;
		if (!curves) return;
		untrack(() => {
			const fresh = curves.filter(({ name }) => !known.has(name));
			known = new Set(curves.map(({ name }) => name));
			if (hasFitted && !hold.active && fresh.length > 0 && !isInSight(fresh, view)) fit();
		});
	});

	/** The view before something was shown. */
	let before: View | undefined;

	/** Goes back to the view before the last "Show me", and there again. */
	export function back(): void {
		if (!before) return;
		[before, scene.view] = [scene.view, { ...before, width: view.width, height: view.height }];
	}

	/** Backs out of what is under way; returns whether there was anything. */
	export function escape(): boolean {
		if (hold.cancel()) return true;
		if (scene.face) {
			scene.face = undefined;
			return true;
		}
		if (card !== undefined || dropped) {
			card = undefined;
			dropped = undefined;
			return true;
		}
		if (drafting.cancel()) return true;
		if (desk.tool !== 'select') {
			desk.tool = 'select';
			return true;
		}
		if (desk.selection.size > 0) {
			desk.selection.clear();
			return true;
		}
		return false;
	}

	/** Enter: goes on with the present tool; returns whether it did. */
	export function enter(): boolean {
		return drafting.enter();
	}

	/** Opens the coordinate card with a first character. */
	export function startTyping(character: string): boolean {
		if (desk.tool === 'select' || card !== undefined || !drafting.canType) return false;
		card = { first: character, proposed: false };
		return true;
	}

	onMount(() => {
		const resize = new ResizeObserver(() => {
			const { clientWidth: width, clientHeight: height } = frame;
			const before = scene.view;
			scene.view = { ...before, width, height };
			if (!hasFitted || before === asFitted) fit();
			// What was in sight stays so.
			else if (before.width > 0)
				scene.view = { ...scene.view, scale: before.scale * Math.min(1, width / before.width, height / before.height) };
			for (const canvas of [gridCanvas, inkCanvas]) {
				canvas.width = width * devicePixelRatio;
				canvas.height = height * devicePixelRatio;
			}
			painted.forget();
		});
		resize.observe(frame);
		return () => {
			resize.disconnect();
			meshView?.close();
			isClosed = true;
		};
	});

	let isClosed = false;
	let isLoading = false;
	// What draws meshes is loaded with the first mesh.
	$effect(() => {
		if (desk.elements === 0 || isLoading) return;
		isLoading = true;
		void import('./mesh-view.ts').then(({ MeshView }) => {
			if (!isClosed) meshView = new MeshView(meshCanvas);
		});
	});

	$effect(() => {
		void mode;
		palette = readPalette(frame);
	});

	// What was clicked is the outline of that drawing, and of that station.
	$effect(() => {
		void [desk.result?.arrangement, desk.station, desk.tool];
		scene.face = undefined;
	});

	// The first result sets the view.
	$effect(() => {
		if (!desk.result || !wide || hasFitted) return;
		hasFitted = true;
		untrack(fit);
	});

	$effect(() => {
		if (!palette || !wide) return;
		const context = gridCanvas.getContext('2d')!;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		paintGrid(context, view, palette);
	});

	$effect(() => {
		if (!desk.result || !meshView) return;
		const measure = measures.find((m) => m.key === desk.result!.measure.key)!;
		meshView.show(desk.result);
		if (contours) meshView.sizes(desk.result, contours.sizes);
		else meshView.measure(desk.result, measure);
	});

	$effect(() => {
		if (!palette || !wide || !meshView || !desk.result) return;
		void desk.measure;
		const faint = desk.station === 'shape' ? 0.35 : desk.station === 'label' ? 0.5 : 1;
		meshView.draw(
			view,
			{
				line: palette.graphite,
				tint: palette.tints,
				lit: palette.marigold,
				strength: desk.meshing.stopped ? 0 : desk.meshing.progress !== undefined ? 0.25 : faint,
				colourByQuality: contours ? 'lightly' : desk.colourByQuality && 'fully',
				brush: contours ? undefined : desk.brush
			},
			devicePixelRatio
		);
	});

	$effect(() => {
		if (!palette || !wide) return;
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
			// What a plot is looked at; under the pointer it would only be in the way.
			mark: mark ?? (pointer ? undefined : desk.lookAt),
			handles: held.flatMap((gesture) => gesture.handles?.(view) ?? []),
			corners: held.map((gesture) => gesture.corners?.(view)).find(Boolean),
			flags:
				desk.station === 'label' && desk.result
					? flagsOf(desk.result, view).map(({ px, py, colour }) => ({ px, py, colour }))
					: noFlags,
			contours: contours?.lines ?? noContours,
			strip
		};
		// A result that changes nothing of what is seen, like a label of an edge, leaves the picture as it is.
		if (painted.isSame([...inkParts(ink, [...desk.selection]), inkCanvas.width, inkCanvas.height])) return;
		const context = inkCanvas.getContext('2d')!;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		paintInk(context, ink);
	});

	// "Show me": bring a place into the middle.
	$effect(() => {
		const at = desk.showAt;
		if (!at) return;
		untrack(() => {
			before = view;
			scene.view = { ...view, x: at.x, y: at.y, scale: at.reach ? closeUp(at.reach, view) : view.scale };
			mark = { x: at.x, y: at.y };
		});
	});

	function at(event: PointerEvent | WheelEvent): { px: number; py: number } {
		const bounds = frame.getBoundingClientRect();
		return { px: event.clientX - bounds.left, py: event.clientY - bounds.top };
	}

	function onWheel(event: WheelEvent): void {
		event.preventDefault();
		const { px, py } = at(event);
		scene.view = zoomed(view, Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)), px, py);
	}

	const placeOf = (event: PointerEvent): PointerPlace => ({
		...at(event),
		snapping: !event.ctrlKey,
		adding: event.shiftKey || event.ctrlKey || event.metaKey
	});

	function onPointerDown(event: PointerEvent): void {
		if (event.target !== inkCanvas) return;
		// Takes the focus, so that keys and typed digits come here.
		frame.focus({ preventScroll: true });
		const pans = event.button === 1 || (event.button === 0 && event.altKey);
		if (event.button !== 0 && !pans) return;
		if (pans) event.preventDefault();
		if (hold.press({ ...placeOf(event), pans, view })) inkCanvas.setPointerCapture(event.pointerId);
	}

	function onPointerMove(event: PointerEvent): void {
		const place = placeOf(event);
		pointer = place;
		if (hold.move(place)) return;
		if (desk.tool !== 'select') scene.aim(place);
		else {
			desk.hover = scene.thingAt(place.px, place.py) ?? '';
			desk.lookAt = lookedAt(place.px, place.py);
		}
	}

	/** The place on a wall with layers, or on a divided piece, that the pointer is at. */
	function lookedAt(px: number, py: number): { x: number; y: number } | undefined {
		const { result, station } = desk;
		const place = { x: worldX(view, px), y: worldY(view, py) };
		if (!result) return undefined;
		if (station === 'divide') return desk.hover.startsWith('piece ') ? place : undefined;
		const found = station === 'fill' ? stackUnder(result, place, 8 / view.scale) : undefined;
		return found && { x: found.profile.x[found.k]!, y: found.profile.y[found.k]! };
	}

	function onPointerUp(event: PointerEvent): void {
		mark = undefined;
		hold.release(placeOf(event));
	}

	/** A second click on a curve goes to its numbers, on a point or a region to its name. */
	async function onDoubleClick(event: MouseEvent): Promise<void> {
		if (event.target !== inkCanvas || desk.tool !== 'select') return;
		const bounds = frame.getBoundingClientRect();
		const thing = scene.thingAt(event.clientX - bounds.left, event.clientY - bounds.top);
		const [, kind, name] = /^(piece|point|region) (.*)$/.exec(thing ?? '') ?? [];
		if (kind === 'point' || kind === 'region') desk.renaming = { kind, name: name!, left: event.clientX, top: event.clientY };
		else if (kind === 'piece') {
			// Its numbers are typed in Divide, or where it is drawn.
			if (desk.station !== 'divide') desk.go('shape');
			await tick();
			document
				.querySelector<HTMLInputElement>(
					desk.station === 'divide'
						? `[aria-label="Divisions of ${CSS.escape(name!)}"]`
						: '[aria-label^="Dimensions of"] input:not(:disabled)'
				)
				?.focus();
		}
	}

	/** Shows what a file holds before it is imported. */
	export async function offer(name: string, bytes: Uint8Array): Promise<void> {
		const { readFileOfRecipe } = await import('../../formats/read-file.ts');
		dropped = { name, bytes, read: await readFileOfRecipe(bytes) };
	}

	/** Shows a file before it is imported. */
	async function take(file: File | undefined): Promise<void> {
		if (file) await offer(file.name, new Uint8Array(await file.arrayBuffer()));
	}

	/** Rows of numbers that were copied elsewhere, from a spreadsheet say, come in as a file. */
	function onPaste(event: ClipboardEvent): void {
		if ((event.target as HTMLElement).closest('input, textarea, [contenteditable=true]')) return;
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!/\d/.test(text)) return;
		event.preventDefault();
		let number = 1;
		while (`pasted-${number}.csv` in desk.files) number++;
		void offer(`pasted-${number}.csv`, new TextEncoder().encode(text));
	}

	async function onDrop(event: DragEvent): Promise<void> {
		event.preventDefault();
		isOver = false;
		await take(event.dataTransfer?.files[0]);
	}
</script>

<svelte:window onpaste={onPaste} />

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
	bind:this={frame}
	class="frame"
	class:over={isOver}
	role="application"
	aria-label="Drawing"
	tabindex="0"
	data-view="{view.x},{view.y},{view.scale},{view.width},{view.height}"
	data-current={desk.isCurrent && view.width > 0}
	data-contours={contours?.lines.length ?? 0}
	style:cursor={desk.tool === 'select' ? (desk.hover ? 'pointer' : 'default') : 'crosshair'}
	onwheel={onWheel}
	onpointerdown={onPointerDown}
	onpointermove={onPointerMove}
	onpointerup={onPointerUp}
	onpointercancel={() => void hold.cancel()}
	onpointerleave={() => {
		pointer = undefined;
		desk.lookAt = undefined;
		if (desk.tool === 'select') desk.hover = '';
	}}
	ondragover={(event) => {
		event.preventDefault();
		isOver = true;
	}}
	ondragleave={() => (isOver = false)}
	ondrop={onDrop}
	ondblclick={onDoubleClick}
>
	<canvas bind:this={gridCanvas} aria-hidden="true"></canvas>
	<canvas bind:this={meshCanvas} aria-hidden="true" data-layer="mesh"></canvas>
	<canvas bind:this={inkCanvas} aria-hidden="true"></canvas>

	<ToolStrip
		prompt={drafting.prompt}
		problem={drafting.ask?.kind === 'number' ? drafting.preview.problem : undefined}
		onsize={(width, height) => (strip = { width, height })}
		onfit={fit}
		onfile={take}
	/>

	{#if desk.station === 'shape' && desk.tool === 'select' && !scene.moving}<DimensionCard {view} />{/if}

	{#if scene.face}<FaceCard
			face={scene.face.face}
			left={Math.min(scene.face.px + 12, view.width - 215)}
			top={Math.min(scene.face.py + 8, view.height - 150)}
			onclose={() => (scene.face = undefined)}
		/>{/if}

	{#if stack && desk.lookAt}<WallLoupe
			{stack}
			left={Math.max(ruler.left, Math.min(screenX(view, desk.lookAt.x) + 28, view.width - 260))}
			top={Math.max(ruler.top, Math.min(screenY(view, desk.lookAt.y) - 90, view.height - 190))}
		/>{/if}

	{#if drafting.measured}<MeasuredPanel measured={drafting.measured} />{/if}

	<DrawingNotes />

	{#if card !== undefined}
		<CoordinateCard
			{drafting}
			first={card.first}
			proposed={card.proposed}
			left={drafting.cursor ? screenX(view, drafting.cursor.x) : view.width / 2}
			top={drafting.cursor ? screenY(view, drafting.cursor.y) : view.height / 2}
			frameWidth={view.width}
			frameHeight={view.height}
			onclose={(given) => {
				card = undefined;
				frame.focus();
				// Backing out of a number backs out of its question.
				if (!given && drafting.ask?.kind === 'number') drafting.cancel();
				// The next question may be another number.
				else if (given && drafting.ask?.kind === 'number') card = { first: drafting.ask.initial ?? '', proposed: true };
			}}
		/>
	{/if}
	{#if dropped}
		{#await import('./FileCard.svelte') then { default: FileCard }}
			<FileCard
				name={dropped.name}
				bytes={dropped.bytes}
				read={dropped.read}
				onclose={(added) => {
					dropped = undefined;
					frame.focus();
					if (added) hasFitted = false;
				}}
			/>
		{/await}
	{/if}

	<div class="status number" style:left="{ruler.left + 8}px">
		{#if pointer}
			<span
				>x {formatAt(drafting.cursor && desk.tool !== 'select' ? drafting.cursor.x : worldX(view, pointer.px), cursorStep)}</span
			>
			<span
				>y {formatAt(drafting.cursor && desk.tool !== 'select' ? drafting.cursor.y : worldY(view, pointer.py), cursorStep)}</span
			>
		{/if}
		{#if desk.tool !== 'select' && drafting.cursor}<span class="snap">{drafting.cursor.snap}</span>{/if}
		{#if desk.notice}<span class="notice" role="status">{desk.notice}</span>{/if}
	</div>
	<div class="scale number" aria-hidden="true">
		<span>{scaleBar.text}</span>
		<i style:width="{scaleBar.length}px"></i>
	</div>
</div>

<style>
	.frame {
		position: relative;
		overflow: hidden;
		container-type: size;
		width: 100%;
		height: 100%;
		touch-action: none;
		user-select: none;
		outline-offset: -2px;
	}
	.frame.over {
		box-shadow: inset 0 0 0 3px var(--kingfisher);
	}
	canvas {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
	}
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
	.scale i {
		display: block;
		height: 4px;
		border: 1px solid var(--quiet);
		border-top: none;
	}
</style>
