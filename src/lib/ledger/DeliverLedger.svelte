<script lang="ts">
	import { addStatement, removeStatement } from '../../core/recipe/edits/edits.ts';
	import { solidOf } from '../../core/recipe/statements/solid.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import {
		deliveryFormats,
		deliveryName,
		downloadOf,
		needsTemplate,
		requestedDeliveries,
		type DeliveryFormat,
		type RequestedDelivery
	} from '../../formats/delivery.ts';
	import { refusalOf } from '../../formats/refusal.ts';
	import Choice from '../controls/Choice.svelte';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { browserMemory } from '../storage/browser-memory.ts';
	import { Deliveries } from './deliveries.svelte.ts';
	import OtherWays from './OtherWays.svelte';
	import { unnamed } from '../projects/chosen.ts';
	import ReadyChecks from './ReadyChecks.svelte';
	import SolidCard from './SolidCard.svelte';
	import StudyCard from './StudyCard.svelte';
	import TemplateCard from './TemplateCard.svelte';

	const desk = useDesk();
	const deliveries = new Deliveries(desk, browserMemory);
	const title = $derived(desk.result?.model.title ?? '');
	/** The deliveries that the recipe asks for, with how each is written. */
	const requested = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		return requestedDeliveries(result.model).map((one, k) => {
			const { from, to } = result.recipe.lines[one.line]!;
			return { ...one, k, source: result.recipe.text.slice(from, to) };
		});
	});
	const solid = $derived(desk.result && solidOf(desk.result.model));
	let picker: HTMLInputElement;

	/** Said once for all formats that hold a mesh. */
	const meshRefusal = $derived(desk.result && desk.elements > 0 ? refusalOf(desk.result, 'mesh', deliveries.partial) : undefined);
	const isPartialAsked = (statement: RequestedDelivery['statement']) => statement?.options.partial === 'yes';

	function keep(format: DeliveryFormat): void {
		desk.edit(applyEdits(desk.text, addStatement(desk.recipe, `deliver ${format.name}`)), `Deliver ${format.title}`);
	}

	function drop({ line: shown, source }: { line: number; source: string }): void {
		const line = desk.lineNow(shown);
		if (line >= 0) desk.edit(applyEdits(desk.text, removeStatement(desk.recipe, line)), `No longer ${source}`);
	}
</script>

