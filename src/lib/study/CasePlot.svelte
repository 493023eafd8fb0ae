<script lang="ts">
	import { extent } from 'd3-array';
	import { scaleLinear } from 'd3-scale';
	import { figureTitles } from '../../formats/study.ts';
	import { short } from '../ledger/rows.ts';
	import { headingOf, valueOf, type CaseRow, type FigureKey } from './case-rows.ts';

	/** Any figure over any column, a dot for each case. */
	interface Props {
		rows: readonly CaseRow[];
		/** What the figure can be shown over. */
		columns: readonly string[];
		x: string;
		y: FigureKey;
		/** The number of the case that is looked at; 0 for none. */
		chosen: number;
	}
	let { rows, columns, x = $bindable(), y = $bindable(), chosen = $bindable() }: Props = $props();

	let width = $state(340);
	const height = 230;
	/** More points than this are drawn as one path of dots. */
	const mostCircles = 1500;

	const points = $derived(
		rows.flatMap((row) => {
			const [px, py] = [valueOf(row, x), valueOf(row, y)];
			return typeof px === 'number' && typeof py === 'number' && Number.isFinite(px) && Number.isFinite(py)
				? [{ row, px, py }]
				: [];
		})
	);
	/** Least and largest value; from 0 to 1 where there are none. */
	const ends = (values: number[]): [number, number] => {
		const [low, high] = extent(values);
		return low === undefined ? [0, 1] : [low, high];
	};
	const scaleX = $derived(scaleLinear(ends(points.map((p) => p.px)), [50, width - 12]).nice(5));
	const scaleY = $derived(scaleLinear(ends(points.map((p) => p.py)), [height - 24, 10]).nice(5));
	const circles = $derived(points.length <= mostCircles ? points : points.filter(({ row }) => row.one.number === chosen));
	const dots = (wrong: boolean) =>
		points
			.filter(({ row }) => (row.outcome?.ok === false) === wrong)
			.map(({ px, py }) => `M${scaleX(px).toFixed(1)} ${scaleY(py).toFixed(1)}h0`)
			.join('');

	/** Chooses the case whose point is nearest to a click. */
	function chooseNearest(event: MouseEvent & { currentTarget: SVGSVGElement }): void {
		const box = event.currentTarget.getBoundingClientRect();
		const [cx, cy] = [event.clientX - box.left, event.clientY - box.top];
		let least = 12;
		for (const { row, px, py } of points) {
			const away = Math.hypot(scaleX(px) - cx, scaleY(py) - cy);
			if (away < least) [least, chosen] = [away, row.one.number];
		}
	}
</script>

<div class="choices">
	<select class="field" aria-label="Figure of the plot" bind:value={y}
		>{#each Object.entries(figureTitles) as [key, title] (key)}<option value={key}>{title}</option>{/each}</select
	>
	over
	<select class="field" aria-label="Parameter of the plot" bind:value={x}
		>{#each columns as key (key)}<option value={key}>{headingOf(key)}</option>{/each}</select
	>
</div>
<div bind:clientWidth={width}>
	{#if points.length > 0}
		<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
		<svg {width} {height} role="img" aria-label="{figureTitles[y]} over {headingOf(x)}" onclick={chooseNearest}>
			{#each scaleY.ticks(5) as tick (tick)}<line x1="50" x2={width - 12} y1={scaleY(tick)} y2={scaleY(tick)} /><text
					x="45"
					y={scaleY(tick) + 3.5}
					text-anchor="end">{scaleY.tickFormat(5)(tick)}</text
				>{/each}
			{#each scaleX.ticks(5) as tick (tick)}<text x={scaleX(tick)} y={height - 8} text-anchor="middle">{short(tick)}</text>{/each}
			{#if points.length > mostCircles}<path class="dots" d={dots(false)} /><path class="dots wrong" d={dots(true)} />{/if}
			{#each circles as { row, px, py } (row.one.number)}
				<circle
					cx={scaleX(px)}
					cy={scaleY(py)}
					r={row.one.number === chosen ? 6 : 3.5}
					class:on={row.one.number === chosen}
					class:wrong={row.outcome?.ok === false}><title>{row.one.name}: {short(py)}</title></circle
				>
			{/each}
		</svg>
	{:else}<p class="quiet">A plot stands here as soon as a case is done.</p>{/if}
</div>

<style>
	.choices {
		display: flex;
		align-items: center;
		gap: 10px;
		color: var(--quiet);
		font-size: 12px;
	}
	.choices select {
		flex: 1;
		min-width: 0;
	}
	line {
		stroke: var(--edge);
	}
	text {
		fill: var(--quiet);
		font-size: 10.5px;
	}
	.dots {
		fill: none;
		stroke: var(--kingfisher);
		stroke-linecap: round;
		stroke-opacity: 0.5;
		stroke-width: 6;
	}
	.dots.wrong {
		stroke: var(--brick);
	}
	circle {
		fill: var(--kingfisher);
		fill-opacity: 0.65;
		cursor: pointer;
	}
	circle.on {
		fill: var(--marigold);
		fill-opacity: 1;
		stroke: var(--ink);
	}
	circle.wrong {
		fill: var(--brick);
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
