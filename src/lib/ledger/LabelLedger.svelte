<script lang="ts">
	import { groupFigures } from '../../core/figures/group-figures.ts';
	import type { MeshGroup } from '../../core/mesh/mesh.ts';
	import { labelPieces, labelRegions, moveGroup } from '../../core/recipe/edits/intents.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import BoundsTable from './BoundsTable.svelte';
	import GroupRow from './GroupRow.svelte';
	import LabelProblems from './LabelProblems.svelte';
	import Missing from './Missing.svelte';
	import NewGroup from './NewGroup.svelte';

	const desk = useDesk();
	const pieces = $derived(desk.selected('piece'));
	/** Regions are labelled where no piece is selected: a material. */
	const regions = $derived(pieces.length > 0 ? [] : [...new Set(desk.selected('region').map((r) => r.replace(/\[\d+\]$/, '')))]);
	const chosen = $derived(desk.selected('group'));
	const groups = $derived(desk.result ? groupFigures(desk.result.mesh) : []);
	const statementOf = (group: MeshGroup) => (group.members === 'edges' && group.baffle) || group.name;
	let dragged = $state<string | undefined>();

	/** The statements that an edit of a row is for: those of all selected groups, where it is one of them. */
	const statementsFor = (name: string) => [
		...new Set(
			groups.flatMap(({ group }) => ((chosen.includes(name) ? chosen : [name]).includes(group.name) ? [statementOf(group)] : []))
		)
	];

	/** Moves a group up or down the table: the upper one owns what they share. */
	function shift(statement: string, by: 1 | -1): void {
		const order = [...new Set(groups.map(({ group }) => statementOf(group)))];
		const at = order.indexOf(statement);
		const before = by < 0 ? order[at - 1] : (order[at + 2] ?? null);
		if (before === undefined || at + by >= order.length) return;
		reorder(statement, before);
	}

	function reorder(statement: string, before: string | null): void {
		if (statement !== before) desk.edit(moveGroup(desk.recipe, statement, before), `Order of ${statement}`);
	}

	function add(group: string): void {
		desk.label(
			regions.length > 0 ? labelRegions(desk.recipe, group, regions) : labelPieces(desk.recipe, group, pieces),
			group,
			`Add to ${group}`
		);
		desk.selection.clear();
	}

	/** Whether what is selected can go into a group: pieces into a boundary, regions into a material. */
	const takesSelection = (group: MeshGroup) =>
		group.members === 'elements' ? regions.length > 0 : group.members === 'edges' && pieces.length > 0;
</script>

<NewGroup {pieces} {regions} />

<table>
	<thead
		><tr
			><th><span class="unseen">colour</span></th><th class="text">group</th><th class="text">kind</th><th>edges</th><th
				><span class="unseen">actions</span></th
			></tr
		></thead
	>
	<VirtualRows rows={groups} keyOf={({ group }) => group.name} columns={5} shown={chosen[0]}>
		{#snippet row(figures)}
			{@const { group } = figures}
			{@const statement = statementOf(group)}
			<GroupRow
				{figures}
				{statement}
				statements={() => statementsFor(group.name)}
				dragged={dragged === statement}
				takesDrop={dragged !== undefined}
				onadd={takesSelection(group) ? () => add(group.name) : undefined}
				onshift={(by) => shift(statement, by)}
				ondrag={(which) => (dragged = which)}
				ondrop={() => {
					if (dragged !== undefined) reorder(dragged, statement);
					dragged = undefined;
				}}
			/>
		{/snippet}
	</VirtualRows>
</table>

<Missing />
<LabelProblems />
<BoundsTable />
