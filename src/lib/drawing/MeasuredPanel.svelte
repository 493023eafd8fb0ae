<script lang="ts">
	import type { Measured } from './measured.ts';

	/** What the measuring tool has found. */
	const { measured }: { measured: Measured } = $props();
	const brief = (value: number) => Number(value.toPrecision(7));
</script>

<div class="measured panel number" role="status" aria-label="Measured">
	<span>distance {brief(measured.distance)}</span><span>angle {brief(measured.angle)}°</span>
	{#if measured.corner !== undefined}<span>corner {brief(measured.corner)}°</span><span>way {brief(measured.way)}</span><span
			>area {brief(measured.area ?? 0)}</span
		>{/if}
</div>

<style>
	.measured {
		position: absolute;
		right: 12px;
		bottom: 40px;
		display: grid;
		gap: 2px;
		padding: 6px 10px;
		font-size: 12px;
	}
</style>
