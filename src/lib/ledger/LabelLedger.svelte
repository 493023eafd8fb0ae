<script lang="ts">
	import {
		boundaryKinds,
		groupColours,
		kindByName,
		type BoundaryKind,
		type GroupColour
	} from '../../core/recipe/language/boundary-kinds.ts';
	import { groupEdges, type MeshGroup } from '../../core/mesh/mesh.ts';
	import { nodeSets, type NodeSet } from '../../core/mesh/node-sets.ts';
	import {
		labelPieces,
		labelRegions,
		makeBaffle,
		moveGroup,
		setGroupColour,
		setGroupKind,
		unlabelPieces
	} from '../../core/recipe/edits/intents.ts';
	import Choice from '../controls/Choice.svelte';
	import BoundsTable from './BoundsTable.svelte';
	import Missing from './Missing.svelte';
	import PickRow from './PickRow.svelte';
	import { short } from './rows.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { whyNoName } from '../../core/recipe/edits/naming.ts';
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
	const sets = $derived(desk.result ? nodeSets(desk.result.mesh) : []);
	const groups = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		const { mesh } = result;
		return mesh.groups.map((group, k) => {
			const edges = groupEdges(mesh, group);
			let length = 0;
			for (const e of edges) {
				const [a, b] = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
				length += Math.hypot(mesh.x[b]! - mesh.x[a]!, mesh.y[b]! - mesh.y[a]!);
			}
			const nodes = sets.find((s) => s.group === k);
			const line = result.recipe.lines[group.line]?.statement as { boundary?: unknown } | undefined;
			/** A kind that the name suggests, while none is written. */
			const guess = group.regions.length === 0 && !line?.boundary ? kindByName(group.name) : undefined;
			return { group, edges: edges.length, length, nodes, guess, statement: group.baffle ?? group.name };
		});
	});
	/** What is reported the labels, besides pieces in no group. */
	const labelProblems = $derived(desk.labelProblems.filter(({ code }) => code !== 'unlabelled'));
	/** The description by which the selection was picked, while it is still that. */
	let picked = $state.raw<{ source: string; names: string } | undefined>();
	const description = $derived(picked && picked.names === [...pieces].sort().join(' ') ? picked.source : undefined);
	let follow = $state(true);
	/** Whether the selected pieces lie inside, with elements on both sides. */
	const isInside = $derived.by(() => {
		const { result } = desk;
		if (!result || pieces.length === 0) return false;
		const filled = new Set(result.regions.filter((r) => r.fill !== 'none').map((r) => r.face));
		return pieces.every((name) => {
			const p = desk.names.indexOf(name);
			return p >= 0 && [0, 1].every((side) => filled.has(result.arrangement.sides[2 * p + side]!));
		});
	});
	let twoSided = $state(false);
	let dragged = $state<string | undefined>();
	/** More pieces of a group than this are not shown one by one. */
	const mostChips = 40;
	let name = $state('');
	/** The kind that was chosen; until one is, the name suggests it. */
	let chosenKind = $state<BoundaryKind | undefined>();
	const guessed = $derived(kindByName(name));
	const kind = $derived(chosenKind ?? guessed ?? 'wall');
	let problem = $state('');

	/** The statements that an edit of a row is for: those of all selected groups, where it is one of them. */
	const meant = (group: string) => {
		const names = chosen.includes(group) && chosen.length > 1 ? chosen : [group];
		return [...new Set(names.map((name) => groups.find((g) => g.group.name === name)?.statement ?? name))];
	};

	/** What a group comes to, in words: its nodes, those that it owns, its length, the side that it is. */
	function figuresOf({ side, baffle }: MeshGroup, nodes: NodeSet | undefined, length: number): string {
		const count = (list: Uint32Array) => list.length.toLocaleString('en');
		const parts = [`${short(length)} ${desk.result?.model.units ?? ''}`];
		if (nodes)
			parts.unshift(`${count(nodes.all)} nodes${nodes.owned.length < nodes.all.length ? `, ${count(nodes.owned)} owned` : ''}`);
		if (baffle !== undefined)
			parts.push(side === undefined ? 'both sides' : `${side === 0 ? 'left' : 'right'} side of ${baffle}`);
		return parts.join(' · ');
	}

	/** Moves a group up or down the table: the upper one owns what they share. */
	function shift(statement: string, by: 1 | -1): void {
		const order = [...new Set(groups.map((g) => g.statement))];
		const at = order.indexOf(statement);
		const before = by < 0 ? order[at - 1] : (order[at + 2] ?? null);
		if (before === undefined || at + by >= order.length) return;
		reorder(statement, before);
	}

	function reorder(statement: string, before: string | null): void {
		if (statement !== before) desk.edit(moveGroup(desk.recipe, statement, before), `Order of ${statement}`);
	}

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
		else if (twoSided && isInside) desk.edit(makeBaffle(desk.recipe, group, pieces, kind), `Two-sided wall ${group}`);
		else if (description && follow) desk.edit(labelPieces(desk.recipe, group, pieces, kind, description), `Label ${group}`);
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

<PickRow
	onpick={(source) =>
		(picked = source === undefined ? undefined : { source, names: [...desk.selected('piece')].sort().join(' ') })}
