<script lang="ts">
	import { quadCount, triangleCount } from '../../core/mesh/mesh.ts';
	import { elementCentre, elementReach, measures } from '../../core/quality/quality.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { short } from '../ledger/rows.ts';
	import Histogram from './Histogram.svelte';

	const desk = useDesk();
	const measure = $derived(measures.find((m) => m.key === desk.measure)!);
	const taken = $derived(desk.result?.measure.key === desk.measure ? desk.result.measure.taken : undefined);
	const total = $derived(desk.result ? Object.values(desk.result.timings).reduce((a, b) => a + b, 0) : 0);
	const sizes = $derived.by(() => {
		const pieces = desk.result?.divisions.pieces ?? [];
		if (pieces.length === 0) return undefined;
		return {
			smallest: Math.min(...pieces.map((p) => p.figures.smallest)),
			largest: Math.max(...pieces.map((p) => p.figures.largest))
		};
	});
	/** All walls as one: the extremes, and the mean that is farthest off. */
	const wall = $derived.by(() => {
		const walls = desk.result?.walls ?? [];
		if (walls.length === 0) return undefined;
		return {
			min: Math.min(...walls.map((w) => w.min)),
			mean: walls.reduce((a, b) => (Math.abs(b.mean - 1) > Math.abs(a.mean - 1) ? b : a)).mean,
			max: Math.max(...walls.map((w) => w.max)),
			meanLean: Math.max(...walls.map((w) => w.meanLean)),
			maxLean: Math.max(...walls.map((w) => w.maxLean)),
			growth: Math.max(...walls.map((w) => w.growth))
		};
	});
	const count = (n: number) => n.toLocaleString('en');
	const lit = $derived.by(() => {
		if (!desk.brush || !taken) return undefined;
		const [low, high] = desk.brush;
		let n = 0;
		for (const v of taken.values) if (v >= low && v <= high) n++;
		return n;
	});
	const ranges = $derived(desk.result?.layerRanges ?? []);
	const layerCells = $derived(ranges.reduce((sum, n, k) => sum + (k % 2 === 0 ? -n : n), 0));
	/** Only cells of layers are looked at. */
	let layersOnly = $state(false);
	const shownValues = $derived.by(() => {
		if (!taken || !layersOnly || layerCells === 0) return taken?.values;
		const heights = new Float32Array(layerCells);
		for (let k = 0, at = 0; k < ranges.length; at += ranges[k + 1]! - ranges[k]!, k += 2)
			heights.set(taken.values.subarray(ranges[k]!, ranges[k + 1]!), at);
		return heights;
	});
	const shownRange = $derived.by(() => {
		if (!taken || !shownValues || shownValues.length === 0) return undefined;
		if (shownValues === taken.values) return taken;
		let [min, max, sum] = [Infinity, -Infinity, 0];
		for (const v of shownValues) [min, max, sum] = [Math.min(min, v), Math.max(max, v), sum + v];
		return { min, mean: sum / shownValues.length, max };
	});
	const irregular = $derived(desk.irregular);
	let walked = $state(0);

	/** The worst elements in order, the next one at every call; from the start again when the mesh or the measure is new. */
	const worst = $derived.by(() => {
		if (!taken) return [];
		const { values } = taken;
		const sign = measure.best === 'high' ? 1 : -1;
		const most = 50;
		const found: number[] = [];
		const looked = layersOnly && layerCells > 0 ? ranges : [0, values.length];
		for (let k = 0; k < looked.length; k += 2) for (let e = looked[k]!; e < looked[k + 1]!; e++) take(e);
		return found;

		function take(e: number): void {
			if (found.length === most && sign * values[e]! >= sign * values[found[most - 1]!]!) return;
			let k = found.length;
			while (k > 0 && sign * values[found[k - 1]!]! > sign * values[e]!) k--;
			found.splice(k, 0, e);
			if (found.length > most) found.pop();
		}
	});
	$effect(() => {
		void worst;
		walked = 0;
	});

	$effect(() => desk.offers.add('worst', showWorst));

	function showWorst(): void {
		const element = worst[walked % worst.length];
		if (element === undefined) return;
		walked++;
		desk.showAt = { ...elementCentre(desk.result!.mesh, element), reach: elementReach(desk.result!.mesh, element) };
		desk.notice = `Element ${element + 1}: ${measure.title.toLowerCase()} ${short(taken!.values[element]!)}${measure.unit}`;
	}
</script>

