<script lang="ts">
	/** A cell that is edited in place: shows `display`, edits `source`, calls `onset` with what was typed. */
	let {
		display,
		source = display,
		label,
		title = '',
		align = 'right',
		disabled = false,
		onset
	}: {
		display: string;
		source?: string;
		label: string;
		title?: string;
		align?: 'left' | 'right';
		disabled?: boolean;
		onset: (source: string) => void;
	} = $props();

	/** What was typed; nothing until something is, so that leaving the cell changes nothing. */
	let draft = $state<string | undefined>();
	let focused = $state(false);
	const shown = $derived(draft ?? (focused ? source : display));

	function commit(): void {
		const typed = draft?.trim();
		draft = undefined;
		if (typed !== undefined && typed !== source) onset(typed);
	}

	function onKeyDown(event: KeyboardEvent & { currentTarget: HTMLInputElement }): void {
		if (event.key === 'Enter') {
			commit();
			// Go on to the same column of the next row, as in a spreadsheet.
			const cell = event.currentTarget.closest('td');
			const below = cell?.parentElement?.nextElementSibling?.children[cell.cellIndex]?.querySelector('input');
			if (below) below.focus();
			else event.currentTarget.select();
		} else if (event.key === 'Escape') {
			event.stopPropagation();
			draft = undefined;
			event.currentTarget.blur();
		}
	}
</script>

<input
	class="cell number"
	style:text-align={align}
	aria-label={label}
	{title}
	{disabled}
	autocomplete="off"
	spellcheck="false"
	value={shown}
	data-untouched={draft === undefined}
	onfocus={(event) => {
		focused = true;
		const input = event.currentTarget;
		// Selecting also takes the focus, which may have gone elsewhere by the next frame.
		requestAnimationFrame(() => document.activeElement === input && input.select());
	}}
	oninput={(event) => (draft = event.currentTarget.value)}
	onblur={() => {
		focused = false;
		commit();
	}}
	onkeydown={onKeyDown}
/>

<style>
	.cell {
		width: 100%;
		min-width: 0;
		padding: 2px 3px;
		border: 1px solid transparent;
		border-radius: 2px;
		background: transparent;
		color: inherit;
		font-size: 12px;
		text-overflow: ellipsis;
	}
	.cell:hover:not(:disabled) {
		border-color: var(--edge-strong);
	}
	.cell:focus {
		border-color: var(--kingfisher);
		background: var(--sheet);
		outline: none;
	}
</style>
