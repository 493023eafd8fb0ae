<script lang="ts">
	import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
	import type { Revision } from '../../api/schemas.ts';
	import { history } from '../api/client.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	const desk = useDesk();
	let revisions = $state.raw<Revision[]>([]);
	let problem = $state('');

	async function load(open: boolean): Promise<void> {
		if (!open) return;
		try {
			desk.finishTyping();
			await desk.saver.flush();
			revisions = await history(desk.id);
			problem = '';
		} catch {
			problem = 'The history could not be loaded; is the server running?';
		}
	}

	async function back(number: number): Promise<void> {
		await desk.restore(number);
		await load(true);
	}
</script>

<Popover positioning={{ placement: 'bottom-end' }} onOpenChange={(event) => load(event.open)}>
	<Popover.Trigger class="action plain" data-tip="All revisions">History</Popover.Trigger>
	<Portal>
		<Popover.Positioner>
			<Popover.Content class="panel history">
				<Popover.Title class="heading">Revisions</Popover.Title>
				{#if problem}<p class="problem">{problem}</p>{/if}
				<ol>
					{#each revisions as revision (revision.number)}
						<li class:current={revision.current}>
							<span class="number">{revision.number}</span>
							<p>
								{revision.label}<time datetime={revision.createdAt}>{new Date(revision.createdAt).toLocaleString('en-GB')}</time>
							</p>
							{#if !revision.current}<button class="action" onclick={() => back(revision.number)}>Go back to it</button>{:else}<em
									>now</em
								>{/if}
						</li>
					{/each}
				</ol>
			</Popover.Content>
		</Popover.Positioner>
	</Portal>
</Popover>

<style>
	:global(.history) {
		z-index: 30;
		overflow: auto;
		width: 380px;
		max-height: 60vh;
		padding: 10px;
	}
	:global(.history .heading) {
		margin-bottom: 6px;
		font-weight: 600;
	}
	li {
		display: flex;
		align-items: center;
		gap: 10px;
		padding: 4px 0;
		border-top: 1px solid var(--edge);
	}
	li.current {
		background: var(--kingfisher-soft);
	}
	.number {
		width: 30px;
		color: var(--quiet);
		text-align: right;
	}
	p {
		flex: 1;
	}
	time {
		display: block;
		color: var(--quiet);
		font-size: 11px;
	}
	em {
		padding-right: 8px;
	}
	.problem {
		color: var(--brick);
	}
</style>
