<script lang="ts">
	import RangeSlider from '../controls/RangeSlider.svelte';
	import { language } from '../../core/recipe/language/language.ts';
	import { isA } from '../../core/recipe/language/statement.ts';
	import { parameter as parameterStatement } from '../../core/recipe/statements/let.ts';
	import { point as pointStatement } from '../../core/recipe/statements/point.ts';
	import { curveLength } from '../../core/geometry/curve.ts';
	import { isLiteral } from '../../core/recipe/language/literals.ts';
	import { addStatements, setCoordinate, setParameter } from '../../core/recipe/edits/intents.ts';
	import { formatValue } from '../../core/recipe/model/evaluate.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import type { Statement } from '../../core/recipe/language/syntax.ts';
	import type { Parameter } from '../../core/recipe/model/model.ts';
	import { namedNumber, whyNoName } from '../../core/recipe/edits/naming.ts';
	import { asSentence, wrongName, wrongWith } from './checked.ts';
	import ThingName from './ThingName.svelte';
	import Cell from './Cell.svelte';
	import PartsList from './PartsList.svelte';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import { short } from './rows.ts';

	const desk = useDesk();
	const result = $derived(desk.result);
	const titleOf = (statement: Statement | undefined) => (statement ? language().recordOf(statement).title.toLowerCase() : '');
	const curves = $derived.by(() => {
		if (!result) return [];
		return [...result.model.curvesByName]
			.filter(([name]) => !name.includes('.'))
			.map(([name, list]) => ({
				name,
				kind: titleOf(result.recipe.lines[result.model.curveLines[list[0]!]!]?.statement),
				length: list.reduce((sum, c) => sum + curveLength(result.model.curves[c]!), 0),
				pieces: list.flatMap((c) => result.arrangement.byCurve[c]!).map((p) => desk.names[p.piece]!)
			}));
	});

	/** The text of an expression in a statement of the result. */
	function written(line: number, pick: 'value' | 'x' | 'y'): { text: string; literal: boolean } {
		const entry = result!.recipe.lines[line]!;
		const { statement } = entry;
		const expression = isA(parameterStatement, statement)
			? statement.value
			: isA(pointStatement, statement) && statement.at.kind === 'pair' && pick !== 'value'
				? statement.at[pick]
				: undefined;
		if (!expression) return { text: '', literal: false };
		return {
			text: result!.recipe.text.slice(entry.from + expression.from, entry.from + expression.to),
			literal: isLiteral(expression)
		};
	}

	let fresh = $state('');
	let wrongFresh = $state('');

	/** A new parameter as it is typed: `D = 80`, `D = 80 range 40 to 100`. */
	function addParameter(event: SubmitEvent): void {
		event.preventDefault();
		const named = namedNumber(fresh);
		const reason = named
			? (whyNoName(desk.recipe, 'value', named.name) ?? wrongWith(desk.newest, named.statement))
			: 'a parameter is a name and a value, like D = 80, and perhaps a range for a slider: D = 80 range 40 to 100';
		wrongFresh = reason === undefined ? '' : asSentence(reason);
		if (reason !== undefined) return;
		desk.edit(addStatements(desk.recipe, [named!.statement]), `Parameter ${named!.name}`);
		fresh = '';
	}

	/** A slider's step: whole numbers where all are whole, otherwise a round number that makes some hundred steps. */
	function sliderStep({ value, range }: Parameter): number {
		const { low, high } = range!;
		if ([low, high, value].every(Number.isInteger) && high - low >= 4) return 1;
		const rough = (high - low) / 100;
		const power = 10 ** Math.floor(Math.log10(rough));
		return Number((power * ([1, 2, 5].findLast((lead) => lead * power <= rough * (1 + 1e-9)) ?? 1)).toPrecision(3));
	}

	const deleteParameter = (name: string) => desk.delete({ values: [name], regions: [], groups: [] });
</script>

