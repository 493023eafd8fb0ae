<script lang="ts">
	import { setDivision } from '../../core/recipe/intents.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import Cell from './Cell.svelte';
	import { pieceRow, rowLimit, short } from './rows.ts';

	const desk = useDesk();
	const selected = $derived(desk.selected('piece'));
	const shown = $derived.by(() => {
		const all = desk.names.map((_, p) => p);
		if (all.length <= rowLimit) return all;
		return [...all.filter((p) => selected.includes(desk.names[p]!)), ...all.slice(0, rowLimit)];
	});
	const rows = $derived(desk.result ? [...new Set(shown)].map((p) => pieceRow(desk.result!, desk.names, p)) : []);
	const sources = { pinned: 'typed by you', carried: 'carried by a structured neighbour', derived: 'follows from a size' };

	/** An edit of a selected row is an edit of all selected rows. */
	const meant = (name: string) => (selected.includes(name) && selected.length > 1 ? selected : [name]);
	const say = (names: string[]) => (names.length === 1 ? names[0] : `${names.length} pieces`);

	function setCount(name: string, typed: string): void {
		const names = meant(name);
		const source = typed === '' ? null : /^(by|into)\b/.test(typed) ? typed : `into ${typed}`;
		desk.edit(
			setDivision(desk.recipe, names, 'count', source, desk.names),
			`Divide ${say(names)}${typed === '' ? ' by size' : ` into ${typed}`}`
		);
	}

	function setBias(name: string, bias: string, toward: string): void {
		const names = meant(name);
		const source = bias === '' || toward === '' ? null : `bias ${bias} toward ${toward}`;
		desk.edit(
			setDivision(desk.recipe, names, 'spacing', source, desk.names),
			source ? `${source} on ${say(names)}` : `Even spacing on ${say(names)}`
		);
	}

	function select(event: MouseEvent | KeyboardEvent, name: string): void {
		desk.select([thingKey('piece', name)], event.shiftKey || event.ctrlKey || event.metaKey);
	}
</script>

{#if selected.length > 1}<p class="hint">
		{selected.length} pieces selected: an edit in one of their rows goes to all of them.
	</p>{/if}
<table>
	<thead>
		<tr>
			<th class="name">piece</th>
			<th title="Number of divisions: a number, an expression, or `by size 1.5`; empty to let sizes decide">count</th>
			<th title="Largest cell over smallest; empty for even spacing">bias</th>
			<th class="text" title="Where the cells are smallest">toward</th>
			<th title="First cell, at the start of the curve">first</th>
			<th title="Last cell, at its end">last</th>
			<th title="Largest ratio of neighbouring cells">ratio</th>
		</tr>
	</thead>
	<tbody>
		{#each rows as row (row.name)}
			{@const { division } = row}
			<tr
				class:selected={desk.isSelected('piece', row.name)}
				class:hovered={desk.hover === thingKey('piece', row.name)}
				onpointerenter={() => (desk.hover = thingKey('piece', row.name))}
				onpointerleave={() => (desk.hover = '')}
			>
				<td class="name"><button onclick={(event) => select(event, row.name)} title={row.name}>{row.name}</button></td>
				<td class="count">
					<i class={division.source} title="{division.count} divisions, {sources[division.source]}"></i>
					<Cell
						display={String(division.count)}
						source={row.countSource || (division.source === 'pinned' ? String(division.count) : '')}
						label="Divisions of {row.name}"
						title="{row.countSource || 'derived'}: {sources[division.source]}"
						onset={(typed) => setCount(row.name, typed)}
					/>
				</td>
				<td
					><Cell
						display={row.bias || (division.spacing.law === 'across' ? '↔' : '–')}
						source={row.bias}
						label="Bias of {row.name}"
						onset={(typed) =>
							setBias(
								row.name,
								typed,
								row.toward.startsWith('as ') ? (row.targets[0] ?? 'both') : row.toward || row.targets[0] || 'both'
							)}
					/></td
				>
				<td>
					<select
						aria-label="Bias of {row.name} toward"
						value={row.toward}
						title={row.toward}
						onchange={(event) =>
							setBias(row.name, event.currentTarget.value === '' ? '' : row.bias || '2', event.currentTarget.value)}
					>
						<option value="">even</option>
						{#if row.toward.startsWith('as ')}<option value={row.toward} disabled>{row.toward}</option>{/if}
						{#each new Set( [...(row.toward && !row.toward.startsWith('as ') ? [row.toward] : []), ...row.targets, 'both', 'middle'] ) as target (target)}<option
								value={target}>{target}</option
							>{/each}
					</select>
				</td>
				<td class="number">{short(division.figures.first)}</td>
				<td class="number">{short(division.figures.last)}</td>
				<td class="number">{division.figures.ratio < 1.0005 ? '1' : division.figures.ratio.toFixed(3)}</td>
			</tr>
		{/each}
	</tbody>
</table>
{#if desk.names.length > rowLimit}<p class="hint">
		{desk.names.length - rowLimit} more pieces: select them in the drawing to see their rows.
	</p>{/if}
{#if desk.names.length === 0}<p class="hint">No piece yet. Draw in Shape, or drop a coordinate file on the drawing.</p>{/if}
<p class="hint key">
	<i class="pinned"></i> typed <i class="carried"></i> carried across a block <i class="derived"></i> from a size
</p>

<style>
	table {
		table-layout: fixed;
	}
	.name {
		width: 23%;
	}
	th:nth-child(2) {
		width: 14%;
	}
	th:nth-child(3) {
		width: 10%;
	}
	th:nth-child(4) {
		width: 23%;
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
	.carried {
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
