<script lang="ts">
	import { language } from '../../core/recipe/language.ts';
	import { isA } from '../../core/recipe/statement.ts';
	import { parameter as parameterStatement } from '../../core/recipe/statements/let.ts';
	import { point as pointStatement } from '../../core/recipe/statements/point.ts';
	import { curveLength } from '../../core/geometry/curve.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { isLiteral, renameEverywhere } from '../../core/recipe/edits.ts';
	import { setCoordinate, setParameter } from '../../core/recipe/intents.ts';
	import { formatValue } from '../../core/recipe/evaluate.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import type { Statement } from '../../core/recipe/syntax.ts';
	import { wrongWith } from './checked.ts';
	import Cell from './Cell.svelte';
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

	function rename(from: string, to: string): void {
		const taken =
			result!.model.curvesByName.has(to) ||
			result!.model.points.some((p) => p.name === to) ||
			result!.model.parameters.some((p) => p.name === to);
		if (!/^[\p{L}_][\p{L}\p{N}_]*$/u.test(to) || taken)
			desk.notice = `${to} cannot be the name: names have letters, digits and _, and each is used once`;
		else desk.edit(applyEdits(desk.text, renameEverywhere(desk.recipe, 'value', from, to)), `Rename ${from} to ${to}`);
	}
</script>

{#if result}
	{#if result.model.parameters.length > 0}
		<h3>Parameters</h3>
		<table>
			<tbody>
				{#each result.model.parameters as parameter (parameter.name)}
					{@const source = written(parameter.line, 'value')}
					<tr>
						<td class="name"
							><Cell
								display={parameter.name}
								align="left"
								label="Name of parameter {parameter.name}"
								onset={(typed) => rename(parameter.name, typed)}
							/></td
						>
						<td class="value"
							><Cell
								display={formatValue(parameter.value, parameter.dimension, result.model.units)}
								source={source.text}
								label="Value of {parameter.name}"
								title={source.text}
								check={(typed) => wrongWith(desk.newest, `let checked_value = ${typed}`)}
								onset={(typed) => desk.edit(setParameter(desk.recipe, parameter.name, typed), `${parameter.name} = ${typed}`)}
							/></td
						>
						<td class="slider">
							{#if parameter.range && source.literal}
								<input
									type="range"
									aria-label="{parameter.name}, from {parameter.range.low} to {parameter.range.high}"
									min={parameter.range.low}
									max={parameter.range.high}
									step={Number.isInteger(parameter.range.low) &&
									Number.isInteger(parameter.range.high) &&
									Number.isInteger(parameter.value)
										? 1
										: (parameter.range.high - parameter.range.low) / 100}
									value={parameter.value}
									oninput={(event) =>
										desk.typeText(
											setParameter(desk.recipe, parameter.name, String(Number(event.currentTarget.valueAsNumber.toPrecision(6)))),
											true
										)}
									onchange={() => desk.finishTyping()}
								/>
							{:else if !source.literal}<span class="formula number" title={source.text}>= {source.text}</span>{/if}
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
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
					<td class="name"
						><button onclick={(event) => desk.select([thingKey('point', point.name)], event.shiftKey || event.ctrlKey)}
							>{point.name}</button
						></td
					>
					{#each ['x', 'y'] as const as axis (axis)}
						{@const source = written(point.line, axis)}
						<td class:locked={!source.literal}>
							<Cell
								display={String(Number(point[axis].toPrecision(9)))}
								source={source.text}
								disabled={source.text === ''}
								label="{axis} of {point.name}"
								title={source.literal ? '' : source.text || 'defined by another point; change it in the recipe'}
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
					<td class="name"
						><button
							onclick={(event) =>
								desk.select(
									curve.pieces.map((p) => thingKey('piece', p)),
									event.shiftKey || event.ctrlKey
								)}>{curve.name}</button
						></td
					>
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
	.slider input {
		width: 100%;
		accent-color: var(--kingfisher);
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
