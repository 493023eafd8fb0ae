<script lang="ts">
	import { boundaryKinds, kindByName, type BoundaryKind } from '../../core/recipe/language/boundary-kinds.ts';
	import { labelPieces, labelRegions, makeBaffle } from '../../core/recipe/edits/intents.ts';
	import { whyNoName } from '../../core/recipe/edits/naming.ts';
	import Choice from '../controls/Choice.svelte';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { asSentence } from './checked.ts';
	import PickRow from './PickRow.svelte';

	/** Names what is selected: pieces as a boundary or a two-sided wall, regions as a material. */
	let { pieces, regions }: { pieces: readonly string[]; regions: readonly string[] } = $props();
	const desk = useDesk();
	const members = $derived(regions.length > 0 ? regions : pieces);
	const count = $derived(members.length);
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
	let name = $state('');
	/** The kind that was chosen; until one is, the name suggests it. */
	let chosenKind = $state<BoundaryKind | undefined>();
	const guessed = $derived(kindByName(name));
	const kind = $derived(chosenKind ?? guessed ?? 'wall');
	let problem = $state('');
	/** Whether a group of this name is there already, of the same sort: what is selected is added to it. */
	const known = $derived(
		(desk.result?.mesh.groups ?? []).some(
			(g) => g.name === name.trim() && g.members === (regions.length > 0 ? 'elements' : 'edges') && count > 0
		)
	);

	function label(event: SubmitEvent): void {
		event.preventDefault();
		const group = name.trim();
		const reason = whyNoName(desk.recipe, 'group', group);
		// The name of a group that is there adds to it.
		if (reason !== undefined && !known) {
			problem = asSentence(reason);
			return;
		}
		problem = '';
		if (regions.length > 0) desk.edit(labelRegions(desk.recipe, group, regions), `Material ${group}`);
		else if (twoSided && isInside && !known) desk.edit(makeBaffle(desk.recipe, group, pieces, kind), `Two-sided wall ${group}`);
		else desk.label(labelPieces(desk.recipe, group, pieces, kind, follow ? description : undefined), group, `Label ${group}`);
		name = '';
		chosenKind = undefined;
		desk.selection.clear();
	}
</script>

<PickRow
	onpick={(source) =>
		(picked = source === undefined ? undefined : { source, names: [...desk.selected('piece')].sort().join(' ') })}
/>
<form class="new" onsubmit={label}>
	<p>
		{#if count > 0}<b>{count} {regions.length > 0 ? 'region' : 'piece'}{count === 1 ? '' : 's'}</b> selected: {members
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
			oninput={() => (problem = '')}
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
		<button class="action main" disabled={count === 0 || name.trim() === ''}>{known ? `Add to ${name.trim()}` : 'Label'}</button>
	</div>
	{#if regions.length === 0 && chosenKind === undefined && guessed && name !== ''}<p class="guess">
			{boundaryKinds[guessed].title} is guessed from the name; choose another if it is wrong.
		</p>{/if}
	{#if description}<Choice bind:checked={follow}>follow the shape: {description}</Choice>{/if}
	{#if isInside}<Choice bind:checked={twoSided}>two-sided wall (duplicate nodes)</Choice>{/if}
	{#if problem}<p role="alert" class="problem">{problem}</p>{/if}
</form>

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
	.material {
		padding-left: 3px;
		color: var(--quiet);
	}
</style>
