<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import { useDesk } from '../desk/desk.svelte.ts';
	import CoordinateCard from './CoordinateCard.svelte';
	import { Drafting } from './drafting.svelte.ts';
	import { contoursOf } from './size-contours.ts';
	import { DrawingScene } from './drawing-scene.svelte.ts';
	import type { PointerPlace } from './pointer-place.ts';
	import { Hold } from './gestures/hold.svelte.ts';
	import { gestures } from './gestures/table.ts';
	import { readPalette, type Palette } from './palette.ts';
	import FaceCard from './FaceCard.svelte';
	import FileDrop from './FileDrop.svelte';
	import DimensionCard from './DimensionCard.svelte';
	import MeasuredPanel from './MeasuredPanel.svelte';
	import DrawingNotes from './DrawingNotes.svelte';
	import DrawingStatus from './DrawingStatus.svelte';
	import GridLayer from './GridLayer.svelte';
	import InkLayer from './InkLayer.svelte';
	import MeshLayer from './MeshLayer.svelte';
	import { Sight } from './sight.svelte.ts';
	import ToolStrip from './ToolStrip.svelte';
	import WallLoupe from './WallLoupe.svelte';
	import { stackUnder } from './wall-stacks.ts';
	import { ruler, screenX, screenY, worldX, worldY, zoomed } from './view.ts';

	let { mode }: { mode: string } = $props();

	const desk = useDesk();
	const drafting = new Drafting(desk);
	const scene = new DrawingScene(desk, drafting);
	const held = gestures.map((make) => make(scene));
	const hold = new Hold(held);
	let frame: HTMLDivElement;
	let inkCanvas = $state.raw<HTMLCanvasElement | undefined>();
	let palette = $state.raw<Palette | undefined>();
	const view = $derived(scene.view);
	let pointer = $state.raw<{ px: number; py: number } | undefined>();
	let card = $state<{ first: string; proposed: boolean } | undefined>();
	let files: ReturnType<typeof FileDrop>;
	let isOver = $state(false);
	/** The room that the tools take, where no names are written. */
	let strip = $state.raw({ width: 0, height: 0 });
	/** In Shape the tools take two rows. */
	const sight = new Sight(scene, () => (desk.station === 'shape' ? Math.max(50, strip.height - 20) : 0));
	export const { fit } = sight;
	export const back = () => sight.back();

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

	/** Backs out of what is under way; returns whether there was anything. */
	export function escape(): boolean {
		if (hold.cancel()) return true;
		if (scene.face) {
			scene.face = undefined;
			return true;
		}
		if (files.close()) return true;
		if (card !== undefined) {
			card = undefined;
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
		const resize = new ResizeObserver(() => sight.resize(frame.clientWidth, frame.clientHeight));
		resize.observe(frame);
		return () => resize.disconnect();
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

	// The first result sets the view; later, what was just made is brought into sight where most of it is not.
	$effect(() => sight.fitOnce());
	$effect(() => desk.offers.add('fit', fit));
	$effect(() => {
		const curves = desk.result?.model.curves;
		if (curves) untrack(() => sight.follow(curves, hold.active));
	});
	$effect(() => {
		const at = desk.showAt;
		if (at) untrack(() => sight.show(at));
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
		if (!inkCanvas || event.target !== inkCanvas) return;
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
		sight.mark = undefined;
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
	export const offer = (name: string, bytes: Uint8Array): Promise<void> => files.offer(name, bytes);

	async function onDrop(event: DragEvent): Promise<void> {
		event.preventDefault();
		isOver = false;
		await files.take(event.dataTransfer?.files[0]);
	}
</script>

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
	<GridLayer {view} {palette} />
	<MeshLayer {view} {palette} {contours} />
	<!-- What a plot is looked at is marked; under the pointer that would only be in the way. -->
	<InkLayer
		{scene}
		gestures={held}
		{hold}
		{palette}
		{contours}
		mark={sight.mark ?? (pointer ? undefined : desk.lookAt)}
		{strip}
		bind:canvas={inkCanvas}
	/>

	<ToolStrip
		prompt={drafting.prompt}
		problem={drafting.ask?.kind === 'number' ? drafting.preview.problem : undefined}
		onsize={(width, height) => (strip = { width, height })}
		onfit={fit}
		onfile={(file) => files.take(file)}
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
		<!-- Every question has a card of its own. -->
		{#key drafting.answers.length}
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
		{/key}
	{/if}
	<FileDrop
		bind:this={files}
		onclose={async (added) => {
			if (added) sight.fitNext();
			// The focus stays where it is if the user has moved it meanwhile.
			await tick();
			if (document.activeElement === document.body) frame.focus();
		}}
	/>

	<DrawingStatus {view} {drafting} {pointer} />
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
	.frame > :global(canvas) {
		position: absolute;
		inset: 0;
		width: 100%;
		height: 100%;
	}
	.frame.over {
		box-shadow: inset 0 0 0 3px var(--kingfisher);
	}
</style>
