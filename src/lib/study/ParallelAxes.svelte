<script lang="ts">
	import { extent } from 'd3-array';
	import { brushY } from 'd3-brush';
	import { scaleLinear } from 'd3-scale';
	import { select } from 'd3-selection';
	import { short } from '../ledger/rows.ts';

	interface Props {
		/** The values of every case, an axis after the other; NaN where there is none. */
		cases: readonly { number: number; values: readonly number[] }[];
		titles: readonly string[];
		/** The number of the case that is looked at; 0 for none. */
		chosen: number;
		/** For every axis the range that is kept; undefined where all are. */
		limits: readonly ([number, number] | undefined)[];
		onlimit: (axis: number, limit: [number, number] | undefined) => void;
	}

	/** Parallel axes: a line to a case; a drag along an axis keeps the cases within. */
	const { cases, titles, chosen, limits, onlimit }: Props = $props();

	let width = $state(340);
	const height = 262;
	const [top, bottom] = [52, 18];
	const scales = $derived(
		titles.map((_, k) => {
			const [low = 0, high = 1] = extent(cases, ({ values }) => (Number.isFinite(values[k]) ? values[k] : undefined)) as [
				number?,
				number?
			];
			return scaleLinear(low === high ? [low - 1, high + 1] : [low, high], [height - bottom, top]);
		})
	);
	const at = (k: number) => 26 + (k * (width - 52)) / Math.max(1, titles.length - 1);
	const isKept = (values: readonly number[]) =>
		limits.every((limit, k) => !limit || (values[k]! >= limit[0] && values[k]! <= limit[1]));
	const line = (values: readonly number[]): string => {
		let path = '';
		let isDown = false;
		values.forEach((value, k) => {
			if (!Number.isFinite(value)) isDown = false;
			else {
				path += `${isDown ? 'L' : 'M'}${at(k).toFixed(1)} ${scales[k]!(value).toFixed(1)}`;
				isDown = true;
			}
		});
		return path;
	};
	const chosenCase = $derived(cases.find((c) => c.number === chosen));
	const kept = $derived(cases.filter((c) => isKept(c.values)));
	const others = $derived(cases.filter((c) => !isKept(c.values)));
	/** All lines of a kind are one path: ten thousand cases are no more to draw than one. */
	const path = (list: typeof cases) => list.map(({ values }) => line(values)).join('');

	/** A brush along an axis. */
	function brushed(node: SVGGElement, axis: number) {
		const brush = brushY<unknown>()
			.extent([
				[-9, top],
				[9, height - bottom]
			])
			.on('brush end', (event: { selection: [number, number] | null; sourceEvent: unknown }) => {
				if (!event.sourceEvent) return;
				const { selection } = event;
				const scale = scales[axis]!;
				// Who drags to an end means all that lies there.
				const value = (y: number, end: number) => (Math.abs(y - scale(end)) < 4 ? end : scale.invert(y));
				const [least, most] = scale.domain() as [number, number];
				onlimit(axis, selection ? [value(selection[1], least), value(selection[0], most)] : undefined);
			});
		const group = select<SVGGElement, unknown>(node);
		group.call(brush);
		// A limit that is taken away elsewhere leaves no brush behind.
		$effect(() => {
			if (!limits[axis]) brush.clear(group);
		});
	}
</script>

<div bind:clientWidth={width}>
	<svg {width} {height} role="img" aria-label="Cases on parallel axes: {kept.length} of {cases.length} kept">
		<path class="other" d={path(others)} />
		<path class="kept" d={path(kept)} />
		{#if chosenCase}<path class="chosen" d={line(chosenCase.values)} />{/if}
		{#each titles as title, k (title)}
			<g transform="translate({at(k)} 0)">
				<line y1={top} y2={height - bottom} />
				<text
					y={11 + 13 * (k % 3)}
					text-anchor={k === 0 ? 'start' : k === titles.length - 1 ? 'end' : 'middle'}
					x={k === 0 ? -24 : k === titles.length - 1 ? 24 : 0}>{title}</text
				>
				<text class="end" y={height - 5} text-anchor="middle">{short(scales[k]!.domain()[0]!)}</text>
				<text class="end" y={top - 3} text-anchor="middle">{short(scales[k]!.domain()[1]!)}</text>
				<g class="brush" data-axis={title} {@attach (node: SVGGElement) => brushed(node, k)} />
			</g>
		{/each}
	</svg>
</div>
<p class="quiet">
	{kept.length.toLocaleString('en')} of {cases.length.toLocaleString('en')} cases. Drag along an axis to keep those within; a click
	on it takes that back.
</p>

<style>
	path {
		fill: none;
		stroke-width: 1;
	}
	.other {
		stroke: var(--edge);
	}
	.kept {
		stroke: var(--kingfisher);
		stroke-opacity: 0.55;
	}
	.chosen {
		stroke: var(--marigold);
		stroke-width: 2.5;
	}
	line {
		stroke: var(--ink);
	}
	text {
		fill: var(--ink);
		font-size: 10px;
	}
	.end {
		fill: var(--quiet);
		font-size: 9.5px;
		paint-order: stroke;
		stroke: var(--paper);
		stroke-width: 3px;
	}
	.brush :global(.selection) {
		fill: var(--marigold);
		fill-opacity: 0.35;
		stroke: var(--marigold);
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
