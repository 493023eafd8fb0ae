<script lang="ts">
	import Choice from '../controls/Choice.svelte';
	import { isA } from '../../core/recipe/language/statement.ts';
	import { size as sizeStatement } from '../../core/recipe/statements/size.ts';
	import { addStatement, removeStatement, setClause } from '../../core/recipe/edits/edits.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { withStatements } from '../../core/recipe/edits/intents.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import CalculatorCard from './CalculatorCard.svelte';
	import Cell from './Cell.svelte';
	import { wrongWith } from './checked.ts';

	/** Places with a size of their own: one row each, and a form for another. */
	const desk = useDesk();
	let size = $state('');
	let place = $state('');
	/** Why what was typed is not taken. */
	let wrong = $state('');
	let calculating = $state(false);
	/** The statements that the size needs, which go in with it. */
	let needed = $state('');

	const rows = $derived(
		desk.recipe.lines.flatMap((line, index) => {
			const { statement } = line;
			if (!isA(sizeStatement, statement) || !statement.zone) return [];
			const clause = (name: string) => {
				const span = statement.clauses.find((c) => c.name === name);
				return span ? desk.text.slice(line.from + span.from, line.from + span.to) : '';
			};
			return [{ index, line, size: clause('size'), zone: clause('zone'), fade: clause('fade').replace(/^fade\s+/, '') }];
		})
	);
	const pieces = $derived([...new Set(desk.selected('piece'))]);
	const places = $derived.by((): [string, string][] => {
		const { result } = desk;
		if (!result) return [];
		const names = pieces.join(', ');
		const round = (v: number) => Number(v.toPrecision(2));
		// Around what is selected, or else in the middle of the drawing.
		const chosen = pieces.flatMap((name) => {
			const piece = result.arrangement.pieces[desk.names.indexOf(name)];
			return piece ? [piece.start, piece.end] : [];
		});
		const middle = (v: Float64Array) => {
			const values = chosen.length > 0 ? chosen.map((j) => v[j]!) : [...v.subarray(0, 5000)];
			return values.length > 0 ? round((Math.min(...values) + Math.max(...values)) / 2) : 0;
		};
		// A few elements deep, and no more than a tenth of the drawing.
		const reach = round(Math.min(result.arrangement.diagonal / 10, 5 * result.fallbackSize));
		const [cx, cy] = [middle(result.arrangement.x), middle(result.arrangement.y)];
		return [
			...(pieces.length > 0 ? [['near pieces', `near ${names} within ${reach}`] as [string, string]] : []),
			['in a circle', `inside circle around (${cx}, ${cy}) radius ${reach}`],
			['in a box', `inside box (${round(cx - reach)}, ${round(cy - reach)}) to (${round(cx + reach)}, ${round(cy + reach)})`],
			...(pieces.length > 0
				? ([
						['in a closed curve', `inside ${names}`],
						['behind a body', `behind ${names} length ${round(3 * reach)} widening 5 deg`]
					] as [string, string][])
				: []),
			['at a point', `at (${cx}, ${cy})`],
			['everywhere, by curvature', 'by turn 36'],
			['everywhere, across gaps', 'by gap 4'],
			// A run's own values say where its next mesh is to be fine.
			...Object.keys(desk.files)
				.filter((name) => /\.vtu$/i.test(name))
				.map((name): [string, string] => [`by the result ${name}`, `from "${name}" error 0.01`])
		];
	});
	/** Whether the place says the size as well. */
	const isBy = $derived(/^(by|from)\b/.test(place.trim()));

	function add(event: SubmitEvent): void {
		event.preventDefault();
		const source = isBy ? `size ${place.trim()}` : `size ${size.trim()} ${place.trim()}`;
		wrong = (needed === '' ? wrongWith(desk.newest, source) : undefined) ?? '';
		if (wrong) return;
		const recipe = withStatements(desk.recipe, needed);
		desk.edit(applyEdits(recipe.text, addStatement(recipe, source)), `Size ${isBy ? '' : `${size} `}${place}`);
		needed = '';
		size = '';
		place = '';
	}

	/** The next field has the focus after a choice. */
	const focusNow = (field: HTMLInputElement) => field.focus();

	function set(row: (typeof rows)[number], clause: 'size' | 'zone' | 'fade', typed: string): void {
		if (typed === '' && clause !== 'fade') return;
		const source = clause === 'fade' ? (typed === '' ? null : `fade ${typed}`) : typed;
		desk.edit(applyEdits(desk.text, setClause(row.line, clause, source)), `Size ${row.size} ${row.zone}`);
	}
