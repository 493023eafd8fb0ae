<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { onDestroy, onMount, untrack } from 'svelte';
	import type { StudyStatement } from '../../core/recipe/statements/study.ts';
	import { parseRecipe } from '../../core/recipe/language/parse.ts';
	import { setParameter } from '../../core/recipe/edits/intents.ts';
	import type { StudyCase } from '../../core/study/cases.ts';
	import { studyTable } from '../../formats/study.ts';
	import { counted } from '../../core/text/sentences.ts';
	import { linesOf } from '../../core/recipe/language/statement.ts';
	import { delivery } from '../../core/recipe/statements/deliver.ts';
	import { notify } from '../controls/toaster.ts';
	import { saveAs, useDesk } from '../desk/desk.svelte.ts';
	import CasePictures from './CasePictures.svelte';
	import CasePlot from './CasePlot.svelte';
	import CaseTable from './CaseTable.svelte';
	import ChosenCase from './ChosenCase.svelte';
	import ParallelAxes from './ParallelAxes.svelte';
	import {
		filtered,
		headingOf,
		numericColumns,
		valueOf,
		worstOf,
		type CaseRow,
		type FigureKey,
		type Limits
	} from './case-rows.ts';
	import { StudyRunner } from './study-runner.svelte.ts';

	/** The cases of a study: run, stopped, gone on with; their figures in a table and in a plot; a click takes a case into the desk. */
	const { study, cases, onclose }: { study: StudyStatement; cases: readonly StudyCase[]; onclose: () => void } = $props();
	const desk = useDesk();
	const runner = untrack(() => new StudyRunner(cases, desk.text, desk.files, desk.studyKeeper(study.name)));
	onMount(() => runner.load());
	onDestroy(() => runner.stop());

	const faces = [
		{ key: 'plot', title: 'Plot' },
		{ key: 'axes', title: 'Axes' },
		{ key: 'pictures', title: 'Meshes' }
	] as const;
	let face = $state<(typeof faces)[number]['key']>('plot');
	let filter = $state('');
	/** The number of the case that is looked at; 0 for none. */
	let chosen = $state(0);
	let x = $state(untrack(() => numericColumns(cases)[0]!));
	let y = $state<FigureKey>('minJacobian');
	/** What the parallel axes keep, by the name of the column. */
	let limits = $state<Limits>({});

	const columns = $derived(numericColumns(cases));
	const all = $derived(cases.map((one): CaseRow => ({ one, outcome: runner.done[one.number] })));
	const rows = $derived(filtered(all, filter, limits));
	const axes = $derived(columns.filter((key) => all.some((row) => Number.isFinite(valueOf(row, key)))));
	const onAxes = $derived(
		all
			.filter((row) => row.outcome?.figures)
			.map((row) => ({ number: row.one.number, values: axes.map((key) => Number(valueOf(row, key))) }))
	);
	const pictured = $derived(rows.filter((r) => r.outcome?.picture).slice(0, 60));
	const looked = $derived(all.find(({ one }) => one.number === chosen));
	const worst = $derived(worstOf(all));

	/** Takes the values of a case into the recipe, in one edit. */
	function open({ one }: CaseRow): void {
		let { recipe } = desk;
		for (const [name, value] of Object.entries(one.settings)) recipe = parseRecipe(setParameter(recipe, name, value));
		onclose();
		if (recipe.text !== desk.text) desk.edit(recipe.text, `Values of case ${one.name}`);
	}

	const delivers = $derived(linesOf(desk.recipe.lines, delivery).length > 0);

	/** All files of all cases, as the folder of the study. */
	async function saveFiles(): Promise<void> {
		const title = desk.result?.model.title ?? '';
		const made = await runner.deliver({ title, study: study.name, cases: [...cases] });
		if (!made) return;
		saveAs(`${study.name}.zip`, made.archive);
		if (made.failed > 0) notify(`${counted(made.failed, 'case')} failed; the table in the archive says why.`);
	}

	function saveTable(): void {
		const records = new Map(
			all.flatMap(({ one, outcome }) => {
				const { number, name, settings, refine } = one;
				return outcome ? [[number, { ...outcome, number, case: name, hash: '', settings, refine }] as const] : [];
			})
		);
		saveAs(`${study.name}.csv`, new Blob([studyTable(cases, records).csv], { type: 'text/csv' }));
	}
</script>

