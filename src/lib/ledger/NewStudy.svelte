<script lang="ts">
	import { addStatement } from '../../core/recipe/edits/edits.ts';
	import { freeName } from '../../core/recipe/edits/intents.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { counted } from '../../core/text/sentences.ts';
	import Choice from '../controls/Choice.svelte';
	import Segments from '../controls/Segments.svelte';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { wrongWith } from './checked.ts';
	import { casesIn, type StudyRow, studySource } from './study-draft.ts';

	/** A study as it is filled in: its parameters, each in even steps or by a list, all with all or one with one. */
	const { onclose }: { onclose: () => void } = $props();
	const desk = useDesk();
	const parameters = $derived(desk.result?.model.parameters ?? []);

	/** A row for the first parameter that has none, over its range or 10 % about its value. */
	function freshRow(taken: readonly StudyRow[]): StudyRow | undefined {
		const parameter = parameters.find(({ name }) => !taken.some((row) => row.parameter === name));
		if (!parameter) return undefined;
		const { name, value, range } = parameter;
		const brief = (v: number) => String(Number(v.toPrecision(6)));
		const { low, high } = range ?? { low: value * 0.9, high: value * 1.1 };
		return { parameter: name, way: 'steps', low: brief(low), high: brief(high), count: '5', list: brief(value) };
	}
	const first = freshRow([]);
	let rows = $state<StudyRow[]>(first ? [first] : []);
	let paired = $state(false);
	let name = $state(freeName(desk.recipe, 'study_'));
	const source = $derived(studySource(name.trim(), rows, paired));
	const cases = $derived(casesIn(rows, paired));
	const wrong = $derived(
		rows.length === 0 ? 'a study varies parameters, and the recipe has none' : wrongWith(desk.newest, source)
	);

	function add(event: SubmitEvent): void {
		event.preventDefault();
		if (wrong) return;
		desk.edit(applyEdits(desk.text, addStatement(desk.recipe, source)), `Study ${name.trim()}`);
		onclose();
	}
</script>

<form class="card" aria-label="New study" onsubmit={add}>
	<label class="line">name <input class="field" bind:value={name} spellcheck="false" /></label>
	{#each rows as row, k (k)}
		<div class="row">
			<select class="field" aria-label="Parameter {k + 1}" bind:value={row.parameter}>
				{#each parameters as { name } (name)}<option>{name}</option>{/each}
			</select>
			<Segments
				label="Values of {row.parameter}"
				value={row.way}
				items={[
					{ value: 'steps', title: 'even steps' },
					{ value: 'list', title: 'listed' }
				]}
				onchoose={(way) => (row.way = way)}
			/>
			{#if rows.length > 1}<button
					type="button"
					class="remove"
					aria-label="No longer vary {row.parameter}"
					onclick={() => rows.splice(k, 1)}>×</button
				>{/if}
		</div>
		<div class="line">
			{#if row.way === 'steps'}
				<label>from <input class="field number" aria-label="First value of {row.parameter}" bind:value={row.low} /></label>
				<label>to <input class="field number" aria-label="Last value of {row.parameter}" bind:value={row.high} /></label>
				<label
					>in <input class="field number count" aria-label="How many values of {row.parameter}" bind:value={row.count} /></label
				>
			{:else}<input
					class="field number list"
					aria-label="Values of {row.parameter}, with commas between them"
					placeholder="0.4, 0.5, 0.7"
					bind:value={row.list}
				/>{/if}
		</div>
	{/each}
	<div class="line">
		<button
			type="button"
			class="action"
			disabled={rows.length >= parameters.length}
			onclick={() => {
				const row = freshRow(rows);
				if (row) rows.push(row);
			}}>One more parameter</button
		>
		{#if rows.length > 1}<Choice bind:checked={paired}>one with one, not all with all</Choice>{/if}
	</div>
	<code>{source}</code>
	{#if wrong}<p class="problem" role="status">{wrong}</p>{/if}
	<div class="line end">
		<span class="quiet">{cases === undefined ? '' : counted(cases, 'case')}</span>
		<button class="action main" disabled={wrong !== undefined}>Add the study</button>
		<button type="button" class="action" onclick={onclose}>Close</button>
	</div>
</form>

<style>
	.card {
		display: grid;
		gap: 6px;
		margin: 6px 0;
		padding: 8px 10px;
		border: 1px solid var(--edge);
		border-radius: 4px;
	}
	.line,
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 8px;
		align-items: center;
	}
	.row select {
		flex: 1;
		min-width: 0;
	}
	.line .number {
		width: 76px;
	}
	.line .count {
		width: 48px;
	}
	.line .list {
		flex: 1;
		width: auto;
	}
	.end {
		justify-content: flex-end;
	}
	.remove {
		color: var(--quiet);
		cursor: pointer;
	}
	code {
		font-family: 'IBM Plex Mono', monospace;
		font-size: 12px;
		overflow-wrap: anywhere;
	}
	.quiet {
		flex: 1;
		color: var(--quiet);
	}
	.problem {
		color: var(--brick);
	}
</style>
