<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { measures } from '../../core/quality/quality.ts';
	import { extent } from '../../core/geometry/arrangement.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import CoordinateCard from './CoordinateCard.svelte';
	import { Drafting } from './drafting.svelte.ts';
	import FileCard from './FileCard.svelte';
	import { paintGrid, paintInk } from './ink.ts';
	import { contoursOf } from './size-contours.ts';
	import { MeshView } from './mesh-view.ts';
	import { pieceAt, pieceInBox, PieceLines, regionAt } from './outlines.ts';
	import { readPalette, type Palette } from './palette.ts';
	import DimensionCard from './DimensionCard.svelte';
	import DrawingNotes from './DrawingNotes.svelte';
	import { DivisionGrip } from './division-grip.svelte.ts';
	import { movePoint, whyLocked } from './moving.ts';
	import { snapAt } from './snap.ts';
	import type { Place } from './tools.ts';
	import { CornerGrip } from './corner-grip.svelte.ts';
	import { RowGrip } from './row-grip.svelte.ts';
	import ToolStrip from './ToolStrip.svelte';
	import { fitted, formatAt, niceStep, ruler, screenX, screenY, worldX, worldY, zoomed, type View } from './view.ts';

	let { mode }: { mode: string } = $props();

	const desk = useDesk();
	const drafting = new Drafting(desk);
	const rows = new RowGrip(desk);
	const corners = new CornerGrip(desk);
	const lines = new PieceLines();
	const divisions = new DivisionGrip(desk, lines);

	let frame: HTMLDivElement;
	let gridCanvas: HTMLCanvasElement;
	let meshCanvas: HTMLCanvasElement;
	let inkCanvas: HTMLCanvasElement;
	let meshView = $state.raw<MeshView | undefined>();
	let palette = $state.raw<Palette | undefined>();
	let view = $state.raw<View>({ x: 50, y: 30, scale: 4, width: 0, height: 0 });
	let pointer = $state.raw<{ px: number; py: number } | undefined>();
	let dragging = $state.raw<
		| { kind: 'pan' | 'box' | 'point' | 'handle' | 'row' | 'corner'; px: number; py: number; moved: boolean; view: View }
		| undefined
	>();
	let mark = $state.raw<{ x: number; y: number } | undefined>();
	let card = $state<{ first: string; proposed: boolean } | undefined>();
	/** The point that is being dragged, and the text before. */
	let moving = $state.raw<{ name: string; x: number; y: number } | undefined>();
	let dropped = $state.raw<{ name: string; bytes: Uint8Array } | undefined>();
	let isOver = $state(false);
	let hasFitted = false;

	const wide = $derived(view.width > 0);
	const cursorStep = $derived(niceStep(view.scale, 1));
	const box = $derived(
		dragging?.kind === 'box' && dragging.moved && pointer
			? { x0: dragging.px, y0: dragging.py, x1: pointer.px, y1: pointer.py }
			: undefined
	);
	const scaleBar = $derived.by(() => {
		const step = niceStep(view.scale, 60);
		return { length: step * view.scale, text: `${formatAt(step, step)} ${desk.result?.model.units ?? ''}` };
	});
	/** The lengths of what hangs on the point that is being dragged. */
	const dimensions = $derived.by(() => {
		const { result } = desk;
		if (!moving || !result) return [];
		const { x, y } = moving;
		return result.arrangement.pieces.flatMap((piece) => {
			const ends = [piece.start, piece.end].map((j) => ({ x: result.arrangement.x[j]!, y: result.arrangement.y[j]! }));
			if (!ends.some((p) => Math.hypot(p.x - x, p.y - y) * view.scale < 1)) return [];
			const [a, b] = ends as [Place, Place];
			return [{ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, text: String(Number(piece.length.toPrecision(6))) }];
		});
	});
	/** The sizes of the elements, where they are to be seen. */
	const contours = $derived(desk.showSizes && desk.station === 'fill' && desk.result ? contoursOf(desk.result) : undefined);
	const measured = $derived(drafting.measured);
	const brief = (value: number) => Number(value.toPrecision(7));

	// Another tool starts anew; a number that is asked for opens the card at once.
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
	const toolsHeight = () => (desk.station === 'shape' ? 50 : 0);

	export function fit(): void {
		view = fitted(view, desk.result && extent(desk.result.model.curves), toolsHeight());
	}

	/** Backs out of what is under way; answers whether there was anything. */
	export function escape(): boolean {
		if (divisions.cancel() || corners.cancel()) {
			dragging = undefined;
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

	/** Enter: goes on with the present tool; answers whether it did. */
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
		meshView = new MeshView(meshCanvas);
		const resize = new ResizeObserver(() => {
			const { clientWidth: width, clientHeight: height } = frame;
			view = hasFitted
				? { ...view, width, height }
				: fitted({ ...view, width, height }, desk.result && extent(desk.result.model.curves), toolsHeight());
			for (const canvas of [gridCanvas, inkCanvas]) {
				canvas.width = width * devicePixelRatio;
				canvas.height = height * devicePixelRatio;
			}
		});
		resize.observe(frame);
		return () => {
			resize.disconnect();
			meshView?.close();
		};
	});

	$effect(() => {
		void mode;
		palette = readPalette(frame);
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
				colourByQuality: desk.colourByQuality || contours !== undefined,
				brush: contours ? undefined : desk.brush
			},
			devicePixelRatio
		);
	});

	$effect(() => {
		if (!palette || !wide) return;
		const context = inkCanvas.getContext('2d')!;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		if (desk.result) lines.use(desk.result.arrangement, view.scale);
		paintInk(context, {
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
			box,
			mark,
			handles: [...divisions.handles(view), ...rows.marks(view)],
			corners: corners.marks(view),
			contours: contours?.lines ?? []
		});
	});

	// "Show me": bring a place into the middle.
	$effect(() => {
		const at = desk.showAt;
		if (!at) return;
		untrack(() => {
			const nearest = at.element === undefined ? view.scale : Math.max(view.scale, 14);
			view = { ...view, x: at.x, y: at.y, scale: nearest };
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
		view = zoomed(view, Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0015)), px, py);
	}

	function onPointerDown(event: PointerEvent): void {
		if (event.target !== inkCanvas) return;
		// Takes the focus, so that keys and typed digits come here.
		frame.focus({ preventScroll: true });
		const place = at(event);
		if (event.button === 1 || (event.button === 0 && event.altKey)) {
			event.preventDefault();
			dragging = { kind: 'pan', ...place, moved: false, view };
		} else if (event.button === 0) {
			const gripped = divisions.take(view, place.px, place.py);
			const held = desk.tool === 'select' && desk.station === 'shape' ? pointUnder(place.px, place.py) : undefined;
			const onRow = !gripped && !held && !event.shiftKey && rows.take(view, place.px, place.py);
			const onCorner = !gripped && !onRow && !event.shiftKey && corners.take(view, place.px, place.py);
			const kind = gripped ? 'handle' : onRow ? 'row' : onCorner ? 'corner' : held && !event.shiftKey ? 'point' : 'box';
			dragging = { kind, ...place, moved: false, view };
			if (held) moving = { name: held.name, x: held.x, y: held.y };
		}
		if (dragging) inkCanvas.setPointerCapture(event.pointerId);
	}

	function onPointerMove(event: PointerEvent): void {
		pointer = at(event);
		const { px, py } = pointer;
		if (dragging) {
			const moved = dragging.moved || Math.hypot(px - dragging.px, py - dragging.py) > 4;
			if (moved !== dragging.moved) dragging = { ...dragging, moved };
			if (dragging.kind === 'pan') {
				const { view: start } = dragging;
				view = { ...view, x: start.x - (px - dragging.px) / view.scale, y: start.y + (py - dragging.py) / view.scale };
				return;
			}
			if (dragging.kind === 'handle') return divisions.move(view, px, py);
			if (dragging.kind === 'corner') return void (moved && corners.move(view, px, py));
			if (dragging.kind === 'row') {
				if (moved) rows.move(snapAt(view, px, py, undefined, { snapping: !event.ctrlKey }));
				return;
			}
			if (dragging.kind === 'point' && dragging.moved) return dragPoint(px, py, !event.ctrlKey);
		}
		if (desk.tool !== 'select') aim(px, py, !event.ctrlKey);
		else if (!dragging) desk.hover = thingAt(px, py) ?? '';
	}

	/** Sets what the tool's next answer would be: the place under the pointer, and the curve. */
	function aim(px: number, py: number, snapping: boolean): void {
		const piece = pieceUnder(px, py);
		const curve = piece < 0 ? undefined : desk.result!.arrangement.pieces[piece]!.owner;
		drafting.under = curve === undefined ? undefined : desk.result!.model.curves[curve]!.name;
		drafting.cursor = snapAt(view, px, py, desk.result, { snapping, from: drafting.from, curve });
		const picks = ['curve', 'curves', 'either'].includes(drafting.wants);
		desk.hover = picks && piece >= 0 ? thingKey('piece', desk.names[piece]!) : '';
	}

	/** Moves the point that is held to where the pointer is; the mesh follows. */
	function dragPoint(px: number, py: number, snapping: boolean): void {
		const { result } = desk;
		if (!moving || !result) return;
		const locked = whyLocked(desk.recipe, moving.name);
		if (locked) {
			desk.notice = locked;
			return;
		}
		// The point must not snap to itself.
		const others = {
			...result,
			model: { ...result.model, points: result.model.points.filter((p) => p.name !== moving!.name), curves: [] }
		};
		const bare = { ...others, arrangement: { ...result.arrangement, x: new Float64Array(0), y: new Float64Array(0) } };
		const to = snapAt(view, px, py, bare, { snapping });
		moving = { ...moving, x: to.x, y: to.y };
		desk.typeText(movePoint(desk.recipe, moving.name, to.x, to.y), true);
	}

	function onPointerUp(event: PointerEvent): void {
		const drag = dragging;
		dragging = undefined;
		if (!drag || drag.kind === 'pan') return;
		const { px, py } = at(event);
		mark = undefined;
		const dropped = moving;
		moving = undefined;
		if (drag.kind === 'row' && drag.moved) return void rows.drop();
		rows.held = undefined;
		if (drag.kind === 'corner') return corners.drop(drag.moved);
		if (drag.kind === 'handle') return divisions.drop();
		if (drag.kind === 'point' && drag.moved && dropped) {
			desk.finishTyping(`Move ${dropped.name}`);
			return;
		}
		if (desk.tool !== 'select') {
			aim(px, py, !event.ctrlKey);
			desk.notice = '';
			if (drafting.wants === 'curves') {
				const thing = thingAt(px, py);
				if (thing) desk.select([thing], true);
			} else if (drafting.cursor) drafting.click(drafting.cursor, drafting.under);
			return;
		}
		const add = event.shiftKey || event.ctrlKey || event.metaKey;
		if (drag.moved) desk.select(thingsInBox(drag.px, drag.py, px, py), add);
		else {
			const thing = thingAt(px, py);
			if (thing) desk.select([thing], add);
			else if (!add) desk.selection.clear();
		}
	}

	const pointUnder = (px: number, py: number) =>
		desk.result?.model.points.find((p) => Math.hypot(screenX(view, p.x) - px, screenY(view, p.y) - py) < 8);

	/** The piece under a pixel, or −1. */
	function pieceUnder(px: number, py: number): number {
		const { result } = desk;
		if (!result) return -1;
		lines.use(result.arrangement, view.scale);
		return pieceAt(result, lines, worldX(view, px), worldY(view, py), 7 / view.scale);
	}

	/** What lies under a pixel: a point in Shape, a piece, a region in Fill. */
	function thingAt(px: number, py: number): string | undefined {
		const { result } = desk;
		if (!result) return undefined;
		const [x, y] = [worldX(view, px), worldY(view, py)];
		if (desk.station === 'shape') {
			const point = desk.tool === 'select' ? pointUnder(px, py) : undefined;
			if (point) return thingKey('point', point.name);
		}
		const piece = pieceUnder(px, py);
		if (piece >= 0) return thingKey('piece', desk.names[piece]!);
		if (desk.station !== 'fill') return undefined;
		const region = regionAt(result, x, y);
		return region >= 0 ? thingKey('region', result.regions[region]!.name) : undefined;
	}

	function thingsInBox(x0: number, y0: number, x1: number, y1: number): string[] {
		const { result } = desk;
		if (!result) return [];
		const [minX, maxX] = [worldX(view, Math.min(x0, x1)), worldX(view, Math.max(x0, x1))];
		const [minY, maxY] = [worldY(view, Math.max(y0, y1)), worldY(view, Math.min(y0, y1))];
		lines.use(result.arrangement, view.scale);
		const pieces = desk.names
			.filter((_, p) => pieceInBox(lines.of(p), minX, minY, maxX, maxY))
			.map((name) => thingKey('piece', name));
		if (desk.station !== 'shape') return pieces;
		const points = result.model.points.filter((p) => p.x >= minX && p.x <= maxX && p.y >= minY && p.y <= maxY);
		return [...pieces, ...points.map((p) => thingKey('point', p.name))];
	}

	/** Shows a file before it is imported. */
	async function take(file: File | undefined): Promise<void> {
		if (file) dropped = { name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) };
	}

	/** Rows of numbers that were copied elsewhere, from a spreadsheet say, come in as a file. */
	function onPaste(event: ClipboardEvent): void {
		if ((event.target as HTMLElement).closest('input, textarea, [contenteditable=true]')) return;
		const text = event.clipboardData?.getData('text/plain') ?? '';
		if (!/\d/.test(text)) return;
		event.preventDefault();
		let number = 1;
		while (`pasted-${number}.csv` in desk.files) number++;
		dropped = { name: `pasted-${number}.csv`, bytes: new TextEncoder().encode(text) };
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
	data-current={desk.isCurrent}
	data-contours={contours?.lines.length ?? 0}
	style:cursor={desk.tool === 'select' ? (desk.hover ? 'pointer' : 'default') : 'crosshair'}
	onwheel={onWheel}
	onpointerdown={onPointerDown}
	onpointermove={onPointerMove}
	onpointerup={onPointerUp}
	onpointerleave={() => {
		pointer = undefined;
		if (desk.tool === 'select') desk.hover = '';
	}}
	ondragover={(event) => {
		event.preventDefault();
		isOver = true;
	}}
	ondragleave={() => (isOver = false)}
	ondrop={onDrop}
>
	<canvas bind:this={gridCanvas} aria-hidden="true"></canvas>
	<canvas bind:this={meshCanvas} aria-hidden="true" data-layer="mesh"></canvas>
	<canvas bind:this={inkCanvas} aria-hidden="true"></canvas>

	<ToolStrip prompt={drafting.prompt} problem={drafting.preview.problem} onfit={fit} onfile={take} />

	{#if desk.station === 'shape' && desk.tool === 'select' && !moving}<DimensionCard {view} />{/if}

	{#if measured}
		<div class="measured panel number" role="status" aria-label="Measured">
			<span>distance {brief(measured.distance)}</span><span>angle {brief(measured.angle)}°</span>
			{#if measured.corner !== undefined}<span>corner {brief(measured.corner)}°</span><span>way {brief(measured.way)}</span><span
					>area {brief(measured.area ?? 0)}</span
				>{/if}
		</div>
	{/if}

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
		<FileCard
			name={dropped.name}
			bytes={dropped.bytes}
			onclose={(added) => {
				dropped = undefined;
				frame.focus();
				if (added) hasFitted = false;
			}}
		/>
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
	.measured {
		position: absolute;
		right: 12px;
		bottom: 40px;
		display: grid;
		gap: 2px;
		padding: 6px 10px;
		font-size: 12px;
	}
</style>