{#if result}
	<h3>Parameters</h3>
	{#if result.model.parameters.length > 0}
		<table class="parameters">
			<tbody>
				{#each result.model.parameters as parameter (parameter.name)}
					{@const source = written(parameter.line, 'value')}
					<tr>
						<td class="name"
							><Cell
								display={parameter.name}
								align="left"
								label="Name of parameter {parameter.name}"
								check={(typed) => wrongName(desk.recipe, 'value', parameter.name, typed)}
								onset={(typed) => typed !== '' && desk.rename('point', parameter.name, typed)}
							/></td
						>
						<td class="value"
							><Cell
								display={formatValue(parameter.value, parameter.dimension, result.model.units)}
								source={source.text}
								label="Value of {parameter.name}"
								title={source.text}
								check={(typed) => wrongWith(desk.newest, `let checked_value = ${typed}`)}
								onset={(typed) =>
									typed !== '' && desk.edit(setParameter(desk.recipe, parameter.name, typed), `${parameter.name} = ${typed}`)}
							/></td
						>
						<td class="slider">
							{#if parameter.range && source.literal}
								<RangeSlider
									label="{parameter.name}, from {parameter.range.low} to {parameter.range.high}"
									min={parameter.range.low}
									max={parameter.range.high}
									step={sliderStep(parameter)}
									value={parameter.value}
									onslide={(value) =>
										desk.typeText(setParameter(desk.recipe, parameter.name, String(Number(value.toPrecision(6)))), true)}
									onrest={() => desk.finishTyping()}
								/>
							{:else if !source.literal}<span class="formula number" data-tip={source.text}>= {source.text}</span>{/if}
						</td>
						<td class="act"
							><button
								aria-label="Delete parameter {parameter.name}"
								data-tip="Delete this parameter"
								onclick={() => deleteParameter(parameter.name)}>×</button
							></td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	<form class="fresh" onsubmit={addParameter}>
		<input
			class="field number"
			aria-label="New parameter"
			placeholder="D = 80 range 40 to 100"
			data-tip="A name and a value; with a range it has a slider. D = 80 can also be typed into any number of the drawing"
			autocomplete="off"
			spellcheck="false"
			bind:value={fresh}
			oninput={() => (wrongFresh = '')}
		/>
		<button class="action" disabled={fresh.trim() === ''}>Add</button>
	</form>
	{#if wrongFresh}<p role="alert" class="wrong">{wrongFresh}</p>{/if}
	<PartsList />
	<h3>Points</h3>
	<table>
		<thead><tr><th>point</th><th>x</th><th>y</th></tr></thead>
		<VirtualRows rows={result.model.points} keyOf={(p) => p.name} columns={3} shown={desk.selected('point')[0]}>
			{#snippet row(point)}
				<tr
					class:selected={desk.isSelected('point', point.name)}
					class:hovered={desk.hover === thingKey('point', point.name)}
					onpointerenter={() => (desk.hover = thingKey('point', point.name))}
					onpointerleave={() => (desk.hover = '')}
				>
					<td class="name"><ThingName kind="point" name={point.name} /></td>
					{#each ['x', 'y'] as const as axis (axis)}
						{@const source = written(point.line, axis)}
						<td class:locked={!source.literal}>
							<Cell
								display={String(Number(point[axis].toPrecision(9)))}
								source={source.text}
								disabled={source.text === ''}
								label="{axis} of {point.name}"
								title={source.literal ? '' : source.text || 'defined by another point; change it in the recipe'}
								namesNumbers
								check={(typed) => wrongWith(desk.newest, `point checked_place = (${typed}, 0)`)}
								onset={(typed) =>
									typed !== '' && desk.edit(setCoordinate(desk.recipe, point.name, axis, typed), `Move ${point.name}`)}
							/>
						</td>
					{/each}
				</tr>
			{/snippet}
		</VirtualRows>
	</table>
	{#if result.model.points.length === 0}<p class="hint">None yet.</p>{/if}
	<h3>Curves</h3>
	<table>
		<thead><tr><th>curve</th><th class="text">kind</th><th>length</th><th>pieces</th></tr></thead>
		<VirtualRows rows={curves} keyOf={(c) => c.name} columns={3}>
			{#snippet row(curve)}
				<tr
					class:selected={curve.pieces.some((p) => desk.isSelected('piece', p))}
					class:hovered={curve.pieces.some((p) => desk.hover === thingKey('piece', p))}
					onpointerenter={() => (desk.hover = thingKey('piece', curve.pieces[0] ?? ''))}
					onpointerleave={() => (desk.hover = '')}
				>
					<td class="name"><ThingName kind="piece" name={curve.name} selects={curve.pieces} /></td>
					<td class="quiet">{curve.kind}</td>
					<td class="number">{short(curve.length)}</td>
					<td class="number">{curve.pieces.length}</td>
				</tr>
			{/snippet}
		</VirtualRows>
	</table>
	{#if curves.length === 0}<p class="hint">None yet. Pick a tool above the drawing, or drop a coordinate file on it.</p>{/if}
{/if}

<style>
	h3 {
		padding: 8px 8px 2px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	.value {
		width: 92px;
	}
	.slider {
		width: 130px;
		overflow: hidden;
	}
	.act {
		width: 20px;
	}
	.act button {
		padding: 0 4px;
		color: var(--quiet);
		cursor: pointer;
	}
	.act button:hover {
		color: var(--brick);
	}
	.fresh {
		display: flex;
		gap: 6px;
		padding: 4px 8px;
	}
	.fresh input {
		flex: 1;
		min-width: 0;
	}
	.wrong {
		padding: 2px 8px;
		color: var(--brick);
	}
	.formula {
		display: block;
		overflow: hidden;
		padding-left: 6px;
		color: var(--quiet);
		font-size: 11px;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.locked {
		background: repeating-linear-gradient(-45deg, transparent 0 5px, color-mix(in srgb, var(--edge) 45%, transparent) 5px 6px);
	}
	.quiet {
		color: var(--quiet);
	}
</style>
