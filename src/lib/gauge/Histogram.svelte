<script lang="ts">
	import { scaleLinear, scaleSqrt } from 'd3-scale';
	import { interpolateCividis } from 'd3-scale-chromatic';
	import type { Measure } from '../../core/quality/measure.ts';
	import { histogram } from '../../core/quality/quality.ts';

	let {
		values,
		measure,
		brush,
		onbrush
	}: {
		values: Float32Array;
		measure: Measure;
		brush: [number, number] | undefined;
		onbrush: (range: [number, number] | undefined) => void;
	} = $props();

	const bins = 48;
	const height = 46;
	let width = $state(360);
	let start = $state<number | undefined>();
	const counts = $derived(histogram(values, measure, bins));
	const x = $derived(scaleLinear([measure.low, measure.high], [4, width - 4]));
	// A square root keeps the few bad elements visible beside the many good ones.
	const y = $derived(scaleSqrt([0, Math.max(1, ...counts)], [0, height - 2]));
	const ticks = $derived(x.ticks(5));
	const barWidth = $derived((width - 8) / bins);
	const goodness = (bin: number) => (measure.best === 'high' ? (bin + 0.5) / bins : 1 - (bin + 0.5) / bins);
	const number = (v: number) => String(Number(v.toPrecision(3)));

	function value(event: PointerEvent & { currentTarget: SVGElement }): number {
		const px = event.clientX - event.currentTarget.getBoundingClientRect().left;
		return Math.min(measure.high, Math.max(measure.low, x.invert(px)));
	}

	/** Bins at the ends hold everything beyond them. */
	function widened([low, high]: [number, number]): [number, number] {
		return [low <= measure.low ? -1e30 : low, high >= measure.high ? 1e30 : high];
	}

	function onMove(event: PointerEvent & { currentTarget: SVGElement }): void {
		if (start === undefined) return;
		const now = value(event);
		onbrush(widened([Math.min(start, now), Math.max(start, now)]));
	}

	function onKeyDown(event: KeyboardEvent): void {
		const step = (measure.high - measure.low) / bins;
		const [low, high] = brush ?? [measure.low, measure.low + step];
		if (event.key === 'Escape') onbrush(undefined);
		else if (event.key === 'ArrowRight') onbrush(widened([low, Math.min(measure.high, Math.max(high, measure.low) + step)]));
		else if (event.key === 'ArrowLeft')
			onbrush(widened([low, Math.max(measure.low + step, Math.min(high, measure.high) - step)]));
		else return;
		event.preventDefault();
		event.stopPropagation();
	}
</script>

<div class="histogram" bind:clientWidth={width}>
	<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
	<svg
		{width}
		height={height + 14}
		role="application"
		aria-label="Histogram of {measure.title}; drag to light elements, arrow keys widen the range"
		tabindex="0"
		onpointerdown={(event) => {
			start = value(event);
			event.currentTarget.setPointerCapture(event.pointerId);
			onbrush(undefined);
		}}
		onpointermove={onMove}
		onpointerup={() => (start = undefined)}
		onkeydown={onKeyDown}
	>
		{#each counts as count, bin (bin)}
			{#if count > 0}<rect
					x={4 + bin * barWidth + 0.5}
					y={height - Math.max(1.5, y(count))}
					width={Math.max(1, barWidth - 1)}
					height={Math.max(1.5, y(count))}
					fill={interpolateCividis(goodness(bin))}><title>{count} elements</title></rect
				>{/if}
		{/each}
		{#if brush}
			{@const low = Math.max(4, x(Math.max(measure.low, brush[0])))}
			<rect class="brush" x={low} y="0" width={Math.max(1, x(Math.min(measure.high, brush[1])) - low)} {height} />
		{/if}
		<line x1="4" x2={width - 4} y1={height + 0.5} y2={height + 0.5} />
		{#each ticks as tick (tick)}<text x={Math.min(width - 14, Math.max(10, x(tick)))} y={height + 11} text-anchor="middle"
				>{number(tick)}{measure.unit}</text
			>{/each}
	</svg>
</div>

<style>
	.histogram {
		min-width: 0;
	}
	svg {
		display: block;
		cursor: crosshair;
		touch-action: none;
		user-select: none;
	}
	line {
		stroke: var(--graphite);
	}
	text {
		fill: var(--quiet);
		font:
			10px 'IBM Plex Mono',
			monospace;
	}
	.brush {
		fill: var(--marigold);
		fill-opacity: 0.25;
		stroke: var(--marigold);
	}
</style>
