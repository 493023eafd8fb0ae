<script lang="ts">
	import { applyEdits } from '../../core/text/edit.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { asSentence } from './checked.ts';

	/** What is reported about labels, besides pieces in no group. */
	const desk = useDesk();
	const labelProblems = $derived(desk.labelProblems.filter(({ code }) => code !== 'unlabelled'));
</script>

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

<style>
	h3 {
		padding: 10px 8px 4px;
		color: var(--brick);
		font-weight: 600;
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
