<script lang="ts">
	import { jumpAt } from '../../core/divide/jumps.ts';
	import { writtenSize } from '../../core/recipe/physics/calculators.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { short, type PieceRow } from './rows.ts';

	/** The two ends of a piece: the cells that touch where its line goes on, and how to make them alike. */
	let { row, onset }: { row: PieceRow; onset: (typed: string, toward: string) => void } = $props();
	const desk = useDesk();
	const ends = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		return (['start', 'end'] as const).flatMap((end) => {
			const jump = jumpAt(result.arrangement, result.divisions.pieces, row.piece, end);
			return jump ? [{ end, jump, target: row.targets[end][0] }] : [];
		});
	});

	/** The end's cell takes the neighbour's size; the other end keeps the size that was asked for there. */
	function match(end: 'start' | 'end', other: number, target: string): void {
		const { spacing } = row.division;
		const far = end === 'start' ? 'end' : 'start';
		const isFar =
			spacing.law === 'two-ended' ||
			(spacing.law === 'geometric' && 'first' in spacing.number && spacing.end !== end && spacing.end !== 'both');
		const figures = row.division.figures;
		if (isFar && row.targets[far][0])
			onset(
				`first ${writtenSize(far === 'start' ? figures.first : figures.last)} last ${writtenSize(other)}`,
				row.targets[far][0]
			);
		else onset(`first ${writtenSize(other)}`, target);
	}
</script>

{#if ends.length > 0}
	<ul aria-label="Ends of {row.name}">
		{#each ends as { end, jump, target } (end)}
			<li>
				<span
					>{end}: {short(jump.cell)} against {short(jump.other)} of <b>{desk.names[jump.piece]}</b>, jump
					<span class="number">{jump.ratio.toFixed(2)}</span></span
				>
				{#if target && jump.ratio > 1.001}<button
						class="action"
						onclick={() => match(end, jump.other, target)}
						data-tip="Make the cell at this end {writtenSize(jump.other)}, as its neighbour is">Match</button
					>{/if}
			</li>
		{/each}
	</ul>
{/if}

<style>
	ul {
		margin: 0 8px 6px;
		padding: 4px 8px;
		border-left: 2px solid var(--edge);
		font-size: 12px;
	}
	li {
		display: flex;
		align-items: center;
		justify-content: space-between;
		gap: 8px;
		min-height: 26px;
	}
</style>
