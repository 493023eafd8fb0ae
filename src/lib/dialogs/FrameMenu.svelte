<script lang="ts">
	import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
	import { setFrame } from '../../core/recipe/edits/convert-units.ts';
	import { formatNumber } from '../../core/recipe/language/literals.ts';
	import { lengthUnits, metres } from '../../core/recipe/language/units.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { asSentence } from '../ledger/checked.ts';

	/** Units and frame of the project, in the header: they are shown, and changed here. */
	const desk = useDesk();
	const model = $derived(desk.result?.model);
	const frames = {
		planar: 'planar',
		x: 'axisymmetric about x',
		y: 'axisymmetric about y'
	} as const;
	const frame = $derived(model?.frame.kind === 'axisymmetric' ? model.frame.axis : 'planar');
	/** The unit that was chosen, until it is said what becomes of the numbers. */
	let chosen = $state<string | undefined>();
	let problem = $state('');
	let open = $state(false);
	$effect(() => desk.offers.add('frame', () => (open = true)));
	const becomes = $derived(
		model && chosen ? formatNumber(Number(((25 * metres(model.units)) / metres(chosen)).toPrecision(10))) : ''
	);

	async function take(converts: boolean): Promise<void> {
		const error = await desk.changeUnits(chosen!, converts);
		problem = error === undefined ? '' : asSentence(error);
		if (error === undefined) chosen = undefined;
	}
</script>

<Popover
	positioning={{ placement: 'bottom-start' }}
	{open}
	onOpenChange={(event) => {
		({ open } = event);
		chosen = undefined;
		problem = '';
	}}
>
	<Popover.Trigger class="action plain frame-trigger" data-tip="Units and frame" disabled={!model || desk.sheet !== ''}>
		<span class="number">{model ? `${model.units} · ${frames[frame]}` : ''}</span>
	</Popover.Trigger>
	<Portal>
		<Popover.Positioner>
			<Popover.Content class="panel frame-menu">
				<Popover.Title class="heading">Units and frame</Popover.Title>
				<div class="row" role="group" aria-label="Unit of length">
					{#each lengthUnits as unit (unit)}
						<button
							class="action"
							aria-pressed={unit === (chosen ?? model?.units)}
							onclick={() => {
								chosen = unit === model?.units ? undefined : unit;
								problem = '';
							}}>{unit}</button
						>
					{/each}
				</div>
				{#if model && chosen}
					<p>What becomes of the numbers?</p>
					<button class="action wide" onclick={() => take(true)}
						>Convert them: 25 {model.units} becomes {becomes} {chosen}, the drawing keeps its size</button
					>
					<button class="action wide" onclick={() => take(false)}
						>Keep them: 25 {model.units} becomes 25 {chosen}, the drawing changes its size</button
					>
				{/if}
				{#if problem}<p role="alert" class="problem">{problem}</p>{/if}
				<div class="row" role="group" aria-label="Frame">
					{#each Object.entries(frames) as [kind, title] (kind)}
						<button
							class="action"
							aria-pressed={kind === frame}
							onclick={() => desk.edit(setFrame(desk.recipe, kind as keyof typeof frames), `Frame ${title}`)}>{title}</button
						>
					{/each}
				</div>
				<p class="quiet">Axisymmetric: draw the half-section on one side of the axis.</p>
			</Popover.Content>
		</Popover.Positioner>
	</Portal>
</Popover>

<style>
	:global(.frame-trigger) {
		padding-inline: 4px;
		color: var(--quiet);
		font-size: 12px;
	}
	:global(.frame-menu) {
		z-index: 30;
		display: grid;
		gap: 8px;
		width: 430px;
		padding: 10px;
	}
	:global(.frame-menu .heading) {
		font-weight: 600;
	}
	.row {
		display: flex;
		flex-wrap: wrap;
		gap: 4px;
	}
	.row button[aria-pressed='true'] {
		border-color: var(--kingfisher);
		background: var(--kingfisher-soft);
	}
	.wide {
		white-space: normal;
		text-align: left;
	}
	.quiet {
		color: var(--quiet);
		font-size: 12px;
	}
	.problem {
		color: var(--brick);
	}
</style>
