<script lang="ts">
	import { quadCount, triangleCount } from '../../core/mesh/mesh.ts';
	import {
		countIn,
		countWithin,
		divisionSizes,
		rangeOf,
		valuesIn,
		wallSummary,
		worstElements
	} from '../../core/figures/gauge.ts';
	import { elementCentre, elementReach, measures } from '../../core/quality/quality.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { short } from '../ledger/rows.ts';
	import AsAsked from './AsAsked.svelte';
	import Histogram from './Histogram.svelte';

	const desk = useDesk();
	const measure = $derived(measures.find((m) => m.key === desk.measure)!);
	const taken = $derived(desk.result?.measure.key === desk.measure ? desk.result.measure.taken : undefined);
	const total = $derived(desk.result ? Object.values(desk.result.timings).reduce((a, b) => a + b, 0) : 0);
	const sizes = $derived(divisionSizes(desk.result?.divisions.pieces ?? []));
	const wall = $derived(wallSummary(desk.result?.walls ?? []));
	const count = (n: number) => n.toLocaleString('en');
	const lit = $derived(desk.brush && taken ? countWithin(taken.values, desk.brush) : undefined);
	const ranges = $derived(desk.result?.layerRanges ?? []);
	const layerCells = $derived(countIn(ranges));
	/** Only cells of layers are looked at. */
	let layersOnly = $state(false);
	const shownValues = $derived(taken && layersOnly && layerCells > 0 ? valuesIn(ranges, taken.values) : taken?.values);
	const shownRange = $derived(!shownValues || shownValues === taken?.values ? taken : rangeOf(shownValues));
	const irregular = $derived(desk.irregular);
	let walked = $state(0);

	/** The worst elements in order, the next one at every call; from the start again when the mesh or the measure is new. */
	const worst = $derived(
		taken ? worstElements(taken.values, measure.best, layersOnly && layerCells > 0 ? ranges : undefined) : []
	);
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
			<AsAsked />
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
