<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import { sentenceOf } from '../../core/text/user-error.ts';
	import Choice from '../controls/Choice.svelte';
	import { untrack } from 'svelte';
	import { sharpCorners, thinned } from '../../core/geometry/thin.ts';
	import type { CoordinateFile } from '../../core/recipe/model/model.ts';
	import type { MaterialRule } from '../../formats/material.ts';
	import {
		percentOf,
		regionsOfDrawing,
		withDrawing,
		withOutlines,
		withSizesFrom,
		type DrawingImport
	} from '../../formats/import-statements.ts';
	import { shownLayers } from '../../formats/recipe-of-files.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { picture } from './file-picture.ts';

	/** Whether a line comes back to where it began. */
	const isRing = (x: Float64Array, y: Float64Array) => x.length > 3 && x[0] === x.at(-1) && y[0] === y.at(-1);

	let {
		name,
		bytes,
		read,
		onclose
	}: { name: string; bytes: Uint8Array; read: CoordinateFile; onclose: (added: boolean) => void } = $props();

	const desk = useDesk();
	const file = untrack(() => read);
	const drawing = 'drawing' in file ? file.drawing : undefined;
	const outlines = 'outlines' in file ? file.outlines : [];
	const notes = 'outlines' in file ? (file.notes ?? []) : [];
	const columnCount = outlines[0]?.columns?.length ?? 0;
	const layers = drawing ? [...new Set(drawing.curves.map((c) => c.layer))] : [];

	let problem = $state('error' in file ? file.error : '');
	let busy = $state(false);
	let columns = $state<[x: number, y: number]>([1, 2]);
	let scaled = $state('');
	let turned = $state('');
	let moved = $state('');
	/** Joints that a smooth curve would round, though the line turns sharply there: they are proposed as corners. */
	const sharp = outlines.reduce((sum, { x, y }) => sum + sharpCorners(x, y, isRing(x, y)), 0);
	let corners = $state(sharp > 0 ? '60' : '');
	let within = $state('');
	/** The outlines as they would be thinned, and what that comes to. */
	const thin = $derived.by(() => {
		const distance = Number(within.replace(',', '.'));
		if (!(distance > 0)) return undefined;
		const parts = outlines.map(({ x, y }) => ({ x, y, ...thinned(x, y, isRing(x, y), distance) }));
		return {
			lines: parts.map(({ x, y, kept }) => ({
				x: Float64Array.from(kept, (k) => x[k]!),
				y: Float64Array.from(kept, (k) => y[k]!)
			})),
			kept: parts.reduce((sum, p) => sum + p.kept.length, 0),
			deviation: Math.max(...parts.map((p) => p.deviation))
		};
	});
	/** The fields of a result: sizes can follow how one of them curves. */
	const fields = drawing?.result ? [...drawing.result.fields.keys()] : columnCount > 2 ? ['value'] : [];
	let field = $state(fields[0] ?? '');
	let share = $state('1');
	const shownAtFirst = drawing ? shownLayers(drawing) : [];
	let wanted = $state(Object.fromEntries(layers.map((layer) => [layer, shownAtFirst.includes(layer)])));
	let material = $state<MaterialRule | 'none'>(drawing?.fills ? 'as filled' : 'none');
	let withGroups = $state(layers.length > 1);

	const shown = $derived(picture(outlines, columns, drawing, wanted));
	const thinShown = $derived(thin ? picture(thin.lines, [1, 2], undefined, {}) : undefined);
	const span = (low: number, high: number) => `${Number(low.toPrecision(6))} to ${Number(high.toPrecision(6))}`;
	const safe = untrack(() => name.replace(/["/\\]/g, '_'));

	const placing = $derived({ scaled, turned, moved });
	const withCurves = (kind: 'spline' | 'polyline') =>
		withOutlines(desk.recipe, safe, outlines.length, { kind, columns, corners, within, ...placing });
	const imported = $derived.by((): DrawingImport | undefined => {
		const chosen = layers.filter((layer) => wanted[layer]);
		const units = desk.result?.model.units ?? 'mm';
		return drawing && { file: safe, drawing, layers: chosen, material, withGroups, units, ...placing };
	});
	/** How many closed outlines there are, and how many of them are filled. */
	const decided = $derived.by(() => {
		if (!imported || material === 'none') return undefined;
		try {
			return regionsOfDrawing(desk.recipe, imported);
		} catch {
			return undefined;
		}
	});
	const percent = $derived(percentOf(share));

	async function add(text: () => string): Promise<void> {
		busy = true;
		try {
			const stored = await desk.addFile(bytes);
			if ('error' in stored) {
				problem = stored.error;
				return;
			}
			const kept = desk.files[safe];
			if (kept !== undefined && kept !== stored.hash) {
				problem = `another file named ${safe} stands beside this recipe already; rename this one`;
				return;
			}
			desk.edit(text(), `Import ${safe}`, { ...desk.files, [safe]: stored.hash });
			onclose(true);
		} catch (error) {
			problem = sentenceOf(error, 'the file');
		} finally {
			busy = false;
		}
	}
</script>

<div class="card panel" role="dialog" aria-label="File to import">
	<h2>{name}</h2>
	{#if shown}
		<svg viewBox={shown.viewBox} role="img" aria-label="What the file holds" preserveAspectRatio="xMidYMid meet">
			{#each shown.paths as d, k (k)}<path {d} class:faint={thinShown !== undefined} vector-effect="non-scaling-stroke" />{/each}
			{#each thinShown?.paths ?? [] as d, k (k)}<path {d} class="thin" vector-effect="non-scaling-stroke" />{/each}
		</svg>
		<p class="number">
			{#if drawing}{counted(drawing.curves.length, 'curve')} on {layers.length} layer{layers.length === 1
					? ''
					: 's'}{:else}{outlines.reduce((sum, o) => sum + o.x.length, 0)} points in {outlines.length} outline{outlines.length ===
				1
					? ''
					: 's'}{/if}<br />x {span(shown.box[0], shown.box[2])}, y {span(shown.box[1], shown.box[3])}
			{drawing?.unit ?? ''}
		</p>
		{#if thin}<p class="number">
				{thin.kept.toLocaleString('en')} points are left, {Number(thin.deviation.toPrecision(3))} off at most
			</p>{/if}
		<ul>
			{#if sharp > 0}<li>
					{counted(sharp, 'sharp corner')}: a smooth spline would round {sharp === 1 ? 'it' : 'them'}, so corners are kept from
					60°.
				</li>{/if}
			{#each notes.slice(0, 6) as note, k (k)}<li>{note}.</li>{/each}
			{#if drawing?.unit === desk.result?.model.units && drawing?.unit}<li>
					Drawn in {drawing.unit}.
				</li>{:else if drawing?.unit}<li>
					Drawn in {drawing.unit}; it is converted to {desk.result?.model.units ?? 'the recipe’s units'}.
				</li>{:else if drawing || outlines.length > 0}<li>Read as {desk.result?.model.units ?? 'recipe units'}.</li>{/if}
			{#each drawing?.skipped ?? [] as what (what)}<li>Not read: {what}.</li>{/each}
		</ul>
		{#if layers.length > 0}
			<fieldset>
				<legend>Layers</legend>
				{#each layers as layer (layer)}
					<Choice bind:checked={wanted[layer]}>{layer}</Choice>
				{/each}
			</fieldset>
			<div class="wide"><Choice bind:checked={withGroups}>A boundary group for each layer</Choice></div>
			<label class="wide"
				>Closed outlines become
				<select class="field" bind:value={material}>
					<option value="none">no regions yet</option>
					{#if drawing?.fills}<option value="as filled">regions, material where the file fills them</option>{/if}
					<option value="alternate">regions, every second one a hole</option>
					<option value="all">regions, all of them material</option>
				</select></label
			>
			{#if decided}<p class="decided">
					{counted(decided.outlines, 'closed outline')}: {decided.filled} filled with triangles, {decided.outlines -
						decided.filled} left empty.
				</p>{/if}
		{/if}
		<div class="options">
			{#if columnCount > 2}
				{#each [0, 1] as k (k)}
					<label
						>{k === 0 ? 'x' : 'y'} from column
						<select class="field" bind:value={columns[k]}>
							{#each { length: columnCount }, c}<option value={c + 1}>{c + 1}</option>{/each}
						</select></label
					>
				{/each}
			{/if}
			<label>scaled by <input class="field number" bind:value={scaled} placeholder="1" /></label>
			<label>turned by ° <input class="field number" bind:value={turned} placeholder="0" /></label>
			<label>moved by <input class="field number" bind:value={moved} placeholder="0, 0" /></label>
			{#if outlines.length > 0}
				<label>corners from ° <input class="field number" bind:value={corners} placeholder="20 or none" /></label>
				<label data-tip="Leaves points out that then lie no farther from the line than this"
					>thinned within <input class="field number" bind:value={within} placeholder="not" /></label
				>
			{/if}
		</div>
	{/if}
	{#if fields.length > 0}
		<div class="result">
			{#if drawing?.result}
				<label
					>field of the result
					<select class="field" bind:value={field}>
						{#each fields as name (name)}<option value={name}>{name}</option>{/each}
					</select></label
				>
			{/if}
			<label data-tip="How far straight interpolation may miss the field, as a share of its range"
				>missed by at most, in % of its range <input class="field number" bind:value={share} /></label
			>
		</div>
	{/if}
	{#if problem}<p class="problem" role="alert">{name}: {problem}</p>{/if}
	<div class="row">
		{#if drawing}
			<button
				class="action main"
				disabled={busy || layers.every((l) => !wanted[l])}
				onclick={() => imported && add(() => withDrawing(desk.recipe, imported))}>Import</button
			>
		{:else if outlines.length > 0}
			<button class="action main" disabled={busy} onclick={() => add(() => withCurves('spline'))}>Smooth spline</button>
			<button class="action" disabled={busy} onclick={() => add(() => withCurves('polyline'))}>Polyline</button>
		{/if}
		{#if fields.length > 0}<button
				class="action"
				disabled={busy || !(percent > 0 && percent < 100)}
				data-tip="Elements become small where the field curves, and nothing is drawn"
				onclick={() => add(() => withSizesFrom(desk.recipe, safe, drawing?.result && field, percent))}
				>Sizes from its values</button
			>{/if}
		<button class="action plain" onclick={() => onclose(false)}>{shown ? 'Cancel' : 'Close'}</button>
	</div>
</div>

<style>
	.card {
		position: absolute;
		top: 40px;
		left: 50%;
		z-index: 6;
		overflow-y: auto;
		width: 360px;
		max-height: calc(100% - 60px);
		padding: 14px;
		transform: translateX(-50%);
	}
	h2 {
		margin-bottom: 6px;
		font-weight: 600;
	}
	svg {
		width: 100%;
		height: 130px;
		margin-bottom: 6px;
		border: 1px solid var(--edge);
		background: var(--paper);
	}
	path {
		fill: none;
		stroke: var(--ink);
		stroke-width: 1.2;
	}
	path.faint {
		stroke: var(--graphite);
		stroke-width: 0.8;
	}
	path.thin {
		stroke: var(--kingfisher);
	}
	p,
	ul {
		margin-bottom: 6px;
	}
	li {
		color: var(--quiet);
		font-size: 12px;
	}
	fieldset {
		display: flex;
		flex-wrap: wrap;
		gap: 2px 12px;
		margin-bottom: 4px;
		font-size: 12px;
	}
	legend {
		color: var(--quiet);
	}
	.wide {
		display: block;
		margin-bottom: 6px;
		font-size: 12px;
	}
	.decided {
		color: var(--quiet);
		font-size: 12px;
	}
	.result label {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 8px;
		align-items: center;
		margin-top: 4px;
	}
	.options {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px 12px;
		margin-bottom: 10px;
		font-size: 12px;
	}
	.options label {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 6px;
	}
	.options .field {
		width: 74px;
	}
	.problem {
		color: var(--brick);
	}
	.row {
		display: flex;
		gap: 6px;
	}
</style>
