<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import Standings from './Standings.svelte';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** What a delivery needs, and what of it is there. */
	const desk = useDesk();
	/** So many findings about labels are listed at most. */
	const mostFindings = 8;
	const checks = $derived([
		{ ok: desk.errors === 0, text: desk.errors === 0 ? 'no error' : `${counted(desk.errors, 'error')} among the findings` },
		...desk.labelProblems
			.filter(({ code }) => !['unlabelled', 'two-groups', 'owner-nowhere'].includes(code))
			.slice(0, mostFindings)
			.map((finding) => ({ ok: false, text: finding.message, finding }))
	]);
</script>

<Standings />
<ul>
	{#each checks as check (check.text)}<li class:ok={check.ok}>
			<span aria-hidden="true">{check.ok ? '✓' : '!'}</span>{check.text}
			{#if 'finding' in check && check.finding.at}<button onclick={() => desk.show(check.finding)}>Show</button>{/if}
		</li>{/each}
</ul>

<style>
	li {
		display: flex;
		gap: 8px;
		padding: 2px 0;
		color: var(--brick);
	}
	li.ok {
		color: var(--ink);
	}
	span {
		width: 14px;
		font-weight: 600;
		text-align: center;
	}
	li.ok span {
		color: var(--kingfisher);
	}
	button {
		align-self: start;
		color: var(--kingfisher);
		cursor: pointer;
	}
</style>