/>
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
				data-tip={chosenKind === undefined && guessed ? `guessed from the name ${name}` : ''}
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
	{#if description}<Choice bind:checked={follow}>follow the shape: {description}</Choice>{/if}
	{#if isInside}<Choice bind:checked={twoSided}>two-sided wall (duplicate nodes)</Choice>{/if}
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
		{#snippet row({ group, edges, length, nodes, guess, statement })}
			<tr
				class:selected={desk.isSelected('group', group.name)}
				onpointerenter={() => (desk.hover = thingKey('group', group.name))}
				onpointerleave={() => (desk.hover = '')}
				draggable="true"
				class:dragged={dragged === statement}
				ondragstart={(event) => {
					dragged = statement;
					event.dataTransfer?.setData('text/plain', statement);
				}}
				ondragend={() => (dragged = undefined)}
				ondragover={(event) => dragged !== undefined && event.preventDefault()}
				ondrop={(event) => {
					event.preventDefault();
					event.stopPropagation();
					if (dragged !== undefined) reorder(dragged, statement);
					dragged = undefined;
				}}
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
					{:else if group.points}<span class="material">points</span>
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
						{#if guess && guess !== group.kind}<button
								class="small guessed"
								data-tip="Guessed from the name; a click writes it"
								onclick={() => desk.edit(setGroupKind(desk.recipe, [statement], guess), `Kind of ${group.name}`)}
								>{boundaryKinds[guess].title}?</button
							>{/if}
					{/if}
				</td>
				<td class="number">
					<button
						class="small"
						data-tip="Select this group; Shift adds. An edit of one selected group goes to all of them. Alt and an arrow key move it: the upper group owns the nodes that groups share"
						onkeydown={(event) => {
							if (!event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown')) return;
							event.preventDefault();
							event.stopPropagation();
							shift(statement, event.key === 'ArrowUp' ? -1 : 1);
						}}
						onclick={(event) => desk.select([thingKey('group', group.name)], event.shiftKey || event.ctrlKey)}
						>{group.regions.length > 0
							? `${group.regions.length} ${group.regions.length === 1 ? 'region' : 'regions'}`
							: group.points
								? `${group.points.length} ${group.points.length === 1 ? 'point' : 'points'}`
								: edges.toLocaleString('en')}</button
					>
				</td>
				<td class="acts">
					{#if (pieces.length > 0 && group.regions.length === 0) || (regions.length > 0 && group.regions.length > 0)}<button
							class="small"
							data-tip="Add what is selected to {group.name}"
							onclick={() => add(group.name)}>+ add</button
						>{/if}
					<button
						class="small"
						aria-label="Delete group {group.name}"
						data-tip="Delete this group"
						onclick={() => desk.delete({ values: [], regions: [], groups: [statement] })}>×</button
					>
				</td>
			</tr>
			{#if group.pieces.length > 0}
				<tr class="members"
					><td></td><td colspan="4">
						<span class="figures number">{figuresOf(group, nodes, length)}</span>
						{#each group.pieces.slice(0, mostChips) as p (p)}
							<span class="chip" class:lit={desk.isSelected('piece', desk.names[p]!)}>
								<button
									onclick={(event) => desk.select([thingKey('piece', desk.names[p]!)], event.shiftKey || event.ctrlKey)}
									onpointerenter={() => (desk.hover = thingKey('piece', desk.names[p]!))}>{desk.names[p]}</button
								><button
									aria-label="Take {desk.names[p]} out of {group.name}"
									data-tip="Take it out"
									onclick={() =>
										desk.edit(
											unlabelPieces(
												desk.recipe,
												statement,
												[desk.names[p]!],
												group.pieces.map((q) => desk.names[q]!)
											),
											`Take ${desk.names[p]} out of ${group.name}`
										)}>×</button
								>
							</span>
						{/each}
						{#if group.pieces.length > mostChips}<span class="figures">and {group.pieces.length - mostChips} more</span>{/if}
					</td></tr
				>
			{/if}
		{/snippet}
	</VirtualRows>
</table>

<Missing />
{#if labelProblems.length > 0}
	<h3>Label problems: {labelProblems.length}</h3>
	<ul class="label-problems">
		{#each labelProblems.slice(0, 50) as finding (finding)}<li>
				{asSentence(finding.message)}
				{#if finding.at}<button class="small" onclick={() => desk.show(finding)}>Show</button>{/if}
				{#if finding.mend}<button
						class="small"
						onclick={() => desk.edit(applyEdits(desk.text, finding.mend!.edits), finding.mend!.label)}
						>{finding.mend.label}</button
					>{/if}
			</li>{/each}
	</ul>
{/if}
<BoundsTable />

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
	h3 {
		padding: 10px 8px 4px;
		color: var(--brick);
		font-weight: 600;
	}
	.figures {
		display: block;
		padding-bottom: 2px;
		color: var(--quiet);
		font-size: 11px;
	}
	.guessed {
		color: var(--kingfisher);
	}
	.dragged {
		opacity: 0.5;
	}
	.label-problems {
		padding: 0 8px;
	}
	.label-problems li {
		padding: 3px 0;
		border-top: 1px solid var(--edge);
	}
	.label-problems .small {
		color: var(--kingfisher);
	}
</style>
