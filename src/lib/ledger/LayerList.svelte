<script lang="ts">
	import { missedIn } from '../../core/figures/promise-figures.ts';
	import { addStatement, removeStatement } from '../../core/recipe/edits/edits.ts';
	import { formatNumber } from '../../core/recipe/language/literals.ts';
	import { referenceText, setLayers, withStatements, type LayerWord } from '../../core/recipe/edits/intents.ts';
	import { stackThickness } from '../../core/recipe/model/layer-numbers.ts';
	import { parseRecipe } from '../../core/recipe/language/parse.ts';
	import { linesOf } from '../../core/recipe/language/statement.ts';
	import { layers, layersOf } from '../../core/recipe/statements/layers.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import AlongPlot from './AlongPlot.svelte';
	import type { LayerProfile } from '../../core/fill/method.ts';
	import { layerColours } from '../drawing/layer-colours.ts';
	import { alongLayers, layerPlots, type LayerPlot, valuesOf } from './along.ts';
	import CalculatorCard from './CalculatorCard.svelte';
	import Cell from './Cell.svelte';
	import { wrongWith } from './checked.ts';
	import MissedMark from './MissedMark.svelte';
	import PickRow from './PickRow.svelte';
	import { clauseText, short } from './rows.ts';

	/** Layers on walls: a row to a statement. What is typed stands in ink, what follows from it in grey. */
	const desk = useDesk();
	const words: LayerWord[] = ['first', 'growth', 'count', 'thickness', 'last'];
	const walls = $derived([...new Set(desk.selected('piece'))]);
	/** The description by which the walls were picked, while they are still those. */
	let picked = $state.raw<{ source: string; names: string } | undefined>();
	const description = $derived(picked && picked.names === [...walls].sort().join(' ') ? picked.source : undefined);

	const rows = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		// A statement of a part stands once for each of its copies; it has one row.
		const statements = new Map(layersOf(result.model).map((stack) => [stack.line, stack]));
		return [...statements.values()].map((stack) => {
			const clauseSource = (clause: string) => clauseText(result, stack.line, clause);
			const figures = result.layerFigures.find(({ line }) => line === stack.line);
			const values: Record<LayerWord, number> = {
				first: stack.first,
				growth: stack.growth,
				count: stack.count,
				thickness: stack.toSize ? (figures?.thickness.max ?? 0) : stackThickness(stack),
				last: stack.first * stack.growth ** (stack.count - 1)
			};
			const written = (word: LayerWord) => clauseSource(word).replace(new RegExp(`^${word}\\s+`), '');
			const perHeight = yPlusOf(written('first'));
			return { line: stack.line, stack, walls: clauseSource('pieces'), values, written, figures, perHeight };
		});
	});

	/** The y⁺ of a cell as high as a unit of length, where the first height came from a flow that the recipe knows. */
	function yPlusOf(first: string): number | undefined {
		const prefix = /^(wall\d*)_first$/.exec(first)?.[1];
		const value = (name: string) => desk.result?.model.parameters.find((p) => p.name === `${prefix}_${name}`)?.value;
		const [yPlus, height] = [value('y_plus'), value('first')];
		return prefix && yPlus !== undefined && height !== undefined ? yPlus / height : undefined;
	}

	/** What is plotted along the walls, and of which row; without a choice the row of the selected walls, or the only one. */
	let plot = $state<LayerPlot | ''>('');
	let plotted = $state<number | undefined>();
	const rowPlotted = $derived(rows.find(({ line }) => line === plotted) ?? rows.find(({ figures }) => figures));

	// What is plotted is seen in the drawing as well.
	$effect(() => {
		const figures = plot === '' ? undefined : rowPlotted?.figures;
		const value = (profile: LayerProfile) => valuesOf(profile, plot || 'count', rowPlotted?.perHeight ?? NaN);
		desk.layerColours = figures && layerColours(figures.profiles.map((profile) => ({ profile, value: value(profile) })));
		return () => (desk.layerColours = undefined);
	});

	/** Where a row's statement stands in the present text, which may be newer than what is shown; −1 where it is gone. */
	const lineOf = ({ line }: (typeof rows)[number]) => desk.lineNow(line);

	/** Which number gives way where a fourth is typed; empty for the one that follows best. */
	let instead = $state<LayerWord | ''>('');
	const gives = (word: LayerWord) => (instead === '' || instead === word ? undefined : instead);

	function set(row: (typeof rows)[number], word: LayerWord, typed: string): void {
		const line = lineOf(row);
		if (line >= 0) desk.edit(setLayers(desk.recipe, line, word, typed, gives(word)), `Layers on ${row.walls}: ${word} ${typed}`);
	}

	function remove(row: (typeof rows)[number]): void {
		const line = lineOf(row);
		if (line >= 0) desk.edit(applyEdits(desk.text, removeStatement(desk.recipe, line)), `Remove layers on ${row.walls}`);
	}

	let calculating = $state(false);

	/** A first height from physics: it goes into the layers that the selected walls have, or into new ones. */
	function takeFirst(first: string, statements: string): void {
		const recipe = withStatements(desk.recipe, statements);
		const known = linesOf(recipe.lines, layers).find(({ statement }) =>
			walls.every((wall) => statement.pieces.some((p) => referenceText(p) === wall || wall.startsWith(`${p.name}[`)))
		);
		calculating = false;
		if (known) desk.edit(setLayers(recipe, recipe.lines.indexOf(known.line), 'first', first), `First height ${first}`);
		else grow(first, recipe);
	}

	function grow(first: string, recipe = desk.recipe): void {
		const source = `layers on ${description ?? walls.join(', ')} first ${first} growth 1.2 count 15`;
		const what = walls.length === 1 ? walls[0] : `${walls.length} walls`;
		desk.edit(applyEdits(recipe.text, addStatement(recipe, source)), `Layers on ${what}`);
	}

	/** Sensible layers for walls that have none: a fiftieth of the size there at the wall, growing to about a third of it. */
	$effect(() => (walls.length > 0 && desk.isCurrent ? desk.offers.add('layers', add) : undefined));

	function add(): void {
		const { result } = desk;
		if (!result || walls.length === 0) return;
		const widths = walls.map((name) => result.divisions.pieces[desk.names.indexOf(name)]?.figures.smallest ?? Infinity);
		const width = Math.min(...widths);
		if (!Number.isFinite(width)) return;
		grow(formatNumber(Number((width / 50).toPrecision(1))));
	}

	/** What is wrong with a number, in its statement as it would be. */
	const checked = (row: (typeof rows)[number], word: LayerWord, typed: string) => {
		const line = lineOf(row);
		if (line < 0) return undefined;
		const changed = parseRecipe(setLayers(desk.recipe, line, word, typed, gives(word)));
		const changedLine = changed.lines[line];
		return changedLine && wrongWith(desk.newest, changed.text.slice(changedLine.from, changedLine.to));
	};
