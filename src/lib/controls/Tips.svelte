<script lang="ts">
	import { Portal, Tooltip } from '@skeletonlabs/skeleton-svelte';

	/** The thing that is explained: it says how in its attribute `data-tip`. */
	let anchor = $state<HTMLElement | undefined>();
	let text = $state('');
	let wait: ReturnType<typeof setTimeout> | undefined;

	/** A pointer rests so long before its tip opens. */
	const rest = 450;

	const tipOf = (target: EventTarget | null) =>
		target instanceof Element ? (target.closest<HTMLElement>('[data-tip]') ?? undefined) : undefined;

	function hide(): void {
		clearTimeout(wait);
		anchor?.removeAttribute('aria-describedby');
		anchor = undefined;
	}

	function show(on: HTMLElement): void {
		if (on === anchor) return;
		hide();
		const { tip } = on.dataset;
		// A name that is there in full needs no telling.
		const isPlain = on.textContent.trim() === tip && on.scrollWidth <= on.clientWidth;
		if (!tip || isPlain || !on.isConnected) return;
		text = tip;
		anchor = on;
		on.setAttribute('aria-describedby', 'tip');
	}

	function onPointerOver(event: PointerEvent): void {
		const on = tipOf(event.target);
		if (on === anchor) return;
		hide();
		if (on?.dataset.tip && event.buttons === 0) wait = setTimeout(() => show(on), rest);
	}

	function onFocusIn(event: FocusEvent): void {
		const on = tipOf(event.target);
		// Only a focus that came by the keyboard, and not the one of a field that is typed in.
		if (on?.matches(':focus-visible') && !on.matches('input, textarea, select')) show(on);
	}
</script>

<svelte:document
	onpointerover={onPointerOver}
	onpointerdown={hide}
	onfocusin={onFocusIn}
	onfocusout={hide}
	onkeydowncapture={(event) => event.key !== 'Tab' && hide()}
	onscrollcapture={hide}
/>

{#if anchor}
	{#key anchor}
		<Tooltip
			open
			closeOnEscape={false}
			positioning={{ placement: 'bottom', gutter: 6, getAnchorElement: () => anchor ?? null }}
			ids={{ content: 'tip' }}
		>
			<Portal>
				<Tooltip.Positioner class="tip-place">
					<Tooltip.Content class="tip">{text}</Tooltip.Content>
				</Tooltip.Positioner>
			</Portal>
		</Tooltip>
	{/key}
{/if}

<style>
	:global(.tip-place) {
		z-index: 60 !important;
		pointer-events: none;
	}
	:global(.tip) {
		max-width: 320px;
		padding: 4px 8px;
		border-radius: 3px;
		background: var(--ink);
		color: var(--paper);
		font-size: 12px;
		line-height: 1.35;
		overflow-wrap: anywhere;
	}
</style>
