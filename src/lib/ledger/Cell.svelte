<script lang="ts">
	import { namedNumber, whyNoName } from '../../core/recipe/edits/naming.ts';
	import { useDesk } from '../desk/desk.svelte.ts';
	import { withoutEquals } from '../drawing/drafting.svelte.ts';
	import { asSentence, wrongWith } from './checked.ts';

	/** A cell that is edited in place: shows `display`, edits `source`, calls `onset` with what was typed. */
	let {
		display,
		source = display,
		label,
		title = '',
		align = 'right',
		disabled = false,
		namesNumbers = false,
		check,
		onset
	}: {
		display: string;
		source?: string;
		label: string;
		title?: string;
		align?: 'left' | 'right';
		disabled?: boolean;
		/** Whether `D = 80`, typed here, makes a parameter of the number. */
		namesNumbers?: boolean;
		/** What is wrong with what was typed, as a sentence; nothing where it can be taken. */
		check?: (typed: string) => string | undefined;
		onset: (source: string) => void;
	} = $props();

	const desk = useDesk();
	/** What was typed; nothing until something is, so that leaving the cell changes nothing. */
	let draft = $state<string | undefined>();
	let focused = $state(false);
	let fresh = false;
	const shown = $derived(draft ?? (focused ? source : display));
	/** Why what was typed is not taken; it stays in the cell to be mended. */
	let wrong = $state('');

	/** Takes what was typed, unless it is wrong; whether the cell may be left. */
	function commit(): boolean {
		const typed = draft === undefined ? undefined : withoutEquals(draft);
		if (typed !== undefined && typed !== source) {
			const named = namesNumbers ? namedNumber(typed) : undefined;
			wrong = typed === '' ? '' : ((named ? wrongNamed(named) : check?.(typed)) ?? '');
			if (wrong) return false;
			if (named) desk.needed = named.statement;
			onset(named?.name ?? typed);
			desk.needed = undefined;
		}
		draft = undefined;
		wrong = '';
		return true;
	}

	/** What is wrong with a number that is given a name: the name, its statement, or the number in this place. */
	function wrongNamed({ name, statement }: { name: string; statement: string }): string | undefined {
		const taken = whyNoName(desk.recipe, 'value', name);
		const value = statement.slice(statement.indexOf('=') + 1).replace(/\brange\b.*$/s, '');
		return taken === undefined ? (wrongWith(desk.newest, statement) ?? check?.(`(${value.trim()})`)) : asSentence(taken);
	}

	function onKeyDown(event: KeyboardEvent & { currentTarget: HTMLInputElement }): void {
		if (event.key === 'Enter') {
			if (!commit()) return;
			// Go on to the same column of the next row, as in a spreadsheet.
			const cell = event.currentTarget.closest('td');
			const below = cell?.parentElement?.nextElementSibling?.children[cell.cellIndex]?.querySelector('input');
			if (below) below.focus();
			else event.currentTarget.blur();
		} else if (event.key === 'Escape') {
			event.stopPropagation();
			draft = undefined;
			wrong = '';
			event.currentTarget.blur();
		}
	}
</script>

<input
	class="cell number"
	style:text-align={align}
	aria-label={label}
	data-tip={wrong || title}
	aria-invalid={wrong !== ''}
	class:wrong={wrong !== ''}
	{disabled}
	autocomplete="off"
	spellcheck="false"
	value={shown}
	data-untouched={draft === undefined}
	onfocus={(event) => {
		focused = true;
		fresh = true;
		// At once, and not in the next frame: who types at once replaces what stands here.
		event.currentTarget.value = draft ?? source;
		event.currentTarget.select();
	}}
	onmouseup={(event) => {
		// The click that brings the focus would take the selection away again.
		if (fresh) event.preventDefault();
		fresh = false;
	}}
	oninput={(event) => {
		draft = event.currentTarget.value;
		wrong = '';
	}}
	onblur={() => {
		focused = false;
		commit();
	}}
	onkeydown={onKeyDown}
/>
{#if wrong}<span class="sentence" role="alert">{wrong}</span>{/if}

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
	.cell.wrong {
		border-color: var(--brick);
		color: var(--brick);
	}
	.sentence {
		position: absolute;
		z-index: 5;
		display: block;
		width: 240px;
		padding: 4px 8px;
		border: 1px solid var(--brick);
		border-radius: 3px;
		background: var(--brick-soft);
		box-shadow: var(--shadow);
		font-size: 12px;
		text-align: left;
		white-space: normal;
	}
	.cell:focus {
		border-color: var(--kingfisher);
		background: var(--sheet);
		outline: none;
	}
</style>
