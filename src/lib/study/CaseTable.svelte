<script lang="ts">
	import type { StudyCase } from '../../core/study/cases.ts';
	import VirtualRows from '../virtual/VirtualRows.svelte';
	import { headingOf, numericColumns, sorted, textOf, type CaseRow } from './case-rows.ts';

	/** The cases and their figures in rows, sorted by a click on a heading. */
	interface Props {
		study: string;
		cases: readonly StudyCase[];
		rows: readonly CaseRow[];
		/** The number of the case that is looked at; 0 for none. */
		chosen: number;
	}
	let { study, cases, rows, chosen = $bindable() }: Props = $props();

	let sortBy = $state('');
	let isDown = $state(false);
	const columns = $derived(['case', ...numericColumns(cases), 'time']);
	const inOrder = $derived(sortBy === '' ? rows : sorted(rows, sortBy, isDown));

	function sort(key: string): void {
		isDown = sortBy === key ? !isDown : false;
		sortBy = key;
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div class="scroll" data-scrolls tabindex="0" role="region" aria-label="Cases">
	<table aria-label="Cases of {study}">
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
			rows={inOrder}
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
								>{:else}{textOf(entry, key)}{/if}</td
						>{/each}
				</tr>
			{/snippet}
		</VirtualRows>
	</table>
</div>

<style>
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
	.wrong td {
		color: var(--brick);
	}
	.selected td {
		background: var(--marigold-soft);
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
</style>
