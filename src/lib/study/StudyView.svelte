<script lang="ts">
	import { Dialog, Portal } from '@skeletonlabs/skeleton-svelte';
	import { extent } from 'd3-array';
	import { scaleLinear } from 'd3-scale';
	import { onDestroy, onMount, untrack } from 'svelte';
	import type { StudyStatement } from '../../core/recipe/statements/study.ts';
	import { parseRecipe } from '../../core/recipe/language/parse.ts';
	import { setParameter } from '../../core/recipe/edits/intents.ts';
	import type { StudyCase } from '../../core/study/cases.ts';
	import { type CaseFigures, figureTitles, studyTable } from '../../formats/study.ts';
	import { saveAs, useDesk } from '../desk/desk.svelte.ts';
	import { short } from '../ledger/rows.ts';
	import LaidOver from './LaidOver.svelte';
	import ParallelAxes from './ParallelAxes.svelte';
	import { atScale, pictureUrl, viewOf } from './picture-view.ts';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import type { CaseOutcome } from './case-outcome.ts';
	import { StudyRunner } from './study-runner.svelte.ts';

	/** The cases of a study: run, stopped, gone on with; their figures in a table and in a plot; a click takes a case into the desk. */
	const { study, cases, onclose }: { study: StudyStatement; cases: readonly StudyCase[]; onclose: () => void } = $props();
	const desk = useDesk();
	const runner = untrack(() => new StudyRunner(cases, desk.text, desk.files, desk.studyKeeper(study.name)));
	onMount(() => runner.load());
	onDestroy(() => runner.stop());

	const parameters = untrack(() => [...new Set(cases.flatMap((c) => Object.keys(c.settings)))]);
	const refines = untrack(() => cases.some((c) => c.refine !== 1));
	type Key = keyof CaseFigures;
	const shownFigures: Key[] = ['elements', 'area', 'minJacobian', 'meanJacobian', 'minAngle', 'maxAspect'];
	interface Row {
		one: StudyCase;
		outcome: CaseOutcome | undefined;
	}
	let sortBy = $state('');
	let isDown = $state(false);
	let filter = $state('');
	/** The number of the case that is looked at; 0 for none. */
	let chosen = $state(0);
	let x = $state(untrack(() => parameters[0] ?? 'refine'));
	let y = $state<Key>('minJacobian');
	let face = $state<'plot' | 'axes' | 'pictures'>('plot');
	/** The case that is laid over the chosen one. */
	let other = $state(0);
	/** What the parallel axes keep, by the name of the axis. */
	let limits = $state<Record<string, [number, number] | undefined>>({});

	const valueOf = ({ one, outcome }: Row, key: string): number | string => {
		if (key === 'case') return one.name;
		if (key === 'refine') return one.refine;
		if (key === 'status') return outcome ? (outcome.ok ? 'done' : 'failed') : 'waiting';
		if (key === 'time') return outcome?.milliseconds ?? NaN;
		if (key in one.settings) {
			const value = Number(one.settings[key]);
			return Number.isNaN(value) ? one.settings[key]! : value;
		}
		return outcome?.figures?.[key as Key] ?? NaN;
	};
	const all = $derived(cases.map((one): Row => ({ one, outcome: runner.done[one.number] })));
	const rows = $derived.by(() => {
		const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
		const limited = Object.entries(limits).filter((l): l is [string, [number, number]] => l[1] !== undefined);
		const kept = all.filter((row) => {
			for (const [key, [low, high]] of limited) {
				const value = valueOf(row, key);
				if (!(typeof value === 'number' && value >= low && value <= high)) return false;
			}
			const text = `${row.one.name} ${valueOf(row, 'status')} ${row.outcome?.message ?? ''}`.toLowerCase();
			return words.every((word) => text.includes(word));
		});
		if (sortBy === '') return kept;
		const order = (a: Row, b: Row) => {
			const [p, q] = [valueOf(a, sortBy), valueOf(b, sortBy)];
			if (typeof p === 'string' || typeof q === 'string') return String(p).localeCompare(String(q), 'en', { numeric: true });
			if (Number.isNaN(p) || Number.isNaN(q)) return Number(Number.isNaN(p)) - Number(Number.isNaN(q));
			return p - q;
		};
		return kept.sort((a, b) => (isDown ? order(b, a) : order(a, b)));
	});
	const columns = $derived(['case', ...parameters, ...(refines ? ['refine'] : []), ...shownFigures, 'time']);
	const headingOf = (key: string) =>
		key === 'refine' ? 'refined by' : key === 'time' ? 'time' : (figureTitles[key as Key] ?? key);
	const show = (row: Row, key: string) => {
		const value = valueOf(row, key);
		if (key === 'time') return Number.isNaN(value) ? '–' : `${Math.round(value as number)} ms`;
		return typeof value === 'string' ? value : Number.isNaN(value) ? '–' : short(value);
	};
	function sort(key: string): void {
		isDown = sortBy === key ? !isDown : false;
		sortBy = key;
	}

	// The plot: any figure over any parameter.
	let width = $state(340);
	const height = 230;
	const points = $derived(
		rows.flatMap((row) => {
			const [px, py] = [valueOf(row, x), valueOf(row, y)];
			return typeof px === 'number' && typeof py === 'number' && Number.isFinite(px) && Number.isFinite(py)
				? [{ row, px, py }]
				: [];
		})
	);
	const scaleX = $derived(scaleLinear(extent(points, (p) => p.px) as [number, number], [50, width - 12]).nice(5));
	const scaleY = $derived(scaleLinear(extent(points, (p) => p.py) as [number, number], [height - 24, 10]).nice(5));
	/** Above so many points they are drawn as one line of dots. */
	const mostCircles = 1500;
	const dots = (wrong: boolean) =>
		points
			.filter(({ row }) => (row.outcome?.ok === false) === wrong)
			.map(({ px, py }) => `M${scaleX(px).toFixed(1)} ${scaleY(py).toFixed(1)}h0`)
			.join('');
	/** Chooses the case whose point is nearest to a click. */
	function chooseNearest(event: MouseEvent & { currentTarget: SVGSVGElement }): void {
		const box = event.currentTarget.getBoundingClientRect();
		const [cx, cy] = [event.clientX - box.left, event.clientY - box.top];
		let least = 12;
		for (const { row, px, py } of points) {
			const away = Math.hypot(scaleX(px) - cx, scaleY(py) - cy);
			if (away < least) [least, chosen] = [away, row.one.number];
		}
	}

	// Parallel axes: all that is a number.
	const axes = $derived(
		[...parameters, ...(refines ? ['refine'] : []), ...shownFigures].filter((key) =>
			all.some((row) => Number.isFinite(valueOf(row, key)))
		)
	);
	const onAxes = $derived(
		all
			.filter((row) => row.outcome?.figures)
			.map((row) => ({ number: row.one.number, values: axes.map((key) => Number(valueOf(row, key))) }))
	);
	const pictured = $derived(rows.filter((r) => r.outcome?.picture).slice(0, 60));
	const oneScale = $derived(Math.min(...pictured.map((r) => viewOf(r.outcome!.picture).scale)));
	const picked = $derived(all.find(({ one }) => one.number === chosen));
	const over = $derived(all.find(({ one }) => one.number === other && one.number !== chosen));
	const worst = $derived.by(() => {
		const made = all.filter(({ outcome }) => outcome?.figures);
		return made.length === 0
			? undefined
			: made.reduce((a, b) => (b.outcome!.figures!.minJacobian < a.outcome!.figures!.minJacobian ? b : a));
	});

	/** Takes the values of a case into the recipe, in one edit. */
	function take({ one }: Row): void {
		let { recipe } = desk;
		for (const [name, value] of Object.entries(one.settings)) recipe = parseRecipe(setParameter(recipe, name, value));
		onclose();
		if (recipe.text !== desk.text) desk.edit(recipe.text, `Values of case ${one.name}`);
	}

	function saveTable(): void {
		const records = new Map(
			all.flatMap(({ one, outcome }) =>
				outcome
					? [
							[
								one.number,
								{ ...outcome, number: one.number, case: one.name, hash: '', settings: one.settings, refine: one.refine }
							] as const
						]
					: []
			)
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
					<progress max={cases.length} value={runner.count} aria-label="Cases done"></progress>
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
						<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
						<div class="scroll" data-scrolls tabindex="0" role="region" aria-label="Cases">
							<table aria-label="Cases of {study.name}">
								<thead
									><tr
										>{#each columns as key (key)}<th class:text={key === 'case'}
												><button onclick={() => sort(key)} aria-pressed={sortBy === key} data-tip="Sort by this"
													>{headingOf(key)}{sortBy === key ? (isDown ? ' ▾' : ' ▴') : ''}</button
												></th
											>{/each}</tr
									></thead
								>
								<VirtualRows
									{rows}
									keyOf={(row) => String(row.one.number)}
									columns={columns.length}
									shown={chosen === 0 ? '' : String(chosen)}
								>
									{#snippet row(entry)}
										<tr class:wrong={entry.outcome?.ok === false} class:selected={entry.one.number === chosen}>
											{#each columns as key, k (key)}<td class:number={key !== 'case'}
													>{#if k === 0}<button
															class="case"
															data-tip={entry.outcome?.message || 'Look at this case'}
															onclick={() => (chosen = entry.one.number)}
															><span class="quiet number">{entry.one.number}</span>
															{entry.outcome?.ok === false ? '✗ ' : ''}{entry.one.name}</button
														>{:else}{show(entry, key)}{/if}</td
												>{/each}
										</tr>
									{/snippet}
								</VirtualRows>
							</table>
						</div>
					</div>
					<div class="right">
						<div class="faces">
							<button class="action" class:on={face === 'plot'} aria-pressed={face === 'plot'} onclick={() => (face = 'plot')}
								>Plot</button
							>
							<button class="action" class:on={face === 'axes'} aria-pressed={face === 'axes'} onclick={() => (face = 'axes')}
								>Axes</button
							>
							<button
								class="action"
								class:on={face === 'pictures'}
								aria-pressed={face === 'pictures'}
								onclick={() => (face = 'pictures')}>Meshes</button
							>
							{#if worst}<button
									class="action"
									data-tip="The case with the least scaled Jacobian"
									onclick={() => (chosen = worst.one.number)}>Worst case</button
								>{/if}
						</div>
						{#if face === 'plot'}
							<div class="axes">
								<select class="field" aria-label="Figure of the plot" bind:value={y}
									>{#each Object.entries(figureTitles) as [key, title] (key)}<option value={key}>{title}</option>{/each}</select
								>
								over
								<select class="field" aria-label="Parameter of the plot" bind:value={x}
									>{#each [...parameters, ...(refines ? ['refine'] : []), ...shownFigures] as key (key)}<option value={key}
											>{headingOf(key)}</option
										>{/each}</select
								>
							</div>
							<div bind:clientWidth={width}>
								{#if points.length > 0}
									<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
									<svg {width} {height} role="img" aria-label="{figureTitles[y]} over {headingOf(x)}" onclick={chooseNearest}>
										{#each scaleY.ticks(5) as tick (tick)}<line
												x1="50"
												x2={width - 12}
												y1={scaleY(tick)}
												y2={scaleY(tick)}
											/><text x="45" y={scaleY(tick) + 3.5} text-anchor="end">{scaleY.tickFormat(5)(tick)}</text>{/each}
										{#each scaleX.ticks(5) as tick (tick)}<text x={scaleX(tick)} y={height - 8} text-anchor="middle"
												>{short(tick)}</text
											>{/each}
										{#if points.length > mostCircles}<path class="dots" d={dots(false)} /><path
												class="dots wrong"
												d={dots(true)}
											/>{/if}
										{#each points.filter(({ row }) => points.length <= mostCircles || row.one.number === chosen) as { row, px, py } (row.one.number)}
											<circle
												cx={scaleX(px)}
												cy={scaleY(py)}
												r={row.one.number === chosen ? 6 : 3.5}
												class:on={row.one.number === chosen}
												class:wrong={row.outcome?.ok === false}><title>{row.one.name}: {short(py)}</title></circle
											>
										{/each}
									</svg>
								{:else}<p class="quiet">A plot stands here as soon as a case is done.</p>{/if}
							</div>
						{:else if face === 'axes'}
							{#if onAxes.length > 0}<ParallelAxes
									cases={onAxes}
									titles={axes.map(headingOf)}
									{chosen}
									limits={axes.map((key) => limits[key])}
									onlimit={(axis, limit) => (limits = { ...limits, [axes[axis]!]: limit })}
								/>{:else}<p class="quiet">The axes stand here as soon as a case is done.</p>{/if}
						{:else}
							<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
							<div class="pictures" tabindex="0" role="region" aria-label="Meshes of the cases">
								{#each pictured as entry (entry.one.number)}
									<button class:on={entry.one.number === chosen} onclick={() => (chosen = entry.one.number)}
										><svg viewBox="0 0 480 270" role="img" aria-label="Mesh of {entry.one.name}"
											><image href={pictureUrl(entry.outcome!.picture)} {...atScale(entry.outcome!.picture, oneScale)} /></svg
										><span>{entry.one.name}</span></button
									>
								{:else}<p class="quiet">Pictures stand here as soon as cases are done.</p>{/each}
							</div>
						{/if}
						{#if picked}
							<div class="picked">
								<b>{picked.one.name}</b>
								{#if picked.outcome?.message}<p class="problem">{picked.outcome.message}</p>{/if}
								{#if picked.outcome?.picture && over?.outcome?.picture}<LaidOver
										first={picked.outcome.picture}
										second={over.outcome.picture}
										names={[picked.one.name, over.one.name]}
									/>{:else if face !== 'pictures' && picked.outcome?.picture}<img
										src={pictureUrl(picked.outcome.picture)}
										alt="Mesh of {picked.one.name}"
									/>{/if}
								{#if picked.outcome?.picture}<select class="field" aria-label="Lay another case over it" bind:value={other}>
										<option value={0}>lay another case over it…</option>
										{#each pictured.filter((r) => r !== picked) as row (row.one.number)}<option value={row.one.number}
												>{row.one.name}</option
											>{/each}
									</select>{/if}
								{#if Object.keys(picked.one.settings).length > 0}<button
										class="action"
										data-tip="Writes the values of this case into the recipe; undo takes them back"
										onclick={() => take(picked)}>Open this case</button
									>{/if}
							</div>
						{/if}
					</div>
				</div>
				<footer>
					<pre class="number">npx tessellon study … --name {study.name} --out {study.name} --jobs 2</pre>
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
	.faces,
	.axes {
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
	.scroll {
		grid-row: 3;
		overflow: auto;
		border: 1px solid var(--edge);
	}
	table {
		width: 100%;
		font-size: 12px;
	}
	th {
		position: sticky;
		top: 0;
		padding: 3px 6px;
		background: var(--paper);
		text-align: right;
		vertical-align: bottom;
	}
	th.text,
	td:first-child {
		text-align: left;
	}
	th button {
		color: var(--quiet);
		font-size: 11px;
		text-align: inherit;
		cursor: pointer;
	}
	td {
		padding: 2px 6px;
		text-align: right;
		white-space: nowrap;
	}
	.case {
		cursor: pointer;
	}
	.wrong td,
	.problem {
		color: var(--brick);
	}
	.selected td {
		background: var(--marigold-soft);
	}
	.right {
		display: flex;
		flex-direction: column;
		gap: 8px;
		overflow-y: auto;
		min-height: 0;
	}
	.axes {
		color: var(--quiet);
		font-size: 12px;
	}
	.axes select {
		flex: 1;
		min-width: 0;
	}
	.on {
		border-color: var(--kingfisher);
	}
	svg line {
		stroke: var(--edge);
	}
	svg text {
		fill: var(--quiet);
		font-size: 10.5px;
	}
	.dots {
		fill: none;
		stroke: var(--kingfisher);
		stroke-linecap: round;
		stroke-opacity: 0.5;
		stroke-width: 6;
	}
	.dots.wrong {
		stroke: var(--brick);
	}
	.pictures svg {
		width: 100%;
		background: #f5f2ea;
	}
	circle {
		fill: var(--kingfisher);
		fill-opacity: 0.65;
		cursor: pointer;
	}
	circle.on {
		fill: var(--marigold);
		fill-opacity: 1;
		stroke: var(--ink);
	}
	circle.wrong {
		fill: var(--brick);
	}
	.pictures {
		display: grid;
		flex: 1;
		grid-template-columns: 1fr 1fr;
		gap: 6px;
		align-content: start;
		overflow-y: auto;
		min-height: 120px;
	}
	.pictures button {
		border: 1px solid var(--edge);
		font-size: 11px;
		cursor: pointer;
	}
	.pictures button.on {
		border-color: var(--marigold);
	}
	img {
		width: 100%;
	}
	.picked img {
		max-height: 150px;
		object-fit: contain;
	}
	progress::-webkit-progress-value {
		background: var(--kingfisher);
	}
	progress::-webkit-progress-bar {
		background: var(--edge);
	}
	.picked button {
		justify-self: start;
	}
	.picked {
		display: grid;
		gap: 6px;
		padding-top: 8px;
		border-top: 1px solid var(--edge);
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
