<script lang="ts">
	import Choice from '../controls/Choice.svelte';
	import { roving } from '../controls/roving.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { changingTools, drawingTools, pickingTools, toolNamed } from './tools/table.ts';
	import type { Tool } from './tools/tool.ts';
	import { ruler } from './view.ts';

	let {
		prompt,
		problem,
		onfit,
		onfile,
		onsize
	}: {
		prompt: string;
		problem: string | undefined;
		onfit: () => void;
		onfile: (file: File | undefined) => void;
		/** Told how much room the tools take. */
		onsize: (width: number, height: number) => void;
	} = $props();
	let picker: HTMLInputElement;
	let width = $state(0);
	let height = $state(0);
	$effect(() => onsize(width, height));
	const desk = useDesk();
	const offered = $derived(desk.station === 'shape' ? drawingTools : pickingTools);
	const title = (tool: Tool) => `${tool.title}${tool.key ? ` (${tool.key})` : ''}: ${tool.hint}`;
</script>

<div
	class="strip"
	bind:clientWidth={width}
	bind:clientHeight={height}
	style:left="{ruler.left + 10}px"
	style:top="{ruler.top + 8}px"
>
	<div class="panel row" role="toolbar" aria-label="Drawing tools" {@attach roving}>
		{#each offered as tool (tool.name)}
			<button
				class:current={desk.tool === tool.name}
				aria-pressed={desk.tool === tool.name}
				data-tip={title(tool)}
				onclick={() => (desk.tool = tool.name)}
			>
				<svg viewBox="0 0 20 20" aria-hidden="true">
					{#if tool.name === 'select'}<path d="M5 3l9 7-4 .8L12 15l-2 1-2-4.4L5 15z" />
					{:else if tool.name === 'lasso'}<path
							d="M6.5 13.2C4 12 3 10.4 3 8.6 3 5.5 6.1 3.5 10 3.5s7 2 7 5.1-3.1 5.1-7 5.1c-1.2 0-2.4-.2-3.5-.5zM6.5 13.2c-.9 1-.7 2.6.8 3.3"
							stroke-dasharray="2.4 1.6"
						/>
					{:else if tool.name === 'point'}<path d="M10 3v4M10 13v4M3 10h4M13 10h4" /><circle cx="10" cy="10" r="2.2" />
					{:else if tool.name === 'line'}<path d="M5 15L15 5" /><circle cx="4" cy="16" r="1.6" /><circle cx="16" cy="4" r="1.6" />
					{:else if tool.name === 'arc'}<path d="M4 15A11 11 0 0 1 16 15" /><circle cx="4" cy="15" r="1.6" /><circle
							cx="16"
							cy="15"
							r="1.6"
						/>
					{:else if tool.name === 'arc-around'}<path d="M4 14A11 11 0 0 1 16 14M10 17L4 14M10 17l6-3" /><circle
							cx="10"
							cy="17"
							r="1.6"
						/>
					{:else if tool.name === 'spline'}<path d="M3 14C7 2 11 18 17 6" /><circle cx="3" cy="14" r="1.4" /><circle
							cx="17"
							cy="6"
							r="1.4"
						/>
					{:else if tool.name === 'rectangle'}<rect x="3.5" y="5.5" width="13" height="9" />
					{:else if tool.name === 'ellipse'}<ellipse cx="10" cy="10" rx="7" ry="4.2" />
					{:else if tool.name === 'polygon'}<path d="M10 3l6 3.5v7L10 17l-6-3.5v-7z" />
					{:else if tool.name === 'measure'}<path d="M3 13l10-10 4 4-10 10zM6 10l1.6 1.6M8.5 7.5L11 10M11 5l1.6 1.6" />
					{:else}<circle cx="10" cy="10" r="6.5" /><circle cx="10" cy="10" r="0.8" />{/if}
				</svg>
				<!-- The row holds no more words. -->
				<span class:unseen={tool.name === 'lasso'}>{tool.title}</span>
			</button>
		{/each}
		<button data-tip="Fit everything into the drawing (F)" onclick={onfit}>
			<svg viewBox="0 0 20 20" aria-hidden="true"><path d="M3 7V3h4M13 3h4v4M17 13v4h-4M7 17H3v-4" /></svg><span>Fit</span>
		</button>
		{#if desk.station === 'shape'}
			<button
				data-tip="Import a file of coordinates, DXF or SVG, or the outline of a mesh (CGNS, VTU)"
				onclick={() => picker.click()}
			>
				<svg viewBox="0 0 20 20" aria-hidden="true"><path d="M10 3v9M6 8l4 4 4-4M4 16h12" /></svg><span>Import</span>
			</button>
		{/if}
		<input
			bind:this={picker}
			type="file"
			hidden
			aria-label="File to import"
			accept=".csv,.txt,.dat,.tsv,.dxf,.svg,.cgns,.vtu,text/plain,image/svg+xml"
			onchange={(event) => {
				onfile(event.currentTarget.files?.[0]);
				event.currentTarget.value = '';
			}}
		/>
	</div>
	{#if desk.station === 'shape'}
		<div class="panel row changes" role="toolbar" aria-label="Tools that change curves" {@attach roving}>
			{#each changingTools as tool (tool.name)}
				<button
					class:current={desk.tool === tool.name}
					aria-pressed={desk.tool === tool.name}
					data-tip={title(tool)}
					onclick={() => (desk.tool = tool.name)}>{tool.title}</button
				>
			{/each}
		</div>
	{/if}
	{#if desk.tool !== 'select'}<p role="status" class="prompt">{prompt}</p>{/if}
	{#if toolNamed(desk.tool).movesCurves}
		<div class="panel along"><Choice bind:checked={desk.takesAlong}>with regions, fills, layers and labels</Choice></div>
	{/if}
	{#if problem}<p class="problem">{problem}</p>{/if}
</div>

<style>
	.strip {
		position: absolute;
		pointer-events: none;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		width: fit-content;
		gap: 1px;
		padding: 2px;
		pointer-events: auto;
	}
	button {
		display: inline-flex;
		align-items: center;
		gap: 3px;
		padding: 3px 4px;
		border-radius: 2px;
		font-size: 11.5px;
		cursor: pointer;
	}
	button:hover {
		background: var(--kingfisher-soft);
	}
	button.current {
		background: var(--kingfisher);
		color: var(--on-kingfisher);
	}
	.along {
		width: fit-content;
		margin-top: 3px;
		padding: 3px 8px;
		font-size: 11.5px;
		pointer-events: auto;
	}
	.changes {
		margin-top: 3px;
	}
	.changes button {
		padding: 2px 4px;
		font-size: 11.5px;
	}
	/* Where there is little room the tools go by their pictures, and the others in one row. */
	@container (max-width: 640px) {
		.row:not(.changes) button span {
			display: none;
		}
		.changes {
			overflow-x: auto;
			flex-wrap: nowrap;
			max-width: calc(100cqw - 70px);
		}
		.changes button {
			flex: none;
		}
	}
	p.problem {
		color: var(--brick);
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
