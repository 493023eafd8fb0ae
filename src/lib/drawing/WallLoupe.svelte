<script lang="ts">
	import { short } from '../ledger/rows.ts';
	import type { WallStack } from './wall-stacks.ts';

	/** A stack of layers beside the pointer, its heights to scale, with the element behind it. */
	const { stack, left, top }: { stack: WallStack; left: number; top: number } = $props();
	const tall = 150;
	const most = 90;

	const shown = $derived.by(() => {
		const { profile, k } = stack;
		const [count, first, thickness] = [profile.count[k]!, profile.first[k]!, profile.thickness[k]!];
		const [behind, last, width] = [profile.behind[k]!, profile.last[k]!, profile.width[k]!];
		const [growth, wanted, room] = [profile.growth[k]!, profile.wanted[k]!, profile.room[k]!];
		const whole = thickness + behind;
		const scale = tall / (whole || 1);
		const lines = [tall];
		for (let n = 0, below = 0; n < count; n++) lines.push(tall - scale * (below += first * growth ** n));
		return {
			count,
			wanted,
			first,
			growth,
			room,
			thickness,
			last,
			behind,
			width,
			lines,
			half: Math.min(most, Math.max(14, scale * width))
		};
	});
</script>

<aside class="loupe panel" style:left="{left}px" style:top="{top}px" aria-label="Layers here">
	<svg width={most + 8} height={tall + 8} aria-hidden="true">
		<g transform="translate(4, 2)">
			{#if shown.behind > 0}<polygon
					class="behind"
					points="0,{shown.lines.at(-1)} {shown.half},{shown.lines.at(-1)} {shown.half / 2},0"
				/>{/if}
			<rect class="cells" x="0" y={shown.lines.at(-1)} width={shown.half} height={tall - shown.lines.at(-1)!} />
			{#each shown.lines as y, n (n)}<line x1="0" x2={shown.half} y1={y} y2={y} class:wall={n === 0} />{/each}
		</g>
	</svg>
	<dl class="number">
		<dt>cells</dt>
		<dd>{shown.count === shown.wanted ? shown.count : `${shown.count} of ${shown.wanted}`}</dd>
		<dt>first</dt>
		<dd>{short(shown.first)}</dd>
		<dt>growth</dt>
		<dd>{short(shown.growth)}</dd>
		<dt>last</dt>
		<dd>{short(shown.last)}</dd>
		<dt>thickness</dt>
		<dd>{short(shown.thickness)}</dd>
		{#if Number.isFinite(shown.room)}<dt>room</dt>
			<dd>{short(shown.room)}</dd>{/if}
		<dt>width</dt>
		<dd>{short(shown.width)}</dd>
		{#if shown.behind > 0}<dt>behind : last</dt>
			<dd>{(shown.behind / shown.last).toFixed(2)}</dd>{/if}
	</dl>
</aside>

<style>
	.loupe {
		position: absolute;
		z-index: 3;
		display: flex;
		gap: 8px;
		padding: 6px 10px 6px 6px;
		font-size: 11.5px;
		pointer-events: none;
	}
	.cells {
		fill: color-mix(in srgb, var(--kingfisher) 16%, transparent);
	}
	.behind {
		fill: none;
		stroke: var(--graphite);
	}
	line {
		stroke: var(--ink);
		stroke-width: 0.75;
	}
	line.wall {
		stroke-width: 3;
	}
	dl {
		display: grid;
		grid-template-columns: auto auto;
		gap: 1px 8px;
		align-content: center;
	}
	dt {
		color: var(--quiet);
	}
	dd {
		text-align: right;
	}
</style>
