<script lang="ts">
	import { refusalOf } from '../../formats/refusal.ts';
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { keepDeliveries, keptDeliveries, markOf, standingOf } from './stored-deliveries.ts';
	import { browserMemory } from '../storage/browser-memory.ts';
	import Choice from '../controls/Choice.svelte';
	import {
		type RequestedDelivery,
		requestedDeliveries,
		type DeliveredFile,
		downloadOf,
		needsTemplate,
		deliveryFormats,
		deliveryName,
		type DeliveryFormat,
		type DeliveryRequest
	} from '../../formats/delivery.ts';
	import { addStatement, removeStatement } from '../../core/recipe/edits/edits.ts';
	import { solidOf } from '../../core/recipe/statements/solid.ts';
	import { applyEdits } from '../../core/text/edit.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import SolidCard from './SolidCard.svelte';
	import StudyCard from './StudyCard.svelte';
	import TemplateCard from './TemplateCard.svelte';

	const desk = useDesk();
	let busy = $state('');
	let problem = $state('');
	let partial = $state(false);
	const unfilled = $derived(desk.result?.unfilled ?? []);
	const checks = $derived([
		{
			ok: desk.isCurrent && desk.elements > 0,
			text: desk.elements > 0 ? `${desk.elements.toLocaleString('en')} elements` : 'no element: fill a region first'
		},
		{
			ok: desk.errors === 0,
			text: desk.errors === 0 ? 'no error' : `${desk.errors} error${desk.errors === 1 ? '' : 's'} among the findings`
		},
		{
			ok: desk.unlabelled.length === 0,
			text:
				desk.unlabelled.length === 0
					? 'every boundary piece is in a group'
					: `${desk.unlabelled.length} boundary piece${desk.unlabelled.length === 1 ? '' : 's'} in no group`
		},
		...desk.labelProblems
			.filter(({ code }) => code !== 'unlabelled')
			.slice(0, 8)
			.map((finding) => ({ ok: false, text: finding.message, finding }))
	]);
	const title = $derived(desk.result?.model.title ?? '');

	/** The deliveries that the recipe asks for, with how each is written. */
	const asked = $derived.by(() => {
		const { result } = desk;
		if (!result) return [];
		return requestedDeliveries(result.model).map((one, k) => {
			const { from, to } = result.recipe.lines[one.line]!;
			return { ...one, k, source: result.recipe.text.slice(from, to) };
		});
	});
	const solid = $derived(desk.result && solidOf(desk.result.model));
	/** The files that were delivered since the page was opened, by how each is written. */
	let files = $state.raw<Record<string, DeliveredFile>>({});
	/** What was delivered of this project on this machine: it outlives the page. */
	let delivered = $state.raw(keptDeliveries(browserMemory, desk.id));
	/** How many of several deliveries are done. */
	let done = $state('');
	let picker: HTMLInputElement;

	async function download(what: string, wanted: DeliveryRequest): Promise<void> {
		busy = what;
		problem = '';
		try {
			const since = performance.now();
			const { text } = desk;
			const file = await desk.download(wanted, (k, of) => (done = `${k + 1} of ${of}`));
			files = { ...files, [what]: file };
			if (file.problems?.length) problem = `${file.problems.join('. ')}.`;
			const milliseconds = performance.now() - since;
			const record = { revision: Math.max(1, desk.saver.revision), mark: markOf(text), bytes: file.bytes.length, milliseconds };
			delivered = { ...keptDeliveries(browserMemory, desk.id), [what]: record };
			keepDeliveries(browserMemory, desk.id, delivered);
		} catch (error) {
			problem = sentenceOf(error, 'the delivery');
		} finally {
			busy = '';
			done = '';
		}
	}

	/** Opens a mesh file to be looked at: one that was delivered here, or another. */
	async function look(name: string, bytes: Uint8Array): Promise<void> {
		problem = '';
		try {
			await desk.lookAtFile(name, bytes);
		} catch (error) {
			problem = `${name}: ${sentenceOf(error, 'the delivery')}.`;
		}
	}

	/** What was delivered and can be looked at again. */
	const lookable = (what: string) => {
		const file = files[what];
		return file && /\.(cgns|vtu)$/.test(file.name) ? file : undefined;
	};

	const options = () => (partial && unfilled.length > 0 ? { partial: 'yes' } : {});
	/** Why a format cannot be delivered now, as a sentence; undefined where it can. */
	const refusal = (format: DeliveryFormat, isPartial: boolean) => desk.result && refusalOf(desk.result, format.holds, isPartial);
	const isHeld = (format: DeliveryFormat, isPartial = partial) =>
		!desk.isCurrent || busy !== '' || refusal(format, isPartial) !== undefined;
	/** Said once for all formats that hold a mesh. */
	const meshRefusal = $derived(desk.result && desk.elements > 0 ? refusalOf(desk.result, 'mesh', partial) : undefined);
	const isPartialAsked = (statement: RequestedDelivery['statement']) => statement?.options.partial === 'yes';

	function keep(format: DeliveryFormat): void {
		desk.edit(applyEdits(desk.text, addStatement(desk.recipe, `deliver ${format.name}`)), `Deliver ${format.title}`);
	}

	function drop(source: string): void {
		const line = desk.recipe.lines.findIndex(({ from, to }) => desk.text.slice(from, to) === source);
		if (line >= 0) desk.edit(applyEdits(desk.text, removeStatement(desk.recipe, line)), `No longer ${source}`);
	}

	const standing = (what: string) => standingOf(delivered[what], desk.text);
