<script lang="ts">
	import { counted } from '../../core/text/sentences.ts';
	import { stations, useDesk, type Station } from './desk.svelte.ts';

	const desk = useDesk();
	const titles: Record<Station, string> = { shape: 'Shape', divide: 'Divide', fill: 'Fill', label: 'Label', deliver: 'Deliver' };
	const compact = (n: number) => (n < 10_000 ? String(n) : n < 1e6 ? `${Math.round(n / 1000)}k` : `${(n / 1e6).toFixed(1)}M`);
	const figures = $derived.by((): Record<Station, { text: string; alarm: boolean }> => {
		const curves = [...(desk.result?.model.curvesByName.keys() ?? [])].filter((name) => !name.includes('.')).length;
		const conflicts = desk.result?.findings.filter((f) => f.code === 'count-conflict').length ?? 0;
		return {
			shape: {
				text: desk.openEnds > 0 ? `${desk.openEnds} open` : `${counted(curves, 'curve')}`,
				alarm: desk.openEnds > 0
			},
			divide: {
				text:
					conflicts > 0 ? `${conflicts} clash` : `${compact(desk.names.length)} ${desk.names.length === 1 ? 'piece' : 'pieces'}`,
				alarm: conflicts > 0
			},
			fill: { text: `${compact(desk.elements)} ${desk.elements === 1 ? 'cell' : 'cells'}`, alarm: false },
			label: {
				text: desk.unlabelled.length > 0 ? `${desk.unlabelled.length} bare` : desk.elements > 0 ? 'all' : '–',
				alarm: desk.unlabelled.length > 0
			},
			deliver: { text: desk.sheet !== '' ? '–' : desk.ready ? 'ready' : 'not yet', alarm: false }
		};
	});
</script>

<nav aria-label="Stations">
	{#each stations as station, k (station)}
		<button
			class:current={desk.station === station}
			aria-current={desk.station === station ? 'step' : undefined}
			data-tip="{titles[station]} (Ctrl+Shift+{k + 1})"
			onclick={() => desk.go(station)}
		>
			<svg viewBox="0 0 24 24" aria-hidden="true">
				{#if station === 'shape'}<path d="M4 18C6 8 12 5 20 6" /><circle cx="4" cy="18" r="1.8" /><circle
						cx="20"
						cy="6"
						r="1.8"
					/>
				{:else if station === 'divide'}<path d="M3 12h18M3 8v8M6 9.5v5M10 9.5v5M15 9.5v5M21 8v8" />
				{:else if station === 'fill'}<path d="M4 5h16v14H4zM4 12h16M10 5v14M15 5v14" />
				{:else if station === 'label'}<path d="M4 6h9l7 6-7 6H4z" /><circle cx="8" cy="12" r="1.3" />
				{:else}<path d="M12 4v10M8 10l4 4 4-4M4 16v4h16v-4" />{/if}
			</svg>
			<b>{titles[station]}</b>
			<span class="number" class:alarm={figures[station].alarm}>{figures[station].text}</span>
		</button>
	{/each}
</nav>

<style>
	nav {
		display: flex;
		flex-direction: column;
		height: 100%;
		border-right: 1px solid var(--edge-strong);
		background: var(--sheet);
	}
	button {
		display: flex;
		flex-direction: column;
		align-items: center;
		padding: 9px 0 8px;
		border-left: 3px solid transparent;
		border-bottom: 1px solid var(--edge);
		cursor: pointer;
	}
	button:hover {
		background: color-mix(in srgb, var(--kingfisher-soft) 60%, transparent);
	}
	.current {
		border-left-color: var(--kingfisher);
		background: var(--kingfisher-soft);
	}
	svg {
		width: 22px;
		height: 22px;
		fill: none;
		stroke: currentColor;
		stroke-width: 1.4;
	}
	b {
		margin-top: 2px;
		font-size: 11.5px;
		font-weight: 500;
	}
	span {
		color: var(--quiet);
		font-size: 10px;
	}
	.alarm {
		color: var(--brick);
		font-weight: 500;
	}
</style>
