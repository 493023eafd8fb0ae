<script lang="ts">
	import { missedOn } from '../../core/figures/promise-figures.ts';
	import { addStatement } from '../../core/recipe/edits/edits.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { setDivision, withStatements } from '../../core/recipe/edits/intents.ts';
	import { parseRecipe } from '../../core/recipe/language/parse.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import { cellsAlong } from '../../core/divide/along-chain.ts';
	import AlongPlot from './AlongPlot.svelte';
	import { chainPlots } from './along.ts';
	import Cell from './Cell.svelte';
	import CalculatorCard from './CalculatorCard.svelte';
	import PieceEnds from './PieceEnds.svelte';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import { wrongWith } from './checked.ts';
	import MissedMark from './MissedMark.svelte';
	import ThingName from './ThingName.svelte';
	import { pieceRow, short, spacingClause, targetGroups, type PieceRow } from './rows.ts';

	const desk = useDesk();
	let calculating = $state(false);
	/** What was copied from a row. */
	let copied = $state.raw<{ count: string; spacing: string } | undefined>();
	const selected = $derived(desk.selected('piece'));
	const pieces = $derived(desk.names.map((_, p) => p));
	const rowOf = (piece: number) => pieceRow(desk.result!, desk.names, piece);
	/** The row of a piece by its name. */
	const rowNamed = (name: string | undefined) => {
		const piece = name === undefined ? -1 : desk.names.indexOf(name);
		return desk.result && piece >= 0 ? rowOf(piece) : undefined;
	};
	const across = ({ division: { spacing } }: PieceRow) =>
		spacing.law === 'across' || spacing.law === 'like'
			? `as ${desk.names[spacing.piece]}`
			: spacing.law === 'sizes'
				? 'by sizes'
				: '–';
	const acrossTitle = ({ division: { spacing } }: PieceRow) =>
		spacing.law === 'across' || spacing.law === 'like'
			? `as ${desk.names[spacing.piece]}`
			: spacing.law === 'smoothed'
				? 'smoothed with the regions beside it'
				: 'even';
	const sources = { pinned: 'typed by you', carried: 'carried by a structured neighbour', derived: 'follows from a size' };

	/** Cells along what is selected, on wish. */
	let plotting = $state(false);
	const chains = $derived.by(() => {
		const { result } = desk;
		if (!plotting || !result) return undefined;
		const chosen = selected.map((name) => desk.names.indexOf(name)).filter((p) => p >= 0);
		return chainPlots(cellsAlong(result.arrangement, result.divisions.pieces, chosen));
	});

	/** An edit of a selected row is an edit of all selected rows. */
	const meant = (name: string) => (selected.includes(name) && selected.length > 1 ? selected : [name]);
	const say = (names: string[]) => (names.length === 1 ? names[0] : `${names.length} pieces`);

	function setCount(name: string, typed: string): void {
		const names = meant(name);
		const source = typed === '' ? null : countClause(typed);
		desk.edit(
			setDivision(desk.recipe, names, 'count', source, desk.names),
			`Divide ${say(names)}${typed === '' ? ' by size' : ` into ${typed}`}`
		);
	}

	function setSpacing(name: string, typed: string, toward: string, recipe = desk.recipe): void {
		const names = meant(name);
		if (typed === '') {
			desk.edit(setDivision(recipe, names, 'spacing', null, desk.names), `Even spacing on ${say(names)}`);
			return;
		}
		// Every piece has the end that it has; those that name it alike share a statement.
		const rows = names.map((n) => rowNamed(n)!);
		const { text } = targetGroups(rowNamed(name)!, rows, toward, desk.result!.arrangement).reduce(
			(before, group) => parseRecipe(setDivision(before, group.names, 'spacing', spacingClause(typed, group.toward), desk.names)),
			recipe
		);
		desk.edit(text, names.length === 1 ? `${spacingClause(typed, toward)} on ${name}` : `${typed} on ${say(names)}`);
	}

	const countClause = (typed: string) => (/^(by|into)\b/.test(typed) ? typed : `into ${typed}`);
	const usualTarget = (row: PieceRow) => row.toward || [...row.targets.start, ...row.targets.end][0] || 'both';

	/** Divides the selected pieces as one, into as many as they have together. */
	function divideAsOne(): void {
		const counts = selected.map((name) => desk.result!.divisions.pieces[desk.names.indexOf(name)]?.count ?? 0);
		const total = counts.reduce((a, b) => a + b, 0);
		const source = `divide ${selected.join(', ')} as one into ${total}`;
		desk.edit(applyEdits(desk.text, addStatement(desk.recipe, source)), `Divide ${say(selected)} as one`);
	}

	function copy(): void {
		const row = rowNamed(selected[0])!;
		copied = {
			count: row.division.source === 'pinned' ? `into ${row.countSource || row.division.count}` : row.countSource,
			spacing: row.spacing && spacingClause(row.spacing, row.toward)
		};
	}

	function paste(): void {
		let { recipe } = desk;
		for (const [clause, source] of Object.entries(copied!) as ['count' | 'spacing', string][])
			recipe = parseRecipe(setDivision(recipe, selected, clause, source || null, desk.names));
		desk.edit(recipe.text, `Paste the division on ${say(selected)}`);
	}
