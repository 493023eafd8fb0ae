<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { onMount, untrack } from 'svelte';
	import { groupColours } from '../../core/recipe/language/boundary-kinds.ts';
	import { elementCentre, elementReach, measures } from '../../core/quality/quality.ts';
	import { compared, figuresOf } from '../../formats/mesh-figures.ts';
	import type { OpenedMesh } from '../desk/mesh.worker.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import type { MeshView } from '../drawing/mesh-view.ts';
	import { readPalette } from '../drawing/palette.ts';
	import { closeUp, screenX, screenY, zoomed, type View } from '../drawing/view.ts';
	import Histogram from '../gauge/Histogram.svelte';
	import { short } from '../ledger/rows.ts';

	/** A mesh file beside the project: its mesh, groups and quality, and how its counts stand to the recipe's. */
	const { name, looked, ontake, onclose }: { name: string; looked: OpenedMesh; ontake?: () => void; onclose: () => void } =
		$props();
	const desk = useDesk();
	const file = untrack(() => looked.file);
	const colours = Object.values(groupColours);
	const box = untrack(() => {
		const span = (values: Float64Array) =>
			values.reduce(([a, b], v) => [Math.min(a, v), Math.max(b, v)] as [number, number], [Infinity, -Infinity] as [
				number,
				number
			]);
		return { x: span(file.x), y: span(file.y) };
	});
	let measureKey = $state(measures[0]!.key);
	let brush = $state<[number, number] | undefined>();
	let group = $state('');
	let view = $state.raw<View>({ x: 0, y: 0, scale: 1, width: 0, height: 0 });
	let frame = $state<HTMLElement>();
	let meshCanvas = $state<HTMLCanvasElement>();
	let lineCanvas = $state<HTMLCanvasElement>();
	let meshView = $state.raw<MeshView>();
	const measure = $derived(measures.find((m) => m.key === measureKey)!);
	const taken = $derived(looked.quality[measureKey]!);
	const rows = $derived(desk.result ? compared(figuresOf(file), figuresOf(desk.result)) : []);
	const differing = $derived(rows.filter((row) => row.file !== row.recipe).length);

	function fit(): void {
		const margin = 24;
		const [width, height] = [box.x[1] - box.x[0] || 1, box.y[1] - box.y[0] || 1];
		view = {
			...view,
			x: (box.x[0] + box.x[1]) / 2,
			y: (box.y[0] + box.y[1]) / 2,
			scale: Math.min((view.width - 2 * margin) / width, (view.height - 2 * margin) / height)
		};
	}

	onMount(() => {
		let isClosed = false;
		let made: MeshView | undefined;
		void import('../drawing/mesh-view.ts').then(({ MeshView }) => {
			if (!isClosed && meshCanvas) meshView = made = new MeshView(meshCanvas);
		});
		return () => {
			isClosed = true;
			made?.close();
		};
	});

	$effect(() => {
		if (!frame) return;
		const resize = new ResizeObserver(() => {
			const { clientWidth: width, clientHeight: height } = frame!;
			const isFirst = view.width === 0;
			view = { ...view, width, height };
			if (isFirst && width > 0) fit();
			lineCanvas!.width = width * devicePixelRatio;
			lineCanvas!.height = height * devicePixelRatio;
		});
		resize.observe(frame);
		return () => resize.disconnect();
	});

	$effect(() => {
		if (!meshView || view.width === 0) return;
		const shown = { mesh: file, measure: { taken } };
		const palette = readPalette(frame!);
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
		if (!lineCanvas || view.width === 0) return;
		const context = lineCanvas.getContext('2d')!;
		context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
		context.clearRect(0, 0, view.width, view.height);
		file.groups.forEach(({ name, sides }, g) => {
			context.strokeStyle = colours[g % colours.length]!;
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
		const bounds = frame!.getBoundingClientRect();
		view = zoomed(view, Math.exp(-event.deltaY * 0.0015), event.clientX - bounds.left, event.clientY - bounds.top);
	}

	function onPointerMove(event: PointerEvent): void {
		if (event.buttons === 0) return;
		view = { ...view, x: view.x - event.movementX / view.scale, y: view.y + event.movementY / view.scale };
	}

	/** Zooms to the worst element. */
	function showWorst(): void {
		const { worst } = taken;
		view = { ...view, ...elementCentre(file, worst), scale: closeUp(elementReach(file, worst), view) };
	}

	const count = (value: number | undefined) => value?.toLocaleString('en') ?? '–';
</script>

<Dialog open onOpenChange={(event) => !event.open && onclose()}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel mesh-file">
				<header>
					<Dialog.Title class="heading">{name}</Dialog.Title>
					<span class="number quiet"
						>x {short(box.x[0])} to {short(box.x[1])}, y {short(box.y[0])} to {short(box.y[1])}
						{file.unit ?? ''}</span
					>
				</header>
				<div class="body">
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
					<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
					<div class="side" tabindex="0" role="region" aria-label="Figures of {name}">
						{#if desk.result}<p class="verdict" class:ok={differing === 0}>
								{differing === 0
									? 'The counts are those of this recipe.'
									: `${differing} count${differing === 1 ? '' : 's'} differ${differing === 1 ? 's' : ''} from this recipe’s mesh.`}
							</p>{/if}
						<table aria-label="Counts of the file and of the recipe">
							<thead><tr><th class="text">count</th><th>file</th><th>recipe</th></tr></thead>
							<tbody>
								{#each rows as row (row.what)}
									{@const groupName = row.what.startsWith('group ') ? row.what.slice(6) : ''}
									<tr
										class:differs={row.file !== row.recipe}
										onpointerenter={() => (group = groupName)}
										onpointerleave={() => (group = '')}
									>
										<td
											>{#if groupName && file.groups.some((g) => g.name === groupName)}<i
													style:background={colours[file.groups.findIndex((g) => g.name === groupName) % colours.length]}
												></i>{/if}{row.what}</td
										><td class="number">{count(row.file)}</td><td class="number"
											>{count(row.recipe)}{row.file !== row.recipe ? ' ≠' : ''}</td
										>
									</tr>
								{/each}
							</tbody>
						</table>
						<div class="measure">
							<select class="field" aria-label="Measure of the file" bind:value={measureKey}>
								{#each measures as { key, title } (key)}<option value={key}>{title}</option>{/each}
							</select>
							<button class="action" onclick={showWorst}>worst</button>
							<span class="number">{short(taken.min)} … {short(taken.mean)} … {short(taken.max)}</span>
						</div>
						<Histogram values={taken.values} {measure} {brush} onbrush={(range) => (brush = range)} />
						{#each file.notes as note (note)}<p class="quiet">{note}.</p>{/each}
					</div>
				</div>
				<footer>
					{#if ontake}<button
							class="action"
							data-tip="Make curves of its outline beside what is drawn, so that it can be meshed anew"
							onclick={ontake}>Take its outline</button
						>{/if}
					<Dialog.CloseTrigger class="action">Close</Dialog.CloseTrigger>
				</footer>
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.mesh-file) {
		display: grid;
		grid-template-rows: auto 1fr auto;
		gap: 8px;
		width: min(1100px, 94vw);
		height: min(700px, calc(100vh - 130px));
		padding: 14px;
	}
	header {
		display: flex;
		align-items: baseline;
		gap: 14px;
	}
	header :global(.heading) {
		font-size: 15px;
	}
	.body {
		display: grid;
		grid-template-columns: 1fr 330px;
		gap: 12px;
		min-height: 0;
	}
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
	.side {
		overflow-y: auto;
		min-height: 0;
	}
	table {
		width: 100%;
	}
	th {
		color: var(--quiet);
		font-weight: 400;
		text-align: right;
	}
	th.text {
		text-align: left;
	}
	td.number {
		text-align: right;
	}
	td i {
		display: inline-block;
		width: 9px;
		height: 9px;
		margin-right: 6px;
		border-radius: 2px;
	}
	.differs td {
		color: var(--brick);
	}
	.verdict {
		margin-bottom: 6px;
		color: var(--brick);
		font-weight: 600;
	}
	.verdict.ok {
		color: var(--kingfisher);
	}
	.measure {
		display: flex;
		align-items: center;
		gap: 6px;
		margin: 12px 0 6px;
	}
	.measure .number {
		font-size: 11px;
		white-space: nowrap;
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
	footer {
		display: flex;
		justify-content: flex-end;
		gap: 8px;
	}
</style>
