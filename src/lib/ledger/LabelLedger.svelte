<script lang="ts">
	import {
		boundaryKinds,
		groupColours,
		kindByName,
		type BoundaryKind,
		type GroupColour
	} from '../../core/recipe/boundary-kinds.ts';
	import { groupEdges } from '../../core/mesh/mesh.ts';
	import { labelPieces, labelRegions, setGroupColour, setGroupKind, unlabelPieces } from '../../core/recipe/intents.ts';
	import { whyNoName } from '../../core/recipe/naming.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import Cell from './Cell.svelte';
	import { asSentence, wrongName } from './checked.ts';

	const desk = useDesk();
	const pieces = $derived(desk.selected('piece'));
	/** Regions are labelled where no piece is selected: a material. */
	const regions = $derived(pieces.length > 0 ? [] : [...new Set(desk.selected('region').map((r) => r.replace(/\[\d+\]$/, '')))]);
	const count = $derived(pieces.length || regions.length);
	const chosen = $derived(desk.selected('group'));
	const groups = $derived(
		desk.result ? desk.result.mesh.groups.map((group) => ({ group, edges: groupEdges(desk.result!.mesh, group).length })) : []
	);
	let name = $state('');
	/** The kind that was chosen; until one is, the name suggests it. */
	let chosenKind = $state<BoundaryKind | undefined>();
	const guessed = $derived(kindByName(name));
	const kind = $derived(chosenKind ?? guessed ?? 'wall');
	let problem = $state('');

	const meant = (group: string) => (chosen.includes(group) && chosen.length > 1 ? chosen : [group]);

	function label(event: SubmitEvent): void {
		event.preventDefault();
		const group = name.trim();
		const reason = whyNoName(desk.recipe, 'group', group);
		if (reason !== undefined) {
			problem = asSentence(reason);
			return;
		}
		problem = '';
		if (regions.length > 0) desk.edit(labelRegions(desk.recipe, group, regions), `Material ${group}`);
		else desk.edit(labelPieces(desk.recipe, group, pieces, kind), `Label ${group}`);
		name = '';
		chosenKind = undefined;
		desk.selection.clear();
	}

	function add(group: string): void {
		desk.edit(
			regions.length > 0 ? labelRegions(desk.recipe, group, regions) : labelPieces(desk.recipe, group, pieces),
			`Add to ${group}`
		);
		desk.selection.clear();
	}
</script>

