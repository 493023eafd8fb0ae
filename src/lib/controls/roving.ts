/**
 * Makes a toolbar one stop of Tab: the arrow keys go through its buttons, Home and End to the first and the last, and it
 * is left and entered where it was left.
 */
export function roving(toolbar: HTMLElement): () => void {
	const buttons = () => [...toolbar.querySelectorAll<HTMLButtonElement>('button:not(:disabled)')];
	const settle = (at?: Element | null) => {
		const all = buttons();
		const stop = all.find((b) => b === at) ?? all.find((b) => b.tabIndex === 0) ?? all[0];
		for (const button of all) button.tabIndex = button === stop ? 0 : -1;
	};
	const steps: Record<string, number> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
	const onKey = (event: KeyboardEvent) => {
		const all = buttons();
		const here = all.indexOf(event.target as HTMLButtonElement);
		if (here < 0) return;
		const step = steps[event.key];
		const next =
			event.key === 'Home'
				? 0
				: event.key === 'End'
					? all.length - 1
					: step === undefined
						? -1
						: (here + step + all.length) % all.length;
		if (next < 0) return;
		event.preventDefault();
		event.stopPropagation();
		all[next]!.focus();
	};
	const onFocus = (event: FocusEvent) => settle(event.target as Element);
	const changes = new MutationObserver(() => settle());
	toolbar.addEventListener('keydown', onKey);
	toolbar.addEventListener('focusin', onFocus);
	changes.observe(toolbar, { childList: true, subtree: true });
	settle();
	return () => {
		toolbar.removeEventListener('keydown', onKey);
		toolbar.removeEventListener('focusin', onFocus);
		changes.disconnect();
	};
}
