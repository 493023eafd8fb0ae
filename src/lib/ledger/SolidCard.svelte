<script lang="ts">
	import { addStatement, removeStatement, setClause } from '../../core/recipe/edits/edits.ts';
	import { linesOf } from '../../core/recipe/language/statement.ts';
	import { solid as solidRecord, type SolidStatement } from '../../core/recipe/statements/solid.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import Cell from './Cell.svelte';
	import { wrongWith } from './checked.ts';
	import { short } from './rows.ts';

	/** What the plane mesh becomes in space, if anything. */
	const { solid }: { solid: SolidStatement | undefined } = $props();
	const desk = useDesk();
	const line = $derived(linesOf(desk.recipe.lines, solidRecord).at(-1)?.line);
	const isTurned = $derived(desk.result?.model.frame.kind === 'axisymmetric');
	const form = $derived(
		solid === undefined ? 'plane' : solid.shape.kind === 'slab' ? 'slab' : solid.shape.into === 1 ? 'wedge' : 'revolve'
	);
	const usual: Record<string, string> = {
		slab: 'solid slab 1 into 1 sides front, back',
		wedge: 'solid wedge 4 deg sides wedge_front, wedge_back',
		revolve: 'solid revolve 90 deg into 12 sides side_front, side_back'
	};

	function choose(kind: string): void {
		const { recipe } = desk;
		const without = line ? applyEdits(desk.text, removeStatement(recipe, recipe.lines.indexOf(line))) : desk.text;
		if (kind === 'plane') desk.edit(without, 'Delivered in the plane');
		else if (line)
			desk.edit(applyEdits(desk.text, [{ from: line.from, to: line.to, insert: usual[kind]! }]), `Delivered as a ${kind}`);
		else desk.edit(applyEdits(desk.text, addStatement(recipe, usual[kind]!)), `Delivered as a ${kind}`);
	}

	/** A clause of the statement as it is written, without the word that leads it. */
	const written = (clause: string, lead: string) => {
		const span = line?.statement?.clauses.find((c) => c.name === clause);
		return line && span
			? desk.text
					.slice(line.from + span.from, line.from + span.to)
					.replace(lead, '')
					.trim()
			: '';
	};
	const fields = $derived(
		form === 'plane'
			? []
			: form === 'slab'
				? [
						{ clause: 'shape', lead: 'slab', label: 'thickness' },
						{ clause: 'into', lead: 'into', label: 'layers' },
						{ clause: 'growth', lead: 'growth', label: 'growth' },
						{ clause: 'sides', lead: 'sides', label: 'sides' }
					]
				: [
						{
							clause: 'shape',
							lead: form === 'wedge' && !written('shape', '').startsWith('revolve') ? 'wedge' : 'revolve',
							label: 'angle'
						},
						...(form === 'revolve' ? [{ clause: 'into', lead: 'into', label: 'cells' }] : []),
						{ clause: 'sides', lead: 'sides', label: 'sides' }
					]
	);

	function set({ clause, lead, label }: (typeof fields)[number], typed: string): void {
		if (!line || (typed === '' && clause === 'shape')) return;
		desk.edit(
			applyEdits(desk.text, setClause(line, clause, typed === '' ? null : `${lead} ${typed}`)),
			`${label} of the solid: ${typed}`
		);
	}

	/** What is wrong with a value; what it does not fit to is reported among the findings. */
	function checked({ clause }: (typeof fields)[number], typed: string): string | undefined {
		if (typed === '') return undefined;
		if (clause === 'sides')
			return /^\s*[\p{L}_][\p{L}\p{N}_]*\s*,\s*[\p{L}_][\p{L}\p{N}_]*\s*$/u.test(typed)
				? undefined
				: 'The two flat sides have a name each, like front, back.';
		return wrongWith(desk.newest, `let checked_value = ${typed}`);
	}

	const says = $derived.by(() => {
		const { result } = desk;
		if (!solid || !result) return '';
		const cells = (solid.shape.kind === 'slab' ? solid.shape.layers : solid.shape.into) * desk.elements;
		return `about ${cells.toLocaleString('en')} cells${solid.shape.kind === 'revolve' ? `, ${short((solid.shape.angle * 180) / Math.PI)}° about the ${result.model.frame.kind === 'axisymmetric' ? result.model.frame.axis : 'x'} axis` : ''}`;
	});
</script>

<h3>In space</h3>
<div class="solid">
	<select
		class="field"
		aria-label="What the mesh is delivered as"
		value={form}
		onchange={(event) => choose(event.currentTarget.value)}
	>
		<option value="plane">in the plane</option>
		<option value="slab">slab</option>
		<option value="wedge" disabled={!isTurned}>wedge{isTurned ? '' : ' (axisymmetric frame)'}</option>
		<option value="revolve" disabled={!isTurned}>body of revolution{isTurned ? '' : ' (axisymmetric frame)'}</option>
	</select>
	{#each fields as field (field.clause)}
		<label
			>{field.label}
			<Cell
				display={written(field.clause, field.lead) || '–'}
				source={written(field.clause, field.lead)}
				label="{field.label} of the solid"
				namesNumbers
				check={(typed) => checked(field, typed)}
				onset={(typed) => set(field, typed)}
			/></label
		>
	{/each}
</div>
{#if says}<p class="hint">{says}</p>{/if}
{#if solid}
	{#await import('./SolidPicture.svelte') then { default: SolidPicture }}<SolidPicture />{/await}
{/if}

<style>
	.solid {
		display: grid;
		grid-template-columns: 1fr 1fr;
		gap: 4px 10px;
		align-items: center;
		font-size: 12px;
	}
	select {
		grid-column: 1 / -1;
	}
	label {
		display: grid;
		grid-template-columns: 62px 1fr;
		align-items: center;
		color: var(--quiet);
	}
</style>