</script>

{#snippet again(what: string)}
	{@const file = lookable(what)}
	{#if file}<button class="show" data-tip="Open what was written, as a reader sees it" onclick={() => look(file.name, file.bytes)}
			>Look at it</button
		>{/if}
{/snippet}

{#snippet working()}
	<p class="working" role="status">
		<span>Writing{done ? ` ${done}` : ''}…</span>
		<button class="action" onclick={() => desk.stopDelivery()}>Stop</button>
	</p>
{/snippet}

<section>
	<h3>Ready?</h3>
	<ul>
		{#each checks as check (check.text)}<li class:ok={check.ok}>
				<span aria-hidden="true">{check.ok ? '✓' : '!'}</span>{check.text}
				{#if 'finding' in check && check.finding.at}<button class="show" onclick={() => desk.show(check.finding)}>Show</button
					>{/if}
			</li>{/each}
	</ul>
	<SolidCard {solid} />
	{#if asked.length > 0}
		<h3>The recipe asks for</h3>
		{#each asked as { k, source, statement, format, problem: wrong } (k)}
			<div class="format">
				<div>
					<code>{source}</code>
					<p>
						{#if wrong}<span class="problem">{wrong}</span>{:else}{format?.title}{#if standing(source)}, {standing(
									source
								)}{/if}{/if}
					</p>
					{@render again(source)}
				</div>
				<button
					class="action main"
					disabled={!format || wrong !== undefined || isHeld(format, isPartialAsked(statement))}
					onclick={() => download(source, { statement: k })}>{busy === source ? 'Writing…' : 'Download'}</button
				>
				<button class="remove" aria-label="No longer {source}" data-tip="Take it out of the recipe" onclick={() => drop(source)}
					>×</button
				>
			</div>
		{/each}
		<button class="action main all" disabled={busy !== '' || !desk.isCurrent} onclick={() => download('all', 'all')}
			>{busy === 'all' ? 'Writing…' : `All of it${standing('all') ? `, ${standing('all')}` : ''}`}</button
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
	{#if unfilled.length > 0 && desk.elements > 0}
		<div class="partial"><Choice bind:checked={partial}>Deliver what is filled all the same</Choice></div>
	{/if}
	{#each deliveryFormats.filter((f) => !needsTemplate(f)) as format (format.name)}
		<div class="format">
			<div>
				<b>{format.title}</b> <span class="number quiet">{downloadOf(title, format).name}</span>
				<p>{format.about}</p>
				{#if standing(format.name)}<p class="number">{standing(format.name)}</p>{/if}
				{@render again(format.name)}
			</div>
			<div class="two">
				<button
					class="action main"
					disabled={isHeld(format)}
					onclick={() =>
						download(format.name, { format: format.name, ...(format.holds === 'mesh' ? { options: options() } : {}) })}
					>{busy === format.name ? 'Writing…' : 'Download'}</button
				>
				<button class="action" data-tip="Write it into the recipe, so that it can be repeated" onclick={() => keep(format)}
					>Keep</button
				>
			</div>
		</div>
	{/each}
	{#if busy !== ''}{@render working()}{/if}
	{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
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
				if (file) await look(file.name, new Uint8Array(await file.arrayBuffer()));
			}}
		/>
	</div>
	<h3>The same from the command line</h3>
	<pre class="number">npx tessellon mesh {deliveryName(title, 'tessellon')} \
  {asked.length > 0 ? '--deliver --to results' : `--out ${deliveryName(title, 'cgns')}`}</pre>
	<h3>And by the API</h3>
	<pre class="number">curl -X POST -H 'content-type: application/json' \
  -d '{JSON.stringify({ format: asked.length > 0 ? 'all' : 'cgns' })}' \
  {location.origin}/api/projects/{desk.id}/deliveries</pre>
	<p class="hint">The file is the same, byte for byte. The recipe text has what to save.</p>
</section>

<style>
	section {
		padding: 4px 10px;
	}
	h3 {
		padding: 10px 0 4px;
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
	}
	li {
		display: flex;
		gap: 8px;
		padding: 2px 0;
		color: var(--brick);
	}
	li.ok {
		color: var(--ink);
	}
	li span {
		width: 14px;
		font-weight: 600;
		text-align: center;
	}
	li.ok span {
		color: var(--kingfisher);
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
	pre {
		padding: 8px;
		border: 1px solid var(--edge);
		border-radius: 3px;
		background: var(--paper);
		font-size: 11.5px;
		white-space: pre-wrap;
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