</script>

<div class="acts">
	<button class="action" onclick={() => (calculating = !calculating)} aria-expanded={calculating}>Calculate a size…</button>
	{#if selected.length > 1}<button class="action" onclick={divideAsOne}>Divide as one</button>{/if}
	{#if selected.length > 0}
		<button class="action" onclick={copy} disabled={selected.length !== 1} data-tip="Copy count and spacing of the selected piece"
			>Copy</button
		>
		<button
			class="action"
			onclick={paste}
			disabled={!copied}
			data-tip="Give the selected pieces the count and spacing that were copied">Paste</button
		>
		<button
			class="action"
			aria-pressed={plotting}
			data-tip="Plot the lengths of cells along the selected pieces, with the pieces that they go on into"
			onclick={() => (plotting = !plotting)}>Plot</button
		>
	{/if}
</div>
{#if calculating}<CalculatorCard
		targets={selected}
		onclose={() => (calculating = false)}
		onuse={(size, statements) => {
			for (const name of selected.slice(0, 1)) {
				const row = rowNamed(name)!;
				setSpacing(name, `first ${size}`, usualTarget(row), withStatements(desk.recipe, statements));
			}
		}}
	/>{/if}
{#if chains && chains.runs.length > 0}<AlongPlot runs={chains.runs} joints={chains.joints} label="cell length" />{/if}
{#if selected.length > 1}<p class="hint">
		{selected.length} pieces selected: an edit in one of their rows goes to all of them.
	</p>{:else if selected.length === 1}
	{@const row = rowNamed(selected[0])}
	{#if row}<PieceEnds {row} onset={(typed, toward) => setSpacing(row.name, typed, toward)} />{/if}
{/if}
<table>
	<thead>
		<tr>
			<th class="name">piece</th>
			<th data-tip="Number of divisions: a number, an expression, or `by size 1.5`; empty to let sizes decide">count</th>
			<th
				class="text"
				data-tip="bias 12, first 0.1, last 2, growth 1.2, first 0.1 growth 1.2, like other, positions 0.2, 0.5; a number alone is a bias; empty for even"
				>spacing</th
			>
			<th class="text" data-tip="Where the cells are smallest">toward</th>
			<th data-tip="First cell, at the start of the curve">first</th>
			<th data-tip="Last cell, at its end">last</th>
			<th data-tip="Largest ratio of neighbouring cells">ratio</th>
			<th data-tip="Ratio of the touching cells to the adjoining piece">jump</th>
		</tr>
	</thead>
	<VirtualRows rows={desk.result ? pieces : []} keyOf={(p) => desk.names[p] ?? String(p)} columns={8} shown={selected[0]}>
		{#snippet row(piece)}
			{@const row = rowOf(piece)}
			{@const { division } = row}
			<tr
				class:selected={desk.isSelected('piece', row.name)}
				class:hovered={desk.hover === thingKey('piece', row.name)}
				onpointerenter={() => (desk.hover = thingKey('piece', row.name))}
				onpointerleave={() => (desk.hover = '')}
			>
				<td class="name"
					><div class="piece">
						<ThingName kind="piece" name={row.name} /><MissedMark missed={missedOn(desk.result?.promises ?? [], piece)} />
					</div></td
				>
				<td class="count">
					<i class={division.source} data-tip="{division.count} divisions, {sources[division.source]}"></i>
					<Cell
						display={String(division.count)}
						source={row.countSource || (division.source === 'pinned' ? String(division.count) : '')}
						label="Divisions of {row.name}"
						namesNumbers
						title="{row.countSource || 'derived'}: {sources[division.source]}"
						check={(typed) => wrongWith(desk.newest, `divide ${row.name} ${countClause(typed)}`)}
						onset={(typed) => setCount(row.name, typed)}
					/>
				</td>
				<td class="text"
					><Cell
						display={row.spacing || across(row)}
						source={row.spacing}
						align="left"
						label="Spacing of {row.name}"
						title={row.spacing || acrossTitle(row)}
						check={(typed) => wrongWith(desk.newest, `divide ${row.name} ${spacingClause(typed, usualTarget(row))}`)}
						onset={(typed) => setSpacing(row.name, typed, usualTarget(row))}
					/></td
				>
				<td>
					<select
						aria-label="Spacing of {row.name} toward"
						value={row.toward}
						data-tip={row.toward}
						onchange={(event) =>
							setSpacing(row.name, event.currentTarget.value === '' ? '' : row.spacing || 'bias 2', event.currentTarget.value)}
					>
						<option value=""
							>{row.division.spacing.law === 'across' ? 'carried' : row.division.spacing.law === 'sizes' ? '–' : 'even'}</option
						>
						{#each new Set( [...(row.toward ? [row.toward] : []), ...row.targets.start, ...row.targets.end, 'both', 'middle'] ) as target (target)}<option
								value={target}>{target}</option
							>{/each}
					</select>
				</td>
				<td class="number">{short(division.figures.first)}</td>
				<td class="number">{short(division.figures.last)}</td>
				<td class="number">{division.figures.ratio < 1.0005 ? '1' : division.figures.ratio.toFixed(2)}</td>
				<td class="number" class:large={(row.jump ?? 1) > 1.5}
					>{row.jump === undefined ? '' : row.jump < 100 ? row.jump.toPrecision(3) : Math.round(row.jump)}</td
				>
			</tr>
		{/snippet}
	</VirtualRows>
</table>
{#if desk.names.length === 0}<p class="hint">No piece yet. Draw in Shape, or drop a coordinate file on the drawing.</p>{/if}
<p class="hint key">
	<i class="pinned"></i> typed <i class="carried"></i> carried across a block <i class="derived"></i> from a size
</p>

<style>
	table {
		table-layout: fixed;
	}
	.acts {
		display: flex;
		gap: 6px;
		padding: 6px 8px;
	}
	.piece {
		display: flex;
		align-items: baseline;
	}
	.name {
		width: 18%;
	}
	th:nth-child(2) {
		width: 11.5%;
	}
	th:nth-child(3) {
		width: 20%;
	}
	th:nth-child(4) {
		width: 11%;
	}
	th:nth-child(5),
	th:nth-child(6) {
		width: 11.5%;
	}
	td.number,
	th:nth-child(n + 5) {
		padding-inline: 2px;
	}
	td:last-child,
	th:last-child {
		padding-right: 6px;
	}
	td.large {
		color: var(--brick);
	}
	.count {
		position: relative;
		padding-left: 10px;
	}
	i {
		display: inline-block;
		width: 7px;
		height: 7px;
		border-radius: 50%;
	}
	.count i {
		position: absolute;
		top: 9px;
		left: 4px;
	}
	.pinned {
		background: var(--ink);
	}
	/* A diamond: not told by its colour alone. */
	.carried {
		border-radius: 0;
		transform: rotate(45deg) scale(0.85);
		background: var(--kingfisher);
	}
	.derived {
		border: 1px solid var(--quiet);
	}
	.key i {
		margin: 0 3px 0 8px;
	}
	td.number {
		overflow: hidden;
		color: var(--quiet);
		font-size: 11px;
		text-overflow: clip;
	}
</style>