<section class="gauge" aria-label="Gauge" data-current={desk.isCurrent} data-milliseconds={total}>
	<dl class="counts">
		<div>
			<dt>nodes</dt>
			<dd class="number" data-count="nodes">{desk.result ? count(desk.result.mesh.x.length) : '–'}</dd>
		</div>
		<div>
			<dt data-tip={layerCells > 0 ? `${count(layerCells)} cells of layers among all elements` : undefined}>quads</dt>
			<dd class="number" data-count="quads">{desk.result ? count(quadCount(desk.result.mesh)) : '–'}</dd>
		</div>
		<div>
			<dt>triangles</dt>
			<dd class="number" data-count="triangles">{desk.result ? count(triangleCount(desk.result.mesh)) : '–'}</dd>
		</div>
		<div>
			<dt>time</dt>
			<dd class="number">
				{desk.meshing.stopped ? 'stopped' : desk.result ? `${total < 10 ? total.toFixed(1) : Math.round(total)} ms` : '–'}
			</dd>
		</div>
	</dl>
	<dl class="counts sizes">
		<div>
			<dt>smallest division</dt>
			<dd class="number">{sizes ? short(sizes.smallest) : '–'}</dd>
		</div>
		<div>
			<dt>largest division</dt>
			<dd class="number">{sizes ? short(sizes.largest) : '–'}</dd>
		</div>
		<div>
			<dt data-tip="Estimated elements, from the sizes">predicted</dt>
			<dd class="number" data-count="predicted">{desk.result ? count(Math.round(desk.result.predicted)) : '–'}</dd>
		</div>
		<div>
			{#if lit === undefined}
				<dt data-tip="Largest ratio of cells that touch where one piece goes on into another">largest jump</dt>
				<dd class="number" data-count="jump">{desk.result?.largestJump?.ratio.toFixed(2) ?? '–'}</dd>
			{:else}
				<dt>brushed elements</dt>
				<dd class="number" data-count="brushed">{count(lit)}</dd>
			{/if}
		</div>
	</dl>
	{#if wall}
		<dl
			class="counts walls"
			data-tip="Cells along walls with a first height, over what is asked; the angle of their lines with the wall, least and mean"
		>
			<div>
				<dt>wall height</dt>
				<dd class="number" data-count="wall-height">{wall.min.toFixed(2)}–{wall.max.toFixed(2)}</dd>
			</div>
			<div>
				<dt>mean</dt>
				<dd class="number">{wall.mean.toFixed(3)}</dd>
			</div>
			<div>
				<dt>wall angle</dt>
				<dd class="number">{(90 - wall.maxLean).toFixed(0)}–{(90 - wall.meanLean).toFixed(0)}°</dd>
			</div>
			<div>
				<dt>growth</dt>
				<dd class="number">{wall.growth.toFixed(2)}</dd>
			</div>
		</dl>
	{/if}
	<div class="choice">
		<select class="field" aria-label="Quality measure" bind:value={desk.measure} onchange={() => (desk.brush = undefined)}>
			{#each measures as m (m.key)}<option value={m.key}>{m.title}</option>{/each}
		</select>
		<p class="number">
			{#if shownRange}{short(shownRange.min)} … {short(shownRange.mean)} … {short(shownRange.max)}{:else}no elements{/if}
		</p>
		<div class="buttons">
			<button class="small" disabled={worst.length === 0} data-tip="Walk to the worst elements in turn (W)" onclick={showWorst}
				>worst{walked > 0 ? ` ${walked}` : ''}</button
			>
			<button
				class="small"
				aria-pressed={desk.colourByQuality}
				class:on={desk.colourByQuality}
				data-tip="Colour the mesh by this measure"
				onclick={() => (desk.colourByQuality = !desk.colourByQuality)}>colour</button
			>
			{#if layerCells > 0}<button
					class="small"
					aria-pressed={layersOnly}
					class:on={layersOnly}
					data-tip="Histogram and worst elements of the {count(layerCells)} cells of layers alone"
					onclick={() => (layersOnly = !layersOnly)}>layers</button
				>{/if}
			{#if irregular && irregular.nodes.length > 0}<button
					class="small"
					aria-pressed={desk.marksIrregular}
					class:on={desk.marksIrregular}
					data-count="irregular"
					data-tip="Mark the {count(irregular.nodes.length)} of {count(
						irregular.inner
					)} nodes inside at which other than four quadrilaterals meet: rings where fewer, dots where more"
					onclick={() => (desk.marksIrregular = !desk.marksIrregular)}>irregular {count(irregular.nodes.length)}</button
				>{/if}
		</div>
	</div>
	{#if shownValues && shownValues.length > 0}<Histogram
			values={shownValues}
			{measure}
			brush={desk.brush}
			onbrush={(range) => (desk.brush = range)}
		/>
	{:else}<p class="empty">The quality histogram stands here as soon as a region is filled.</p>{/if}
</section>

<style>
	.gauge {
		display: flex;
		flex-wrap: wrap;
		gap: 4px 14px;
		align-items: center;
		min-height: 84px;
		padding: 6px 12px;
		border-top: 1px solid var(--edge-strong);
		background: var(--sheet);
	}
	.counts div {
		display: flex;
		gap: 8px;
		justify-content: space-between;
		line-height: 1.32;
	}
	dt {
		color: var(--quiet);
		font-size: 11.5px;
	}
	dd {
		font-size: 12px;
		text-align: right;
	}
	.walls {
		white-space: nowrap;
	}
	.choice {
		flex: none;
		min-width: 158px;
	}
	.gauge > :global(:last-child) {
		flex: 1;
		min-width: 150px;
	}
	.choice p {
		padding: 2px 0;
		font-size: 11px;
		white-space: nowrap;
	}
	.choice select {
		width: 100%;
		padding: 1px 4px;
	}
	.buttons {
		display: flex;
		gap: 4px;
	}
	.small {
		padding: 0 6px;
		border: 1px solid var(--edge-strong);
		border-radius: 3px;
		font-size: 11.5px;
		white-space: nowrap;
		cursor: pointer;
	}
	.small:hover:not(:disabled) {
		border-color: var(--kingfisher);
	}
	.small.on {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	.small:disabled {
		opacity: 0.45;
		cursor: default;
	}
	.empty {
		color: var(--quiet);
	}
</style>
