<script lang="ts">
	import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
	import { lineAndColumn } from '../../core/recipe/parse.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import type { Finding } from '../../core/text/finding.ts';

	const desk = useDesk();
	const findings = $derived(desk.result?.findings ?? []);
	const signs = { error: '✕', warning: '!', note: 'i' };

	function show(finding: Finding): void {
		if (finding.at) desk.showAt = { ...finding.at };
		if (finding.pieces)
			desk.select(
				finding.pieces.map((p) => thingKey('piece', desk.names[p]!)),
				false
			);
		if (!finding.at && finding.span) desk.face = 'recipe';
	}
</script>

<Popover positioning={{ placement: 'bottom-end' }}>
	<Popover.Trigger class="action plain" data-findings={findings.length}>
		<span class="number" class:bad={desk.errors > 0}>{findings.length}</span> finding{findings.length === 1 ? '' : 's'}
	</Popover.Trigger>
	<Portal>
		<Popover.Positioner>
			<Popover.Content class="panel findings">
				<Popover.Title class="heading">Findings</Popover.Title>
				{#if findings.length === 0}<p class="calm">
						Nothing is wrong: outlines are closed, nothing is doubled, {desk.result?.regions.length ?? 0} region{desk.result
							?.regions.length === 1
							? ''
							: 's'}.
					</p>{/if}
				<ul>
					{#each findings.slice(0, 200) as finding, k (k)}
						<li class={finding.severity}>
							<span class="sign" aria-label={finding.severity}>{signs[finding.severity]}</span>
							<p>
								{finding.message}{#if finding.span}<span class="quiet number">
										line {lineAndColumn(desk.result!.recipe.text, finding.span.from).line}</span
									>{/if}
							</p>
							<span class="acts">
								{#if finding.at || finding.span}<button class="action" onclick={() => show(finding)}>Show</button>{/if}
								{#if finding.mend}<button class="action main" disabled={!desk.isCurrent} onclick={() => desk.mend(finding)}
										>{finding.mend.label}</button
									>{/if}
							</span>
						</li>
					{/each}
				</ul>
				{#if findings.length > 200}<p class="calm">and {findings.length - 200} more.</p>{/if}
			</Popover.Content>
		</Popover.Positioner>
	</Portal>
</Popover>

<style>
	.bad {
		color: var(--brick);
		font-weight: 600;
	}
	:global(.findings) {
		z-index: 30;
		overflow: auto;
		width: 440px;
		max-height: 70vh;
		padding: 10px;
	}
	:global(.findings .heading) {
		margin-bottom: 6px;
		font-weight: 600;
	}
	.calm {
		color: var(--kingfisher);
	}
	li {
		display: flex;
		gap: 8px;
		padding: 6px 0;
		border-top: 1px solid var(--edge);
	}
	li p {
		flex: 1;
		overflow-wrap: anywhere;
	}
	.quiet {
		margin-left: 6px;
		color: var(--quiet);
	}
	.sign {
		width: 16px;
		font-weight: 600;
		text-align: center;
	}
	.error .sign {
		color: var(--brick);
	}
	.warning .sign {
		color: var(--marigold-ink);
	}
	.acts {
		display: flex;
		flex-direction: column;
		align-items: end;
		gap: 3px;
	}
</style>
