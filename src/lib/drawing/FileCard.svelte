<script lang="ts">
	import { untrack } from 'svelte';
	import { addStatements, freeName } from '../../core/recipe/intents.ts';
	import { parseRecipe } from '../../core/recipe/parse.ts';
	import { readGeometryFile } from '../../formats/geometry-file.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	let { name, bytes, onclose }: { name: string; bytes: Uint8Array; onclose: (added: boolean) => void } = $props();

	const desk = useDesk();
	const file = untrack(() => readGeometryFile(bytes));
	let problem = $state('error' in file ? file.error : '');
	let busy = $state(false);

	const summary = 'error' in file ? undefined : describe(file.outlines);

	function describe(outlines: { x: Float64Array; y: Float64Array }[]) {
		const span = (values: Float64Array[]) => {
			let [low, high] = [Infinity, -Infinity];
			for (const list of values) for (const v of list) [low, high] = [Math.min(low, v), Math.max(high, v)];
			return `${Number(low.toPrecision(6))} to ${Number(high.toPrecision(6))}`;
		};
		return {
			points: outlines.reduce((sum, o) => sum + o.x.length, 0),
			outlines: outlines.length,
			x: span(outlines.map((o) => o.x)),
			y: span(outlines.map((o) => o.y))
		};
	}

	async function add(kind: 'spline' | 'polyline'): Promise<void> {
		if ('error' in file) return;
		busy = true;
		try {
			const stored = await desk.addFile(bytes);
			if ('error' in stored) {
				problem = stored.error;
				return;
			}
			const safe = name.replace(/["/\\]/g, '_');
			let { recipe } = desk;
			for (let k = 1; k <= file.outlines.length; k++) {
				const curve = freeName(recipe, 'outline_');
				const which = file.outlines.length > 1 ? ` outline ${k}` : '';
				recipe = parseRecipe(addStatements(recipe, [`${kind} ${curve} = through "${safe}"${which}`]));
			}
			desk.edit(recipe.text, `Import ${safe}`, { ...desk.files, [safe]: stored.hash });
			onclose(true);
		} catch (error) {
			problem = (error as Error).message;
		} finally {
			busy = false;
		}
	}
</script>

<div class="card panel" role="dialog" aria-label="Coordinate file">
	<h2>{name}</h2>
	{#if summary}
		<p class="number">
			{summary.points} points in {summary.outlines} outline{summary.outlines === 1 ? '' : 's'}<br />x {summary.x}, y {summary.y}
		</p>
		<p class="quiet">Read as {desk.result?.model.units ?? 'recipe units'}. Draw it as</p>
	{/if}
	{#if problem}<p class="problem" role="alert">{name}: {problem}</p>{/if}
	<div class="row">
		{#if summary}
			<button class="action main" disabled={busy} onclick={() => add('spline')}>Smooth spline</button>
			<button class="action" disabled={busy} onclick={() => add('polyline')}>Polyline</button>
		{/if}
		<button class="action plain" onclick={() => onclose(false)}>{summary ? 'Cancel' : 'Close'}</button>
	</div>
</div>

<style>
	.card {
		position: absolute;
		top: 70px;
		left: 50%;
		z-index: 6;
		width: 330px;
		padding: 14px;
		transform: translateX(-50%);
	}
	h2 {
		margin-bottom: 6px;
		font-weight: 600;
	}
	p {
		margin-bottom: 8px;
	}
	.quiet {
		color: var(--quiet);
	}
	.problem {
		color: var(--brick);
	}
	.row {
		display: flex;
		gap: 6px;
	}
</style>