<Dialog open onOpenChange={(event) => !event.open && onclose()}>
	<Portal>
		<Dialog.Backdrop class="backdrop" />
		<Dialog.Positioner class="positioner">
			<Dialog.Content class="panel study">
				<header>
					<Dialog.Title class="heading">Study {study.name}</Dialog.Title>
					<span class="quiet" role="status"
						>{runner.count.toLocaleString('en')} of {cases.length.toLocaleString('en')} cases{runner.failed > 0
							? `, ${runner.failed} failed`
							: ''}{runner.running ? ', running…' : ''}</span
					>
					<progress max={cases.length} value={runner.delivered ?? runner.count} aria-label="Cases done"></progress>
					{#if runner.running}<button class="action" onclick={() => runner.stop()}>Stop</button>
					{:else if runner.count < cases.length}<button class="action main" onclick={() => void runner.go()}
							>{runner.count > 0 ? 'Go on' : 'Run'}</button
						>{/if}
				</header>
				{#if runner.problem}<p class="problem" role="alert">{runner.problem}</p>{/if}
				<div class="body">
					<div class="left">
						<input
							class="field"
							placeholder="filter: a name, done, failed, waiting"
							aria-label="Filter the cases"
							bind:value={filter}
						/>
						{#if Object.values(limits).some(Boolean)}<p class="limited">
								Limits on axes leave {rows.length.toLocaleString('en')} of {cases.length.toLocaleString('en')} cases.
								<button class="action" onclick={() => (limits = {})}>All cases</button>
							</p>{/if}
						<CaseTable study={study.name} {cases} {rows} bind:chosen />
					</div>
					<div class="right">
						<div class="faces">
							{#each faces as { key, title } (key)}<button
									class="action"
									class:on={face === key}
									aria-pressed={face === key}
									onclick={() => (face = key)}>{title}</button
								>{/each}
							{#if worst}<button
									class="action"
									data-tip="The case with the least scaled Jacobian"
									onclick={() => (chosen = worst.one.number)}>Worst case</button
								>{/if}
						</div>
						{#if face === 'plot'}<CasePlot {rows} {columns} bind:x bind:y bind:chosen />
						{:else if face === 'pictures'}<CasePictures rows={pictured} bind:chosen />
						{:else if onAxes.length > 0}<ParallelAxes
								cases={onAxes}
								titles={axes.map(headingOf)}
								{chosen}
								limits={axes.map((key) => limits[key])}
								onlimit={(axis, limit) => (limits = { ...limits, [axes[axis]!]: limit })}
							/>{:else}<p class="quiet">The axes stand here as soon as a case is done.</p>{/if}
						{#if looked}<ChosenCase row={looked} {pictured} showsPicture={face !== 'pictures'} onopen={open} />{/if}
					</div>
				</div>
				<footer>
					<pre class="number">npx tessellon study … --name {study.name} --out {study.name} --jobs 2</pre>
					<button
						class="action"
						disabled={runner.running || !delivers}
						data-tip={delivers
							? 'Every file that the recipe delivers, of every case, in one ZIP: a folder to each case, the table and a page'
							: 'The recipe asks for no delivery yet; add one in Deliver'}
						onclick={saveFiles}
						>{runner.delivered === undefined ? 'Every file (ZIP)' : `Files of ${runner.delivered} of ${cases.length}…`}</button
					>
					<button class="action" disabled={runner.count === 0} onclick={saveTable}>Table (CSV)</button>
					<Dialog.CloseTrigger class="action">Close</Dialog.CloseTrigger>
				</footer>
			</Dialog.Content>
		</Dialog.Positioner>
	</Portal>
</Dialog>

<style>
	:global(.study) {
		display: grid;
		grid-template-rows: auto auto 1fr auto;
		gap: 8px;
		width: min(1180px, 95vw);
		height: min(700px, calc(100vh - 130px));
		padding: 14px;
	}
	header,
	footer,
	.faces {
		display: flex;
		align-items: center;
		gap: 10px;
	}
	header :global(.heading) {
		font-size: 15px;
	}
	progress {
		flex: 1;
		height: 6px;
		accent-color: var(--kingfisher);
	}
	footer pre {
		flex: 1;
		color: var(--quiet);
		font-size: 11.5px;
	}
	footer {
		grid-row: 4;
	}
	.body {
		display: grid;
		grid-row: 3;
		grid-template-columns: 1fr 360px;
		gap: 12px;
		min-height: 0;
	}
	.left {
		display: grid;
		grid-template-rows: auto auto 1fr;
		gap: 6px;
		min-width: 0;
		min-height: 0;
	}
	.limited {
		display: flex;
		gap: 8px;
		align-items: center;
		color: var(--quiet);
		font-size: 12px;
	}
	.problem {
		color: var(--brick);
	}
	.right {
		display: flex;
		flex-direction: column;
		gap: 8px;
		overflow-y: auto;
		min-height: 0;
	}
	.on {
		border-color: var(--kingfisher);
	}
	progress::-webkit-progress-value {
		background: var(--kingfisher);
	}
	progress::-webkit-progress-bar {
		background: var(--edge);
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
