<script lang="ts">
	import { useDesk } from '../desk/desk.svelte.ts';
	import { tools } from './drafting.svelte.ts';
	import { ruler } from './view.ts';

	let { onfit }: { onfit: () => void } = $props();
	const desk = useDesk();
	const offered = $derived(desk.station === 'shape' ? tools : tools.slice(0, 1));
	const current = $derived(tools.find((t) => t.name === desk.tool)!);
</script>

<div class="strip" style:left="{ruler.left + 10}px" style:top="{ruler.top + 8}px">
	<div class="panel row" role="toolbar" aria-label="Drawing tools">
		{#each offered as tool (tool.name)}
			<button
				class:current={desk.tool === tool.name}
				aria-pressed={desk.tool === tool.name}
				title="{tool.title} ({tool.key}): {tool.hint}"
				onclick={() => (desk.tool = tool.name)}
			>
				<svg viewBox="0 0 20 20" aria-hidden="true">
					{#if tool.name === 'select'}<path d="M5 3l9 7-4 .8L12 15l-2 1-2-4.4L5 15z" />
					{:else if tool.name === 'point'}<path d="M10 3v4M10 13v4M3 10h4M13 10h4" /><circle cx="10" cy="10" r="2.2" />
					{:else if tool.name === 'line'}<path d="M5 15L15 5" /><circle cx="4" cy="16" r="1.6" /><circle cx="16" cy="4" r="1.6" />
					{:else if tool.name === 'rectangle'}<rect x="3.5" y="5.5" width="13" height="9" />
					{:else}<circle cx="10" cy="10" r="6.5" /><circle cx="10" cy="10" r="0.8" />{/if}
				</svg>
				<span>{tool.title}</span>
			</button>
		{/each}
		<button title="Fit everything into the drawing (F)" onclick={onfit}>
			<svg viewBox="0 0 20 20" aria-hidden="true"><path d="M3 7V3h4M13 3h4v4M17 13v4h-4M7 17H3v-4" /></svg><span>Fit</span>
		</button>
	</div>
	{#if desk.tool !== 'select'}<p>{current.title}: {current.hint}</p>{/if}
</div>

<style>
	.strip {
		position: absolute;
		pointer-events: none;
	}
	.row {
		display: inline-flex;
		gap: 1px;
		padding: 2px;
		pointer-events: auto;
	}
	button {
		display: inline-flex;
		align-items: center;
		gap: 4px;
		padding: 3px 7px;
		border-radius: 2px;
		font-size: 12px;
		cursor: pointer;
	}
	button:hover {
		background: var(--kingfisher-soft);
	}
	button.current {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	svg {
		width: 15px;
		height: 15px;
		fill: none;
		stroke: currentColor;
		stroke-width: 1.5;
	}
	p {
		margin-top: 5px;
		padding: 1px 6px;
		width: fit-content;
		border-radius: 3px;
		background: color-mix(in srgb, var(--paper) 88%, transparent);
		color: var(--quiet);
		font-size: 11.5px;
	}
</style>