</script>

<h3>Layers on walls</h3>
{#if rows.length > 0}
	<table aria-label="Layers on walls">
		<thead
			><tr
				><th>walls</th>{#each words as word (word)}<th>{word}</th>{/each}<th data-tip="Share of the walls that has all cells"
					>full</th
				><th><span class="unseen">remove</span></th></tr
			></thead
		>
		<tbody>
			{#each rows as row (row.line)}
				<tr>
					<td class="name"
						><button
							data-tip="{row.walls}: {row.figures?.cells.toLocaleString('en') ?? 0} cells{row.perHeight === undefined
								? ''
								: `, y⁺ ${short(row.perHeight * row.stack.first)}`}"
							onclick={(event) => {
								plotted = row.line;
								desk.select(
									desk.names
										.filter((name) =>
											row.stack.pieces.some(
												(p) => name === p.name || name.startsWith(`${p.name}[`) || name.startsWith(`${p.name}.`)
											)
										)
										.map((name) => thingKey('piece', name)),
									event.shiftKey || event.ctrlKey
								);
							}}>{row.walls}</button
						></td
					>
					{#each words as word (word)}
						<td class:follows={row.written(word) === ''}
							><Cell
								display={row.stack.toSize && word === 'count' ? 'to size' : short(row.values[word])}
								source={row.written(word)}
								label="{word} of layers on {row.walls}"
								title={row.written(word) || 'follows from the others'}
								namesNumbers
								check={(typed) => checked(row, word, typed)}
								onset={(typed) => typed !== '' && set(row, word, typed)}
							/></td
						>
					{/each}
					<td class="number whole"
						>{row.figures ? `${Math.round(100 * row.figures.complete)}%` : '–'}<MissedMark
							missed={missedIn(desk.result?.promises ?? [], row.line)}
						/></td
					>
					<td
						><button class="remove" aria-label="Remove layers on {row.walls}" data-tip="Remove" onclick={() => remove(row)}
							>×</button
						></td
					>
				</tr>
			{/each}
		</tbody>
	</table>
	<label class="plot"
		>A number typed in grey takes the place of
		<select class="field" bind:value={instead} aria-label="Which number gives way">
			<option value="">the one that follows best</option>
			{#each words as word (word)}<option value={word}>{word}</option>{/each}
		</select></label
	>
	{#if rowPlotted?.figures}
		<label class="plot"
			>Along {rowPlotted.walls}
			<select class="field" bind:value={plot} aria-label="Plotted along the walls">
				<option value="">nothing</option>
				{#each layerPlots as [key, title] (key)}<option value={key}>{title}</option>{/each}
				{#if rowPlotted.perHeight !== undefined}<option value="y+">y⁺</option>{/if}
			</select></label
		>
		{#if plot !== ''}<AlongPlot
				runs={alongLayers(rowPlotted.figures, plot, rowPlotted.perHeight)}
				label={layerPlots.find(([key]) => key === plot)?.[1] ?? 'y⁺'}
			/>{/if}
	{/if}
{/if}
{#if walls.length > 0}
	<PickRow
		onpick={(source) =>
			(picked = source === undefined ? undefined : { source, names: [...desk.selected('piece')].sort().join(' ') })}
	/>
	<div class="add">
		<button class="action" onclick={add} disabled={!desk.isCurrent} data-tip="Layers with first numbers, to be changed here (L)"
			>Layers on {walls.length === 1 ? walls[0] : `${walls.length} pieces`}</button
		>
		<button class="action" aria-expanded={calculating} onclick={() => (calculating = !calculating)}>First height from y⁺…</button>
	</div>
	{#if calculating}<CalculatorCard targets={walls} gives="first" onclose={() => (calculating = false)} onuse={takeFirst} />{/if}
{:else if rows.length === 0}<p class="hint">Select walls in the drawing and press L: thin cells grow from them.</p>{/if}

<style>
	.whole {
		white-space: nowrap;
	}
	h3 {
		padding: 10px 8px 2px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	table {
		table-layout: fixed;
	}
	th {
		padding-inline: 2px;
	}
	th:first-child {
		width: 16%;
	}
	th:nth-child(3) {
		width: 14%;
	}
	th:nth-child(4) {
		width: 11%;
	}
	th:nth-child(5) {
		width: 16%;
	}
	th:nth-last-child(2) {
		width: 11%;
	}
	th:last-child {
		width: 24px;
	}
	td {
		padding-inline: 1px;
	}
	td.follows {
		color: var(--quiet);
	}
	td.number {
		font-size: 11px;
	}
	.remove {
		width: 20px;
		color: var(--quiet);
		cursor: pointer;
	}
	.plot {
		display: flex;
		gap: 6px;
		align-items: center;
		padding: 4px 8px;
		color: var(--quiet);
		font-size: 11.5px;
	}
	.plot select {
		padding: 1px 4px;
	}
	.add {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		padding: 4px 8px;
	}
</style>
