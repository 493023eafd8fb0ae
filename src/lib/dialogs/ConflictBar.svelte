<script lang="ts">
	import { useDesk } from '../desk/desk.svelte.ts';

	const desk = useDesk();
	const { saver } = desk;
</script>

{#if saver.state === 'conflict'}
	<div class="bar" role="alert">
		<p>
			<b>{desk.document ? `${desk.document} was changed by another editor` : 'This project was changed in another window'}</b> and
			is at revision {saver.theirs?.revision} there. Your change is still here; neither is lost.
		</p>
		<button class="action" onclick={() => desk.takeTheirs()}>Load other version</button>
		<button class="action main" onclick={() => saver.keepMine()}>Overwrite with mine</button>
	</div>
{:else if saver.refusal}
	<div class="bar" role="alert">
		<p><b>What you do is not being saved:</b> {saver.refusal}. It is kept here and tried again; keep this window open.</p>
		<button class="action" onclick={() => desk.downloadRecipe()}>Download the text</button>
		<button class="action main" onclick={() => saver.retry()}>Try now</button>
	</div>
{/if}

<style>
	.bar {
		position: absolute;
		top: 52px;
		left: 50%;
		z-index: 20;
		display: flex;
		align-items: center;
		gap: 10px;
		max-width: 90vw;
		padding: 8px 12px;
		transform: translateX(-50%);
		border: 1px solid var(--brick);
		border-radius: 4px;
		background: var(--brick-soft);
		box-shadow: var(--shadow);
	}
</style>
