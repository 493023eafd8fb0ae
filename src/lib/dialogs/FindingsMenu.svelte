<script lang="ts">
	import { Popover, Portal } from '@skeletonlabs/skeleton-svelte';
	import { placesIn } from '../../core/recipe/language/parse.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import Standings from '../ledger/Standings.svelte';
	import { type Finding, mendsOf } from '../../core/text/finding.ts';

	const desk = useDesk();
	const findings = $derived(desk.result?.findings ?? []);
	const placeOf = $derived(placesIn(desk.result?.recipe.text ?? ''));
	const signs = { error: '✕', warning: '!', note: 'i' };

	/** Findings of one kind, and which of them one is at. */
	const kinds = $derived.by(() => {
		const list: Record<string, Finding[]> = {};
		for (const finding of findings) {
			// Of one kind are those that say the same of other things.
			const sentence = finding.message.replaceAll(/“[^”]*”/g, '“”').replaceAll(/-?[\d.]+(e[-+]?\d+)?/g, '#');
			const key = `${finding.severity} ${finding.code} ${sentence}`;
			(list[key] ??= []).push(finding);
		}
		return Object.entries(list).map(([key, same]) => ({ key, same }));
	});
	let at = $state<Record<string, number>>({});
	let isOpen = $state(false);

	/** Goes on to the next of a kind, or back, and shows it. */
	function walk(key: string, same: readonly Finding[], step: number): void {
		const next = ((at[key] ?? 0) + step + same.length) % same.length;
		at[key] = next;
		show(same[next]!);
	}

	function show(finding: Finding): void {
		desk.show(finding);
		if (finding.pieces)
			desk.select(
				finding.pieces.map((p) => thingKey('piece', desk.names[p]!)),
				false
			);
		if (!finding.at && finding.span) desk.face = 'recipe';
	}
</script>

<Popover positioning={{ placement: 'bottom-end' }} onOpenChange={(event) => (isOpen = event.open)}>
	<Popover.Trigger class="action plain" data-findings={findings.length}>
		<span class="number" class:bad={desk.errors > 0}>{findings.length.toLocaleString('en')}</span> finding{findings.length === 1
			? ''
			: 's'}
	</Popover.Trigger>
	<Portal>
		<Popover.Positioner>
			<Popover.Content class="panel findings">
				<Popover.Title class="heading">Findings</Popover.Title>
				{#if isOpen}<div class="standings"><Standings /></div>{/if}
				<ul>
					{#each kinds as { key, same } (key)}
						{@const place = Math.min(at[key] ?? 0, same.length - 1)}
						{@const finding = same[place]!}
						<li class={finding.severity}>
							<span class="sign" aria-label={finding.severity}>{signs[finding.severity]}</span>
							<p>
								{finding.message}{#if finding.span}<span class="quiet number"> line {placeOf(finding.span.from).line}</span>{/if}
							</p>
							<span class="acts">
								{#if same.length > 1}<span class="walk" role="group" aria-label="{same.length} of this kind">
										<button class="action" aria-label="The one before" onclick={() => walk(key, same, -1)}>‹</button>
										<span class="number">{place + 1} of {same.length}</span>
										<button class="action" aria-label="The next one" onclick={() => walk(key, same, 1)}>›</button>
									</span>{/if}
								{#if finding.at || finding.span}<button class="action" onclick={() => show(finding)}>Show</button>{/if}
								{#each mendsOf(finding) as mend, k (mend.label)}<button
										class={['action', k === 0 && 'main']}
										disabled={!desk.isCurrent}
										onclick={() => desk.mend(mend)}>{mend.label}</button
									>{/each}
							</span>
						</li>
					{/each}
				</ul>
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
	.standings {
		padding-bottom: 6px;
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
	.walk {
		display: flex;
		gap: 4px;
		align-items: center;
		white-space: nowrap;
	}
	.walk .action {
		padding: 1px 7px;
	}
	.acts {
		display: flex;
		flex-direction: column;
		align-items: end;
		gap: 3px;
	}
</style>
