<script lang="ts">
	import { Slider } from '@skeletonlabs/skeleton-svelte';

	/** A value between two ends: told while it is dragged, and once more when it is let go. */
	let {
		label,
		value,
		min,
		max,
		step,
		onslide,
		onrest
	}: {
		label: string;
		value: number;
		min: number;
		max: number;
		step: number;
		onslide: (value: number) => void;
		onrest: () => void;
	} = $props();
</script>

<Slider
	value={[value]}
	{min}
	{max}
	{step}
	aria-label={[label]}
	thumbAlignment="center"
	onValueChange={(event) => onslide(event.value[0]!)}
	onValueChangeEnd={onrest}
	class="range-slider"
>
	<Slider.Control class="range-control">
		<Slider.Track class="range-track"><Slider.Range class="range-filled" /></Slider.Track>
		<Slider.Thumb index={0} class="range-thumb"><Slider.HiddenInput /></Slider.Thumb>
	</Slider.Control>
</Slider>

<style>
	:global(.range-slider) {
		width: 100%;
		padding: 0 8px;
	}
	:global(.range-control) {
		position: relative;
		display: flex;
		align-items: center;
		height: 20px;
		cursor: pointer;
	}
	:global(.range-track) {
		width: 100%;
		height: 5px;
		border-radius: 3px;
		background: var(--edge);
	}
	:global(.range-filled) {
		height: 100%;
		border-radius: 3px;
		background: var(--kingfisher);
	}
	:global(.range-thumb) {
		width: 14px;
		height: 14px;
		border: 2px solid var(--sheet);
		border-radius: 50%;
		background: var(--kingfisher);
		box-shadow: 0 0 0 1px var(--kingfisher);
	}
</style>