</script>

<div class="show"><Choice bind:checked={desk.showSizes}>show the sizes in the drawing, with contours</Choice></div>
<h3>Zones of another size</h3>
{#if rows.length > 0}
	<table aria-label="Zones of another size">
		<thead
			><tr
				><th>size</th><th class="text">where</th><th
					data-tip="Distance over which it goes over into the size around; empty for the growth">fade</th
				><th><span class="unseen">remove</span></th></tr
			></thead
		>
		<tbody>
			{#each rows as row (row.index)}
				<tr>
					<td
						>{#if row.size}<Cell
								display={row.size}
								source={row.size}
								label="Size {row.zone}"
								namesNumbers
								check={(typed) => wrongWith(desk.newest, `size ${typed} ${row.zone}`)}
								onset={(typed) => set(row, 'size', typed)}
							/>{/if}</td
					>
					<td class="where"
						><Cell
							display={row.zone}
							source={row.zone}
							align="left"
							label="Where size {row.size} holds"
							title={row.zone}
							check={(typed) => wrongWith(desk.newest, `size ${row.size} ${typed}`)}
							onset={(typed) => set(row, 'zone', typed)}
						/></td
					>
					<td
						>{#if row.size}<Cell
								display={row.fade || '–'}
								source={row.fade}
								label="Fade of {row.zone}"
								check={(typed) => wrongWith(desk.newest, `size ${row.size} ${row.zone} fade ${typed}`)}
								onset={(typed) => set(row, 'fade', typed)}
							/>{/if}</td
					>
					<td
						><button
							class="remove"
							aria-label="Remove size {row.zone}"
							data-tip="Remove"
							onclick={() =>
								desk.edit(applyEdits(desk.text, removeStatement(desk.recipe, row.index)), `Remove size ${row.size} ${row.zone}`)}
							>×</button
						></td
					>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
<form onsubmit={add}>
	<select
		aria-label="Where the new size holds"
		value=""
		onchange={(event) => {
			place = event.currentTarget.value;
			event.currentTarget.value = '';
		}}
	>
		<option value="" disabled>Add a size…</option>
		{#each places as [title, text] (title)}<option value={text}>{title}</option>{/each}
		{#if pieces.length === 0}<option disabled>near pieces, behind a body: select them first</option>{/if}
	</select>
	{#if place !== ''}
		{#if !isBy}<input
				class="field number"
				aria-label="New size"
				placeholder="size"
				bind:value={size}
				oninput={() => (wrong = '')}
				{@attach focusNow}
			/>{/if}
		<input class="field number place" aria-label="Place of the new size" bind:value={place} oninput={() => (wrong = '')} />
		<button class="action" disabled={!isBy && size.trim() === ''}>Add</button>
		<button
			class="action"
			type="button"
			onclick={() => {
				place = '';
				needed = '';
				wrong = '';
			}}>Cancel</button
		>
	{:else}
		<button class="action" type="button" aria-expanded={calculating} onclick={() => (calculating = !calculating)}
			>Calculate a size…</button
		>
	{/if}
</form>
{#if wrong}<p class="wrong" role="alert">{wrong}</p>{/if}
{#if calculating}<CalculatorCard
		gives="size"
		targets={['a new place']}
		onclose={() => (calculating = false)}
		onuse={(written, statements) => {
			size = written;
			needed = statements;
			place = places[0]![1];
			calculating = false;
		}}
	/>{/if}

<style>
	.wrong {
		padding: 0 8px 8px;
		color: var(--brick);
	}
	.show {
		display: flex;
		gap: 6px;
		padding: 8px 8px 0;
		font-size: 12px;
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
	th:nth-child(1) {
		width: 18%;
	}
	th:nth-child(3) {
		width: 14%;
	}
	th:nth-child(4) {
		width: 28px;
	}
	.remove {
		width: 22px;
		color: var(--quiet);
	}
	form {
		display: flex;
		flex-wrap: wrap;
		gap: 6px;
		padding: 4px 8px 8px;
	}
	form .field {
		width: 70px;
	}
	form .place {
		flex: 1;
		min-width: 180px;
	}
</style>
