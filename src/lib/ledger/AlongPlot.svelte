<script lang="ts">
	import { extent } from 'd3-array';
	import { scaleLinear, scaleLog } from 'd3-scale';
	import { line } from 'd3-shape';
	import { short } from './rows.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { nearestOf, type Along } from './along.ts';

	/** A figure along walls or chains; a place that the pointer is at is marked in the drawing too. */
	const {
		runs,
		label,
		joints = []
	}: { runs: readonly Along[]; label: string; joints?: readonly { at: number; ratio: number }[] } = $props();
	const desk = useDesk();
	const height = 84;
	const [left, bottom] = [44, 14];
	let width = $state(340);

	const values = $derived(runs.flatMap((run) => [...run.value]).filter((v) => Number.isFinite(v)));
	const reach = $derived(
		extent(runs.flatMap((run) => [run.from + (run.along.at(0) ?? 0), run.from + (run.along.at(-1) ?? 0)])) as [number, number]
	);
	const x = $derived(scaleLinear([reach[0] ?? 0, reach[1] ?? 1], [left, width - 8]));
	const y = $derived.by(() => {
		const [low, high] = extent(values) as [number, number];
		// What changes by factors is seen by factors.
		if (low > 0 && high / low > 8) return scaleLog([low, high], [height - bottom - 4, 6]).nice();
		const spread = Math.max(high - low, 0.1 * Math.abs(high), 1e-300);
		return scaleLinear([Math.max(0, low - 0.15 * spread), high + 0.15 * spread], [height - bottom, 4]).nice(3);
	});
	const ticks = $derived.by(() => {
		const all = y.ticks(3);
		return all.length > 5 ? all.filter((_, k) => k % Math.ceil(all.length / 4) === 0) : all;
	});
	const paths = $derived(
		runs.map(
			(run) =>
				line<number>()
					.defined((k) => Number.isFinite(run.value[k]))
					.x((k) => x(run.from + run.along[k]!))
					.y((k) => y(run.value[k]!))(thinned(run)) ?? ''
		)
	);
	const at = $derived(desk.lookAt && nearestOf(runs, desk.lookAt));

	/** No more places than there are pixels to show them, but all of the extremes. */
	function thinned({ value }: Along): number[] {
		const n = value.length;
		if (n <= 2000) return Array.from({ length: n }, (_, k) => k);
		const kept: number[] = [];
		const step = n / 500;
		for (let b = 0; b < 500; b++) {
			const [from, to] = [Math.floor(b * step), Math.min(n, Math.floor((b + 1) * step))];
			let [low, high] = [from, from];
			for (let k = from; k < to; k++) {
				if (value[k]! < value[low]!) low = k;
				if (value[k]! > value[high]!) high = k;
			}
			kept.push(Math.min(low, high), Math.max(low, high));
		}
		return kept;
	}

	function look(event: PointerEvent & { currentTarget: SVGElement }): void {
		const s = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
		let best: { x: number; y: number } | undefined;
		let away = Infinity;
		for (const run of runs)
			run.along.forEach((a, k) => {
				const d = Math.abs(run.from + a - s);
				if (d < away) [away, best] = [d, { x: run.x[k]!, y: run.y[k]! }];
			});
		desk.lookAt = best;
	}
</script>

<figure class="along">
	<figcaption bind:clientWidth={width}>
		{label}
		{#if at}<span class="number"> {short(at.run.value[at.k]!)} at ({short(at.run.x[at.k]!)}, {short(at.run.y[at.k]!)})</span>{/if}
	</figcaption>
	<svg
		{width}
		{height}
		role="img"
		aria-label="{label} along it"
		onpointermove={look}
		onpointerleave={() => (desk.lookAt = undefined)}
	>
		{#each ticks as tick (tick)}
			<line class="grid" x1={left} x2={width - 8} y1={y(tick)} y2={y(tick)} />
			<text x={left - 4} y={y(tick) + 3} text-anchor="end">{short(tick)}</text>
		{/each}
		{#each x.ticks(5) as tick (tick)}<text x={x(tick)} y={height - 2} text-anchor="middle">{short(tick)}</text>{/each}
		{#each runs as run, r (r)}{#if run.isFaint}<path class="faint" d={paths[r]} />{:else}<path d={paths[r]} />{/if}{/each}
		{#each joints as joint, j (j)}
			<line class="joint" x1={x(joint.at)} x2={x(joint.at)} y1="4" y2={height - bottom} />
			<text class="joint" x={x(joint.at) + 3} y="12">{joint.ratio.toFixed(2)}×</text>
		{/each}
		{#if at}
			<line
				class="mark"
				x1={x(at.run.from + at.run.along[at.k]!)}
				x2={x(at.run.from + at.run.along[at.k]!)}
				y1="0"
				y2={height - bottom}
			/>
			<circle cx={x(at.run.from + at.run.along[at.k]!)} cy={y(at.run.value[at.k]!)} r="3" />
		{/if}
	</svg>
</figure>

<style>
	.along {
		padding: 2px 8px;
	}
	figcaption {
		color: var(--quiet);
		font-size: 11.5px;
	}
	figcaption span {
		color: var(--ink);
		font-size: 11px;
	}
	svg {
		display: block;
		cursor: crosshair;
	}
	path {
		fill: none;
		stroke: var(--kingfisher);
		stroke-width: 1.5;
	}
	path.faint {
		stroke: var(--graphite);
	}
	.grid {
		stroke: var(--edge);
	}
	.joint {
		stroke: var(--edge-strong);
		stroke-dasharray: 2 2;
	}
	text {
		fill: var(--quiet);
		font:
			10px 'IBM Plex Mono',
			monospace;
	}
	text.joint {
		stroke: none;
		fill: var(--ink);
	}
	.mark {
		stroke: var(--marigold);
	}
	circle {
		fill: var(--marigold);
	}
</style>
