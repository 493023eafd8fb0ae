<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { untrack } from 'svelte';
	import { measures } from '../../core/quality/quality.ts';
	import { compared, figuresOf } from '../../formats/mesh-figures.ts';
	import type { OpenedMesh } from '../desk/mesh.worker.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import Histogram from '../gauge/Histogram.svelte';
	import { short } from '../ledger/rows.ts';
	import MeshPicture from './MeshPicture.svelte';
	import { boxOf, colourOfGroup } from './mesh-box.ts';

	/** A mesh file beside the project: its mesh, groups and quality, and how its counts stand to the recipe's. */
	const { name, looked, ontake, onclose }: { name: string; looked: OpenedMesh; ontake?: () => void; onclose: () => void } =
		$props();
	const desk = useDesk();
	const file = untrack(() => looked.file);
	const box = untrack(() => boxOf(file));
	let measureKey = $state(measures[0]!.key);
	let brush = $state<[number, number] | undefined>();
	let group = $state('');
	let picture: ReturnType<typeof MeshPicture> | undefined = $state();
	const measure = $derived(measures.find((m) => m.key === measureKey)!);
	const taken = $derived(looked.quality[measureKey]!);
	const rows = $derived(desk.result ? compared(figuresOf(file), figuresOf(desk.result)) : []);
	const differing = $derived(rows.filter((row) => row.file !== row.recipe).length);

	const count = (value: number | undefined) => value?.toLocaleString('en') ?? '–';
</script>

<Dialog open onOpenChange={(event) => !event.open && onclose()}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel mesh-file">
				<header>
					<Dialog.Title class="heading">{name}</Dialog.Title>
					<span class="number quiet"
						>x {short(box.x[0])} to {short(box.x[1])}, y {short(box.y[0])} to {short(box.y[1])}
						{file.unit ?? ''}</span
					>
				</header>
				<div class="body">
					<MeshPicture bind:this={picture} {name} {file} {box} {measure} {taken} {brush} {group} />
					<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
					<div class="side" tabindex="0" role="region" aria-label="Figures of {name}">
						{#if desk.result}<p class="verdict" class:ok={differing === 0}>
								{differing === 0
									? 'The counts are those of this recipe.'
									: `${counted(differing, 'count')} differ${differing === 1 ? 's' : ''} from this recipe’s mesh.`}
							</p>{/if}
						<table aria-label="Counts of the file and of the recipe">
							<thead><tr><th class="text">count</th><th>file</th><th>recipe</th></tr></thead>
							<tbody>
								{#each rows as row (row.what)}
									{@const groupName = row.what.startsWith('group ') ? row.what.slice(6) : ''}
									<tr
										class:differs={row.file !== row.recipe}
										onpointerenter={() => (group = groupName)}
										onpointerleave={() => (group = '')}
									>
										<td
											>{#if groupName && file.groups.some((g) => g.name === groupName)}<i
													style:background={colourOfGroup(file.groups.findIndex((g) => g.name === groupName))}
												></i>{/if}{row.what}</td
										><td class="number">{count(row.file)}</td><td class="number"
											>{count(row.recipe)}{row.file !== row.recipe ? ' ≠' : ''}</td
										>
									</tr>
								{/each}
							</tbody>
						</table>
						<div class="measure">
							<select class="field" aria-label="Measure of the file" bind:value={measureKey}>
								{#each measures as { key, title } (key)}<option value={key}>{title}</option>{/each}
							</select>
							<button class="action" onclick={() => picture?.showWorst()}>worst</button>
							<span class="number">{short(taken.min)} … {short(taken.mean)} … {short(taken.max)}</span>
						</div>
						<Histogram values={taken.values} {measure} {brush} onbrush={(range) => (brush = range)} />
						{#each file.notes as note (note)}<p class="quiet">{note}.</p>{/each}
					</div>
				</div>
				<footer>
					{#if ontake}<button
							class="action"
							data-tip="Make curves of its outline beside what is drawn, so that it can be meshed anew"
							onclick={ontake}>Take its outline</button
						>{/if}
					<Dialog.CloseTrigger class="action">Close</Dialog.CloseTrigger>
				</footer>
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.mesh-file) {
		display: grid;
		grid-template-rows: auto 1fr auto;
		gap: 8px;
		width: min(1100px, 94vw);
		height: min(700px, calc(100vh - 130px));
		padding: 14px;
	}
	header {
		display: flex;
		align-items: baseline;
		gap: 14px;
	}
	header :global(.heading) {
		font-size: 15px;
	}
	.body {
		display: grid;
		grid-template-columns: 1fr 330px;
		gap: 12px;
		min-height: 0;
	}
	.side {
		overflow-y: auto;
		min-height: 0;
	}
	table {
		width: 100%;
	}
	th {
		color: var(--quiet);
		font-weight: 400;
		text-align: right;
	}
	th.text {
		text-align: left;
	}
	td.number {
		text-align: right;
	}
	td i {
		display: inline-block;
		width: 9px;
		height: 9px;
		margin-right: 6px;
		border-radius: 2px;
	}
	.differs td {
		color: var(--brick);
	}
	.verdict {
		margin-bottom: 6px;
		color: var(--brick);
		font-weight: 600;
	}
	.verdict.ok {
		color: var(--kingfisher);
	}
	.measure {
		display: flex;
		align-items: center;
		gap: 6px;
		margin: 12px 0 6px;
	}
	.measure .number {
		font-size: 11px;
		white-space: nowrap;
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
	footer {
		display: flex;
		justify-content: flex-end;
		gap: 8px;
	}
</style>
