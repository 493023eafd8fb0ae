<script lang="ts">
	import { deliveryName } from '../../formats/delivery.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

	/** How the same files are made from the command line and by the API. */
	const { title, isAsked }: { title: string; isAsked: boolean } = $props();
	const desk = useDesk();
</script>

<h3>The same from the command line</h3>
<pre class="number">npx tessellon mesh {deliveryName(title, 'tessellon')} \
  {isAsked ? '--deliver --to results' : `--out ${deliveryName(title, 'cgns')}`}</pre>
<h3>And by the API</h3>
<pre class="number">curl -X POST -H 'content-type: application/json' \
  -d '{JSON.stringify({ format: isAsked ? 'all' : 'cgns' })}' \
  {location.origin}/api/projects/{desk.id}/deliveries</pre>
<p class="hint">The file is the same, byte for byte. The recipe text has what to save.</p>

<style>
	pre {
		padding: 8px;
		border: 1px solid var(--edge);
		border-radius: 3px;
		background: var(--paper);
		font-size: 11.5px;
		white-space: pre-wrap;
	}
</style>
