<script lang="ts">
	import {
		boundaryKinds,
		groupColours,
		kindByName,
		type BoundaryKind,
		type GroupColour
	} from '../../core/recipe/language/boundary-kinds.ts';
	import type { GroupFigures } from '../../core/figures/group-figures.ts';
	import { setGroupColour, setGroupKind, unlabelPieces } from '../../core/recipe/edits/intents.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import Cell from './Cell.svelte';
	import { wrongName } from './checked.ts';
	import { short } from './rows.ts';

	/** A group: its colour, name, kind and size, and below them its pieces. */
	let {
		figures,
		statement,
		statements,
		dragged,
		takesDrop,
		onadd,
		onshift,
		ondrag,
		ondrop
	}: {
		figures: GroupFigures;
		/** The name of the statement that makes it: the group's, or that of the wall whose side it is. */
		statement: string;
		/** The statements that an edit of this row is for: those of all selected groups, where it is one of them. */
		statements: () => string[];
		dragged: boolean;
		takesDrop: boolean;
		/** Adds what is selected; undefined where that is not of its kind. */
		onadd: (() => void) | undefined;
		/** Moves it up or down the table. */
		onshift: (by: 1 | -1) => void;
		ondrag: (statement: string | undefined) => void;
		ondrop: () => void;
	} = $props();
	const desk = useDesk();
	const group = $derived(figures.group);
	const memberPieces = $derived(group.members === 'edges' ? group.pieces : []);
	const counted = (count: number, one: string) => `${count} ${count === 1 ? one : `${one}s`}`;
	const size = $derived(
		group.members === 'elements'
			? counted(group.regions.length, 'region')
			: group.members === 'nodes'
				? counted(group.points.length, 'point')
				: figures.edges.length.toLocaleString('en')
	);
	/** A kind that the name suggests, while none is written. */
	const guess = $derived.by(() => {
		const line = desk.result?.recipe.lines[group.line]?.statement as { boundary?: unknown } | undefined;
		return group.members !== 'elements' && !line?.boundary ? kindByName(group.name) : undefined;
	});
	/** What a boundary comes to: its nodes, those that it owns, its length, the side that it is. */
	const sentence = $derived.by(() => {
		if (group.members !== 'edges') return '';
		const { nodes, owned, length } = figures;
		const parts = [
			`${nodes.toLocaleString('en')} nodes${owned < nodes ? `, ${owned.toLocaleString('en')} owned` : ''}`,
			`${short(length)} ${desk.result?.model.units ?? ''}`
		];
		const { side, baffle } = group;
		if (baffle !== undefined)
			parts.push(side === undefined ? 'both sides' : `${side === 0 ? 'left' : 'right'} side of ${baffle}`);
		return parts.join(' · ');
	});
	/** More pieces of a group than this are not shown one by one. */
	const mostChips = 40;
</script>

<tr
	class:selected={desk.isSelected('group', group.name)}
	onpointerenter={() => (desk.hover = thingKey('group', group.name))}
	onpointerleave={() => (desk.hover = '')}
	draggable="true"
	class:dragged
	ondragstart={(event) => {
		event.dataTransfer?.setData('text/plain', statement);
		ondrag(statement);
	}}
	ondragend={() => ondrag(undefined)}
	ondragover={(event) => takesDrop && event.preventDefault()}
	ondrop={(event) => {
		event.preventDefault();
		event.stopPropagation();
		ondrop();
	}}
>
	<td class="swatch">
		{#if group.members !== 'elements'}
			<select
				aria-label="Colour of {group.name}"
				style:background={groupColours[group.colour]}
				value={group.colour}
				onchange={(event) =>
					desk.edit(setGroupColour(desk.recipe, statements(), event.currentTarget.value as GroupColour), `Colour ${group.name}`)}
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
		{#if group.members === 'elements'}<span class="material">material</span>
		{:else if group.members === 'nodes'}<span class="material">points</span>
		{:else}
			<select
				aria-label="Kind of {group.name}"
				value={group.kind}
				onchange={(event) =>
					desk.edit(setGroupKind(desk.recipe, statements(), event.currentTarget.value as BoundaryKind), `Kind of ${group.name}`)}
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
				onshift(event.key === 'ArrowUp' ? -1 : 1);
			}}
			onclick={(event) => desk.select([thingKey('group', group.name)], event.shiftKey || event.ctrlKey)}>{size}</button
		>
	</td>
	<td class="acts">
		{#if onadd}<button class="small" data-tip="Add what is selected to {group.name}" onclick={onadd}>+ add</button>{/if}
		<button
			class="small"
			aria-label="Delete group {group.name}"
			data-tip="Delete this group"
			onclick={() => desk.delete({ values: [], regions: [], groups: [statement] })}>×</button
		>
	</td>
</tr>
{#if memberPieces.length > 0}
	<tr class="members"
		><td></td><td colspan="4">
			<span class="figures number">{sentence}</span>
			{#each memberPieces.slice(0, mostChips) as p (p)}
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
									memberPieces.map((q) => desk.names[q]!)
								),
								`Take ${desk.names[p]} out of ${group.name}`
							)}>×</button
					>
				</span>
			{/each}
			{#if memberPieces.length > mostChips}<span class="figures">and {memberPieces.length - mostChips} more</span>{/if}
		</td></tr
	>
{/if}

<style>
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
</style>
