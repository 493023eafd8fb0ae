<script lang="ts">
	import { Toast } from '@skeletonlabs/skeleton-svelte';
	import { toaster } from './toaster.ts';
</script>

<Toast.Group {toaster}>
	{#snippet children(toast)}
		<Toast {toast} class="toast">
			<Toast.Title class="toast-sentence">{toast.title}</Toast.Title>
			{#if toast.action}<Toast.ActionTrigger class="action toast-action">{toast.action.label}</Toast.ActionTrigger>{/if}
			<Toast.CloseTrigger class="toast-close" aria-label="Close this message">×</Toast.CloseTrigger>
		</Toast>
	{/snippet}
</Toast.Group>

<style>
	:global(.toast) {
		display: flex;
		gap: 10px;
		align-items: center;
		max-width: min(560px, 80vw);
		padding: 8px 10px 8px 14px;
		border: 1px solid var(--edge-strong);
		border-left: 4px solid var(--kingfisher);
		border-radius: 4px;
		background: var(--sheet);
		box-shadow: 0 4px 14px rgb(0 0 0 / 18%);
		color: var(--ink);
		translate: var(--x) var(--y);
		opacity: var(--opacity);
		z-index: var(--z-index);
		transition:
			translate 160ms,
			opacity 160ms;
		will-change: translate, opacity;
	}
	:global(.toast-sentence) {
		overflow-wrap: anywhere;
	}
	:global(.toast-action) {
		flex: none;
	}
	:global(.toast-close) {
		flex: none;
		padding: 2px 6px;
		border: none;
		background: none;
		color: var(--quiet);
		font-size: 16px;
		cursor: pointer;
	}
	@media (prefers-reduced-motion: reduce) {
		:global(.toast) {
			transition: none;
		}
	}
</style>
