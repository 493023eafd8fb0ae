<script lang="ts">
	import { chainFrom } from '../../core/divide/along-chain.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import { pieceOf, picksOf } from './picks.ts';

	/** Selects at once what belongs together: chains that go on, and sets that follow from the shape. */
	const { onpick }: { onpick: (source: string | undefined) => void } = $props();
	const desk = useDesk();
	let angle = $state(30);
	/** What the chain was started from, while its angle is adjusted. */
	let seeds = $state.raw<number[] | undefined>();
	const pieces = $derived(desk.selected('piece'));
	/** The layers of imported drawings that the selected pieces are of. */
	const layers = $derived.by(() => {
		const { result } = desk;
		const names = pieces.map((p) => p.replace(/(_\d+)?(\[\d+\])?$/, '')).filter((name) => name.includes('.'));
		return [...new Set(names)].filter((name) => (result?.model.curvesByName.get(name)?.length ?? 0) > 1);
	});
	const picks = $derived(
		desk.result
			? [
					...picksOf(desk.result, angle),
					...layers.map((layer) => ({ source: `all of ${layer}`, set: { kind: 'layer' as const, layer } }))
				]
			: []
	);
	const curves = $derived([...new Set(pieces.map((p) => p.replace(/\[\d+\]$/, '')))]);

	const take = (list: readonly number[]) =>
		desk.select(
			list.map((p) => thingKey('piece', desk.names[p]!)),
			false
		);

	function chain(from = pieces.map((name) => desk.names.indexOf(name)).filter((p) => p >= 0)): void {
		if (!desk.result || from.length === 0) return;
		seeds = from;
		take(chainFrom(desk.result.arrangement, from, (angle * Math.PI) / 180));
		onpick(undefined);
	}

	$effect(() => desk.offers.add('chain', () => chain()));

	function adjust(value: number): void {
		if (!(value > 0 && value <= 180)) return;
		angle = value;
		if (seeds) chain(seeds);
	}

	function pick(source: string): void {
		if (source === '' || !desk.result) return;
		seeds = undefined;
		const chosen = picks.find((p) => p.source === source);
		if (chosen) {
			take(pieceOf(desk.result, chosen));
			onpick(chosen.source);
			return;
		}
		take(desk.names.flatMap((name, p) => (curves.includes(name.replace(/\[\d+\]$/, '')) ? [p] : [])));
		onpick(undefined);
	}
</script>

<div class="picks">
	<button
		class="action"
		disabled={pieces.length === 0}
		data-tip="Select all that goes on from the selected pieces, while it turns by less than the angle (+)"
		onclick={() => chain()}>Chain</button
	>
	<label
		>within <input
			class="field number"
			type="number"
			min="1"
			max="180"
			step="5"
			aria-label="Angle of chains and directions"
			value={angle}
			oninput={(event) => adjust(event.currentTarget.valueAsNumber)}
		/>°</label
	>
	<select class="field" aria-label="Select a set" value="" onchange={(event) => pick(event.currentTarget.value)}>
		<option value="">select a set…</option>
		{#if curves.length > 0}<option value="curve">all of {curves.length === 1 ? curves[0] : `${curves.length} curves`}</option
			>{/if}
		{#each picks as { source } (source)}<option value={source}>{source}</option>{/each}
	</select>
</div>

<style>
	.picks {
		display: flex;
		flex-wrap: wrap;
		gap: 5px;
		align-items: center;
		padding: 6px 8px 0;
	}
	input {
		width: 46px;
		padding: 1px 3px;
	}
	select {
		flex: 1;
		min-width: 110px;
	}
	label {
		color: var(--quiet);
		font-size: 11.5px;
		white-space: nowrap;
	}
</style>
