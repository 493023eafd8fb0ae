<script lang="ts">
	import { Progress } from '@skeletonlabs/skeleton-svelte';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** What stands over the drawing: how to begin on an empty sheet, and how far long work is. */
	const desk = useDesk();
	const inWords = (n: number) =>
		n >= 1e6 ? `${(n / 1e6).toPrecision(2)} million` : Number(n.toPrecision(2)).toLocaleString('en');
</script>

{#if desk.result && desk.result.model.curves.length === 0 && desk.tool === 'select'}
	<div class="invitation">
		<p>
			<b>An empty sheet.</b> Draw with the tools above, drop a coordinate file, a DXF or an SVG drawing here, paste rows of numbers,
			or write statements in the recipe text.
		</p>
	</div>
{/if}

{#if desk.meshing.progress !== undefined}
	<div class="progress panel" role="status">
		<span>Meshing… {Math.round(100 * desk.meshing.progress)} %</span>
		<Progress value={Math.round(100 * desk.meshing.progress)} class="meshing">
			<Progress.Track class="meshing-track"><Progress.Range class="meshing-done" /></Progress.Track>
		</Progress>
		<button class="action" onclick={() => desk.stop()}>Stop</button>
	</div>
{:else if desk.meshing.stopped}
	<div class="progress panel" role="status">
		<span>Stopped: there is no mesh of this recipe.</span>
		<button class="action" onclick={() => desk.mesh()}>Mesh now</button>
	</div>
{:else if desk.isCurrent && desk.result?.held !== undefined}
	{@const { held } = desk.result}
	<div class="progress panel" role="alertdialog" aria-label="Many elements">
		<span>About {inWords(held)} elements are to be expected; nothing is filled yet.</span>
		<button class="action" onclick={() => desk.agree(1.5 * held)}>Fill them</button>
	</div>
{/if}

<style>
	.progress {
		position: absolute;
		bottom: 34px;
		left: 50%;
		display: flex;
		align-items: center;
		gap: 10px;
		padding: 6px 10px;
		transform: translateX(-50%);
		font-size: 12px;
	}
	.progress :global(.meshing) {
		width: 120px;
	}
	.progress :global(.meshing-track) {
		height: 6px;
		border-radius: 3px;
		background: var(--edge);
	}
	.progress :global(.meshing-done) {
		height: 100%;
		border-radius: 3px;
		background: var(--kingfisher);
	}
	.invitation {
		position: absolute;
		inset: 0;
		display: grid;
		place-items: center;
		pointer-events: none;
	}
	.invitation p {
		max-width: 300px;
		color: var(--quiet);
		text-align: center;
	}
</style>
