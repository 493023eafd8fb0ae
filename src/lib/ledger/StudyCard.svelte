<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { addStatement, removeStatement } from '../../core/recipe/edits/edits.ts';
	import { studiesOf, type StudyStatement } from '../../core/recipe/statements/study.ts';
	import { type StudyCase } from '../../core/study/cases.ts';
	import type { Parameter } from '../../core/recipe/model/model.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { studyCases } from '../../formats/study.ts';
	import { fetchFile } from '../api/client.ts';
	import { freeName } from '../../core/recipe/edits/intents.ts';
	import NewStudy from './NewStudy.svelte';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** The studies of the recipe, and a new one at a click: over the range of a slider, or by refinement. */
	const desk = useDesk();
	let open = $state.raw<{ study: StudyStatement; cases: StudyCase[] } | undefined>();
	let problem = $state('');
	/** Whether a study is being filled in. */
	let isFilling = $state(false);
	const studies = $derived(desk.result ? studiesOf(desk.result.model) : []);
	const ranged = $derived(desk.result?.model.parameters.filter((p) => p.range) ?? []);

	async function show(study: StudyStatement): Promise<void> {
		problem = '';
		try {
			const texts: Record<string, string> = {};
			if (study.kind === 'table') texts[study.file] = new TextDecoder().decode(await fetchFile(desk.files[study.file]!));
			open = { study, cases: studyCases(study, desk.result!.model, (name) => texts[name]!) };
		} catch (error) {
			problem = `${sentenceOf(error, 'the study')}.`;
		}
	}

	function add(what: string): void {
		if (what === '') return;
		const name = freeName(desk.recipe, 'study_');
		const parameter = ranged.find((p) => p.name === what);
		const source = `study ${name} = ${parameter ? valuesOf(parameter) : 'refine 3 levels by 2'}`;
		desk.edit(applyEdits(desk.text, addStatement(desk.recipe, source)), `Study ${name}`);
	}

	/** Seven values over the range of a parameter; one that is a whole number takes whole numbers. */
	function valuesOf({ name, value, range }: Parameter): string {
		const { low, high } = range!;
		if (![value, low, high].every(Number.isInteger)) return `${name} from ${low} to ${high} in 7`;
		const values = Array.from({ length: 7 }, (_, k) => Math.round(low + ((high - low) * k) / 6));
		return `${name} in ${[...new Set(values)].join(', ')}`;
	}

	const sourceOf = (line: number) => {
		const { from, to } = desk.result!.recipe.lines[line]!;
		return desk.result!.recipe.text.slice(from, to);
	};
	function drop(line: number): void {
		const source = sourceOf(line);
		const index = desk.lineNow(line);
		if (index >= 0) desk.edit(applyEdits(desk.text, removeStatement(desk.recipe, index)), `No longer ${source}`);
	}
</script>

<h3>Studies: one recipe, many runs</h3>
{#each studies as study (study.line)}
	<div class="study-row">
		<code>{sourceOf(study.line)}</code>
		<button class="action main" disabled={!desk.isCurrent} onclick={() => show(study)}>Open {study.name}</button>
		<button
			class="remove"
			aria-label="No longer study {study.name}"
			data-tip="Take it out of the recipe"
			onclick={() => drop(study.line)}>×</button
		>
	</div>
{/each}
<select
	class="field"
	aria-label="New study"
	value=""
	onchange={(event) => {
		add(event.currentTarget.value);
		event.currentTarget.value = '';
	}}
>
	<option value="">new study…</option>
	{#each ranged as { name, range } (name)}<option value={name}>{name} from {range!.low} to {range!.high}</option>{/each}
	<option value="refine levels">finer and finer, for grid convergence</option>
</select>
<button class="action" aria-expanded={isFilling} onclick={() => (isFilling = !isFilling)}>Choose values…</button>
{#if isFilling}<NewStudy onclose={() => (isFilling = false)} />{/if}
{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
{#if open}
	{#await import('../study/StudyView.svelte') then { default: StudyView }}
		<StudyView study={open.study} cases={open.cases} onclose={() => (open = undefined)} />
	{/await}
{/if}

<style>
	.study-row {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 4px 0;
	}
	code {
		flex: 1;
		min-width: 0;
		font-family: 'IBM Plex Mono', monospace;
		font-size: 12px;
		white-space: normal;
		overflow-wrap: anywhere;
	}
	.remove {
		width: 20px;
		color: var(--quiet);
		cursor: pointer;
	}
	.problem {
		color: var(--brick);
	}
</style>
