import { createToaster } from '@skeletonlabs/skeleton-svelte';

/** Messages beside the work that go by themselves: outcomes that need no answer, and refusals. */
export const toaster = createToaster({
	placement: 'bottom-start',
	max: 3,
	offsets: { left: '124px', right: '12px', top: '12px', bottom: '96px' }
});

interface ToastOptions {
	/** What may be done about it. */
	action?: { label: string; onClick: () => void };
}

/** Shows a sentence; one that is there already is not shown twice. */
export function notify(sentence: string, { action }: ToastOptions = {}): void {
	const shown = { title: sentence, type: 'info', duration: action ? 12_000 : 8_000, ...(action ? { action } : {}) } as const;
	if (toaster.isVisible(sentence)) toaster.update(sentence, shown);
	else toaster.create({ id: sentence, ...shown });
}
