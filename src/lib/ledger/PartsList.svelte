<script lang="ts">
	import { addStatements } from '../../core/recipe/edits/intents.ts';
	import { emptyPart } from '../../core/recipe/edits/part-sheet.ts';
	import { type PartOfRecipe, partsOf } from '../../core/recipe/edits/placements.ts';
	import { counted } from '../../core/text/sentences.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** Parts, each placed by a click and opened as a sheet of its own; the copies stand among the curves. */
	const desk = useDesk();
	const parts = $derived(partsOf(desk.recipe));

	function begin({ name }: PartOfRecipe): void {
		desk.placing = name;
		desk.tool = 'place';
	}

	/** Writes an empty part and opens it, to be drawn. */
	function makePart(): void {
		let number = 1;
		while (parts.some(({ name }) => name === `part${number}`)) number++;
		const name = `part${number}`;
		desk.edit(addStatements(desk.recipe, [emptyPart(name)]), `Part ${name}`);
		void desk.openPart(name);
	}
</script>

{#if desk.sheet === '' || parts.length > 0}<h3>Parts</h3>{/if}
{#if parts.length > 0}
	<table>
		<tbody>
			{#each parts as part (part.name)}
				<tr class:current={desk.tool === 'place' && desk.placing === part.name}>
					<td class="name">{part.name}</td>
					<td class="text quiet"
						>{part.parameters.map(({ name, source }) => `${name} = ${source}`).join(', ') ||
							(part.file === undefined ? 'no parameters' : `from ${part.file}`)}</td
					>
					<td class="number quiet">{counted(part.placements, 'copy', 'copies')}</td>
					<td class="act">
						<button
							class="action plain"
							aria-label="Place {part.name}"
							data-tip="Put copies of this part into the drawing by clicks"
							onclick={() => begin(part)}>Place</button
						>
						<button
							class="action plain"
							aria-label="Open {part.name}"
							disabled={part.file !== undefined}
							data-tip={part.file === undefined
								? 'Open this part as a sheet of its own, to draw, divide and fill it; all copies follow'
								: `This part is the recipe ${part.file}; change it there`}
							onclick={() => desk.openPart(part.name)}>Open</button
						>
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
{#if desk.sheet === ''}
	<p class="hint">
		<button class="action" onclick={makePart}>New part</button>
		{#if parts.length === 0}What stands in the drawing more than once is drawn as a part, and placed.{/if}
	</p>
{/if}

<style>
	h3 {
		padding: 8px 8px 2px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	.quiet {
		color: var(--quiet);
	}
	.act {
		white-space: nowrap;
		text-align: right;
	}
	.current {
		background: var(--kingfisher-soft);
	}
</style>
