<script lang="ts">
	import Choice from '../controls/Choice.svelte';
	import { deliveryFormats, deliveryName, type DeliveryFormat } from '../../formats/delivery.ts';
	import { useDesk } from '../desk/desk.svelte.ts';

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
		...desk.unproved
			.filter(({ code }) => code !== 'unlabelled')
			.slice(0, 8)
			.map((finding) => ({ ok: false, text: finding.message, finding }))
	]);
	const title = $derived(desk.result?.model.title ?? '');

	async function download(format: DeliveryFormat): Promise<void> {
		busy = format.ending;
		problem = '';
		try {
			await desk.download(format, partial && unfilled.length > 0 ? { partial: 'yes' } : {});
		} catch (error) {
			problem = (error as Error).message;
		} finally {
			busy = '';
		}
	}
</script>

<section>
	<h3>Ready?</h3>
	<ul>
		{#each checks as check (check.text)}<li class:ok={check.ok}>
				<span aria-hidden="true">{check.ok ? '✓' : '!'}</span>{check.text}
				{#if 'finding' in check && check.finding.at}<button class="show" onclick={() => desk.show(check.finding)}>Show</button
					>{/if}
			</li>{/each}
	</ul>
	<h3>The recipe itself</h3>
	<div class="format">
		<div>
			<b>Recipe</b> <span class="number quiet">{deliveryName(title, 'tessellon')}</span>
			<p>The document as text, for the command line, version control and next year.</p>
		</div>
		<button class="action" onclick={() => desk.downloadRecipe()}>Download</button>
	</div>
	<h3>Formats</h3>
	{#if unfilled.length > 0 && desk.elements > 0}
		<p class="problem">
			The mesh lacks {unfilled.slice(0, 4).join(', ')}{unfilled.length > 4 ? ` and ${unfilled.length - 4} more` : ''}: see the
			findings.
		</p>
		<div class="partial"><Choice bind:checked={partial}>Deliver what is filled all the same</Choice></div>
	{/if}
	{#each deliveryFormats as format (format.ending)}
		<div class="format">
			<div>
				<b>{format.title}</b> <span class="number quiet">{deliveryName(title, format.ending)}</span>
				<p>{format.about}</p>
			</div>
			<button
				class="action main"
				disabled={!desk.isCurrent ||
					(format.holds === 'mesh' && (desk.elements === 0 || (unfilled.length > 0 && !partial))) ||
					busy !== ''}
				onclick={() => download(format)}>{busy === format.ending ? 'Writing…' : 'Download'}</button
			>
		</div>
	{/each}
	{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	<h3>The same from the command line</h3>
	<pre class="number">npx tessellon mesh {deliveryName(title, 'tessellon')} \
  --out {deliveryName(title, 'cgns')}</pre>
	<p class="hint">The file is the same, byte for byte. The recipe face has the text to save.</p>
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
	.format div {
		flex: 1;
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
	.partial {
		display: block;
		padding-bottom: 6px;
	}
	.problem {
		color: var(--brick);
	}
</style>