<form class="new" onsubmit={label}>
	<p>
		{#if count > 0}<b>{count} {regions.length > 0 ? 'region' : 'piece'}{count === 1 ? '' : 's'}</b> selected: {(regions.length > 0
				? regions
				: pieces
			)
				.slice(0, 4)
				.join(', ')}{count > 4 ? ', …' : ''}{:else}Select pieces in the drawing or below, or regions for a material; then name
			their group.{/if}
	</p>
	<div>
		<input
			class="field"
			aria-label="Name of the new group"
			placeholder="name, like inlet"
			bind:value={name}
			disabled={count === 0}
		/>
		{#if regions.length > 0}<span class="material">material</span>{:else}<select
				class="field"
				aria-label="Kind of the new group"
				value={kind}
				title={chosenKind === undefined && guessed ? `guessed from the name ${name}` : ''}
				onchange={(event) => (chosenKind = event.currentTarget.value as BoundaryKind)}
				disabled={count === 0}
			>
				{#each Object.entries(boundaryKinds) as [key, { title }] (key)}<option value={key}>{title}</option>{/each}
			</select>{/if}
		<button class="action main" disabled={count === 0 || name.trim() === ''}>Label</button>
	</div>
	{#if regions.length === 0 && chosenKind === undefined && guessed && name !== ''}<p class="guess">
			{boundaryKinds[guessed].title} is guessed from the name; choose another if it is wrong.
		</p>{/if}
	{#if problem}<p role="alert" class="problem">{problem}</p>{/if}
</form>

<table>
	<thead
		><tr
			><th><span class="unseen">colour</span></th><th class="text">group</th><th class="text">kind</th><th>edges</th><th
				><span class="unseen">actions</span></th
			></tr
		></thead
	>
	<VirtualRows rows={groups} keyOf={(g) => g.group.name} columns={5} shown={chosen[0]}>
		{#snippet row({ group, edges })}
			<tr
				class:selected={desk.isSelected('group', group.name)}
				onpointerenter={() => (desk.hover = thingKey('group', group.name))}
				onpointerleave={() => (desk.hover = '')}
			>
				<td class="swatch">
					{#if group.regions.length === 0}
						<select
							aria-label="Colour of {group.name}"
							style:background={groupColours[group.colour]}
							value={group.colour}
							onchange={(event) =>
								desk.edit(
									setGroupColour(desk.recipe, meant(group.name), event.currentTarget.value as GroupColour),
									`Colour ${group.name}`
								)}
						>
							{#each Object.keys(groupColours) as colour (colour)}<option value={colour}>{colour}</option>{/each}
						</select>
					{:else}<button
							class="mark"
							aria-label="Select {group.name}"
							onclick={(event) => desk.select([thingKey('group', group.name)], event.shiftKey || event.ctrlKey)}
						></button>{/if}
				</td>
				<td
					><Cell
						display={group.name}
						align="left"
						label="Name of group {group.name}"
						check={(typed) => wrongName(desk.recipe, 'group', group.name, typed)}
						onset={(typed) => typed !== '' && desk.rename('group', group.name, typed)}
					/></td
				>
				<td>
					{#if group.regions.length > 0}<span class="material">material</span>
					{:else}
						<select
							aria-label="Kind of {group.name}"
							value={group.kind}
							onchange={(event) =>
								desk.edit(
									setGroupKind(desk.recipe, meant(group.name), event.currentTarget.value as BoundaryKind),
									`Kind of ${group.name}`
								)}
						>
							{#each Object.entries(boundaryKinds) as [key, { title }] (key)}<option value={key}>{title}</option>{/each}
						</select>
					{/if}
				</td>
				<td class="number">
					<button
						class="small"
						title="Select this group; Shift adds. An edit of one selected group goes to all of them"
						onclick={(event) => desk.select([thingKey('group', group.name)], event.shiftKey || event.ctrlKey)}
						>{group.regions.length > 0
							? `${group.regions.length} ${group.regions.length === 1 ? 'region' : 'regions'}`
							: edges.toLocaleString('en')}</button
					>
				</td>
				<td class="acts">
					{#if (pieces.length > 0 && group.regions.length === 0) || (regions.length > 0 && group.regions.length > 0)}<button
							class="small"
							title="Add what is selected to {group.name}"
							onclick={() => add(group.name)}>+ add</button
						>{/if}
					<button
						class="small"
						aria-label="Delete group {group.name}"
						title="Delete this group"
						onclick={() => desk.delete({ values: [], regions: [], groups: [group.name] })}>×</button
					>
				</td>
			</tr>
			{#if group.pieces.length > 0}
				<tr class="members"
					><td></td><td colspan="4">
						{#each group.pieces as p (p)}
							<span class="chip" class:lit={desk.isSelected('piece', desk.names[p]!)}>
								<button
									onclick={(event) => desk.select([thingKey('piece', desk.names[p]!)], event.shiftKey || event.ctrlKey)}
									onpointerenter={() => (desk.hover = thingKey('piece', desk.names[p]!))}>{desk.names[p]}</button
								><button
									aria-label="Take {desk.names[p]} out of {group.name}"
									title="Take it out"
									onclick={() =>
										desk.edit(
											unlabelPieces(desk.recipe, group.name, [desk.names[p]!]),
											`Take ${desk.names[p]} out of ${group.name}`
										)}>×</button
								>
							</span>
						{/each}
					</td></tr
				>
			{/if}
		{/snippet}
	</VirtualRows>
</table>

{#if desk.unlabelled.length > 0}
	<h3>Boundary in no group: {desk.unlabelled.length}</h3>
	<p class="chips">
		{#each desk.unlabelled.slice(0, 100) as p (p)}
			<button
				class="chip missing"
				class:lit={desk.isSelected('piece', desk.names[p]!)}
				onclick={(event) => desk.select([thingKey('piece', desk.names[p]!)], event.shiftKey || event.ctrlKey)}
				onpointerenter={() => (desk.hover = thingKey('piece', desk.names[p]!))}
				onpointerleave={() => (desk.hover = '')}>{desk.names[p]}</button
			>
		{/each}
	</p>
	<button
		class="action all"
		onclick={() =>
			desk.select(
				desk.unlabelled.map((p) => thingKey('piece', desk.names[p]!)),
				false
			)}>Select all of them</button
	>
{:else if desk.elements > 0}<p class="hint good">Every boundary piece is in a group.</p>{/if}

<style>
	.new {
		padding: 8px;
		border-bottom: 1px solid var(--edge);
	}
	.new div {
		display: flex;
		gap: 5px;
		margin-top: 5px;
	}
	.new input {
		flex: 1;
		min-width: 0;
	}
	.guess {
		color: var(--quiet);
		font-size: 12px;
	}
	.problem {
		margin-top: 4px;
		color: var(--brick);
	}
	.swatch {
		width: 24px;
	}
	.swatch select {
		text-indent: 40px;
		width: 16px;
		height: 16px;
		border: 1px solid var(--edge-strong);
		border-radius: 3px;
		color: transparent;
		font-size: 0;
		appearance: none;
	}
	.swatch option {
		text-indent: 0;
		background: var(--sheet);
		color: var(--ink);
		font-size: 12px;
	}
	.mark {
		width: 16px;
		height: 16px;
		border: 1px solid var(--edge-strong);
		border-radius: 50%;
		background: repeating-linear-gradient(45deg, var(--edge) 0 2px, transparent 2px 5px);
	}
	.material {
		padding-left: 3px;
		color: var(--quiet);
	}
	.acts {
		text-align: right;
		white-space: nowrap;
	}
	.small {
		padding: 0 4px;
		white-space: nowrap;
		color: var(--quiet);
		cursor: pointer;
	}
	.small:hover {
		color: var(--kingfisher);
	}
	.members td {
		padding: 0 4px 5px;
		border-top: none;
	}
	.chip {
		display: inline-flex;
		gap: 3px;
		margin: 1px 3px 1px 0;
		padding: 0 5px;
		border: 1px solid var(--edge);
		border-radius: 9px;
		color: var(--quiet);
		font-size: 11px;
	}
	.chip button {
		cursor: pointer;
	}
	.chip.lit {
		border-color: var(--marigold);
		background: var(--marigold-soft);
		color: var(--ink);
	}
	.chip.missing {
		border-color: var(--brick);
		color: var(--brick);
		cursor: pointer;
	}
	h3 {
		padding: 10px 8px 4px;
		color: var(--brick);
		font-weight: 600;
	}
	.chips {
		padding: 0 8px;
	}
	.all {
		margin: 6px 8px;
	}
	.good {
		color: var(--kingfisher);
	}
</style>
