<script lang="ts">
	import { useDesk } from '../desk/desk.svelte.ts';
	import { type Standing, standings } from './standings.ts';

	/** What is so, always there: each with its count, and a click that shows it, one place after the other. */
	const { more = [] }: { more?: readonly Standing[] } = $props();
	const desk = useDesk();
	const list = $derived([...(desk.result ? standings(desk.result, desk.names, desk.unlabelled) : []), ...more]);
	let walked = $state<Record<string, number>>({});

	function show({ text, places, keys }: Standing): void {
		if (keys.length > 0) desk.select(keys, false);
		const next = places[(walked[text] ?? 0) % Math.max(places.length, 1)];
		if (!next) return;
		walked[text] = (walked[text] ?? 0) + 1;
		const { x, y, said } = next;
		desk.showAt = { x, y };
		if (said) desk.notice = said;
	}
</script>

<ul>
	{#each list as standing (standing.text)}<li class:ok={standing.ok}>
			<span aria-hidden="true">{standing.ok ? '✓' : '!'}</span>
			{#if standing.places.length + standing.keys.length > 0}<button data-tip="Show it" onclick={() => show(standing)}
					>{standing.text}</button
				>{:else}{standing.text}{/if}
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
		text-align: left;
		cursor: pointer;
	}
	button:hover,
	button:focus-visible {
		color: var(--kingfisher);
		text-decoration: underline;
	}
</style>