{#snippet again(what: string)}
	{@const file = deliveries.lookable(what)}
	{#if file}<button
			class="show"
			data-tip="Open what was written, as a reader sees it"
			onclick={() => deliveries.look(file.name, file.bytes)}>Look at it</button
		>{/if}
{/snippet}

{#snippet working()}
	<p class="working" role="status">
		<span>Writing{deliveries.done ? ` ${deliveries.done}` : ''}…</span>
		<button class="action" onclick={() => desk.stopDelivery()}>Stop</button>
	</p>
{/snippet}

<section>
	{#if unnamed(desk.result?.model.title ?? '')}
		<label class="naming"
			>Files are called by the title, which is not given yet: <input
				class="field"
				placeholder={desk.result?.model.title}
				aria-label="Title for the files"
				onchange={(event) => desk.retitle(event.currentTarget.value)}
			/></label
		>
	{/if}
	<h3>Ready?</h3>
	<ReadyChecks />
	<SolidCard {solid} />
	{#if requested.length > 0}
		<h3>The recipe asks for</h3>
		{#each requested as { k, line, source, statement, format, problem: wrong } (k)}
			<div class="format">
				<div>
					<code>{source}</code>
					<p>
						{#if wrong}<span class="problem">{wrong}</span>{:else}{format?.title}{#if deliveries.standing(source)}, {deliveries.standing(
									source
								)}{/if}{/if}
					</p>
					{@render again(source)}
				</div>
				<button
					class="action main"
					disabled={!format || wrong !== undefined || deliveries.isHeld(format, isPartialAsked(statement))}
					onclick={() => deliveries.download(source, { statement: k })}
					>{deliveries.busy === source ? 'Writing…' : 'Download'}</button
				>
				<button
					class="remove"
					aria-label="No longer {source}"
					data-tip="Take it out of the recipe"
					onclick={() => drop({ line, source })}>×</button
				>
			</div>
		{/each}
		<button
			class="action main all"
			disabled={deliveries.busy !== '' || !desk.isCurrent}
			onclick={() => deliveries.download('all', 'all')}
			>{deliveries.busy === 'all'
				? 'Writing…'
				: `All of it${deliveries.standing('all') ? `, ${deliveries.standing('all')}` : ''}`}</button
		>
	{/if}
	<StudyCard />
	<TemplateCard />
	<h3>The recipe itself</h3>
	<div class="format">
		<div>
			<b>Recipe</b> <span class="number quiet">{deliveryName(title, 'tessellon')}</span>
			<p>The document as text, for the command line, version control and next year.</p>
		</div>
		<button class="action" onclick={() => desk.downloadRecipe()}>Download</button>
	</div>
	<h3>Formats</h3>
	{#if meshRefusal}<p class="problem">No mesh is delivered: {meshRefusal}.</p>{/if}
	{#if desk.result?.unfilled.length && desk.elements > 0}
		<div class="partial"><Choice bind:checked={deliveries.partial}>Deliver what is filled all the same</Choice></div>
	{/if}
	{#each deliveryFormats.filter((f) => !needsTemplate(f)) as format (format.name)}
		<div class="format">
			<div>
				<b>{format.title}</b> <span class="number quiet">{downloadOf(title, format).name}</span>
				<p>{format.about}</p>
				{#if deliveries.standing(format.name)}<p class="number">{deliveries.standing(format.name)}</p>{/if}
				{@render again(format.name)}
			</div>
			<div class="two">
				<button class="action main" disabled={deliveries.isHeld(format)} onclick={() => deliveries.downloadFormat(format)}
					>{deliveries.busy === format.name ? 'Writing…' : 'Download'}</button
				>
				<button class="action" data-tip="Write it into the recipe, so that it can be repeated" onclick={() => keep(format)}
					>Keep</button
				>
			</div>
		</div>
	{/each}
	{#if deliveries.busy !== ''}{@render working()}{/if}
	{#if deliveries.problem}<p class="problem" role="alert">{deliveries.problem}</p>{/if}
	<h3>Read back</h3>
	<div class="format">
		<div>
			<b>Look at a mesh file</b>
			<p>CGNS or VTK XML, of this project or of others: its mesh, groups and quality, beside the counts of this recipe.</p>
		</div>
		<button class="action" onclick={() => picker.click()}>Open…</button>
		<input
			bind:this={picker}
			type="file"
			hidden
			aria-label="Mesh to look at"
			accept=".cgns,.vtu"
			onchange={async (event) => {
				const file = event.currentTarget.files?.[0];
				event.currentTarget.value = '';
				if (file) await deliveries.look(file.name, new Uint8Array(await file.arrayBuffer()));
			}}
		/>
	</div>
	<OtherWays {title} isAsked={requested.length > 0} />
</section>

<style>
	.naming {
		display: grid;
		gap: 4px;
		padding-bottom: 6px;
	}
	section {
		padding: 4px 10px;
	}
	/* Of the cards in it, too. */
	section :global(h3) {
		padding: 10px 0 4px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	.show {
		align-self: start;
		color: var(--kingfisher);
		cursor: pointer;
	}
	.format {
		display: flex;
		align-items: start;
		gap: 10px;
		padding: 8px 0;
		border-top: 1px solid var(--edge);
	}
	.format > div:first-child {
		flex: 1;
		min-width: 0;
	}
	.format .two {
		display: grid;
		gap: 4px;
	}
	code {
		font-family: 'IBM Plex Mono', monospace;
		font-size: 12px;
		overflow-wrap: anywhere;
	}
	.remove {
		width: 20px;
		color: var(--quiet);
		cursor: pointer;
	}
	.all {
		margin: 6px 0;
	}
	.format p,
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
	.working {
		position: sticky;
		bottom: 0;
		display: flex;
		align-items: center;
		justify-content: space-between;
		padding: 6px 0;
		background: var(--paper);
	}
	.partial {
		display: block;
		padding-bottom: 6px;
	}
	.problem {
		color: var(--brick);
	}
</style>
