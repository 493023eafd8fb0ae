<script lang="ts">
	import { useDesk } from '../desk/desk.svelte.ts';
	import { asSentence } from '../ledger/checked.ts';

	/** A name to be changed, where it stands. Enter takes it, Escape leaves it. */
	const desk = useDesk();
	let wrong = $state('');

	const whole = $derived(desk.renaming?.name.replace(/\[\d+\]$/, '') ?? '');
	/** A side of a rectangle is renamed with it. */
	const present = $derived(desk.renaming?.kind === 'piece' ? whole.split('.', 1)[0]! : whole);

	function take(typed: string): void {
		const { renaming } = desk;
		if (!renaming) return;
		const error = typed.trim() === '' ? undefined : desk.rename(renaming.kind, renaming.name, typed.trim());
		wrong = error === undefined ? '' : asSentence(error);
		if (error === undefined) desk.renaming = undefined;
	}

	function begin(input: HTMLInputElement): void {
		wrong = '';
		input.focus();
		input.select();
	}
</script>

{#if desk.renaming}
	<div
		class="panel rename"
		role="group"
		aria-label="Rename {present}"
		style:left="{Math.max(4, Math.min(desk.renaming.left, window.innerWidth - 250))}px"
		style:top="{Math.max(4, Math.min(desk.renaming.top, window.innerHeight - 70))}px"
	>
		<input
			class="field number"
			aria-label="New name of {present}"
			aria-invalid={wrong !== ''}
			autocomplete="off"
			spellcheck="false"
			value={present}
			{@attach begin}
			oninput={() => (wrong = '')}
			onblur={() => (desk.renaming = undefined)}
			onkeydown={(event) => {
				if (event.key === 'Enter') take(event.currentTarget.value);
				else if (event.key === 'Escape') desk.renaming = undefined;
				else return;
				event.stopPropagation();
			}}
		/>
		{#if wrong}<p role="alert">{wrong}</p>{:else}<p class="hint">Enter renames it everywhere</p>{/if}
	</div>
{/if}

<style>
	.rename {
		position: fixed;
		z-index: 40;
		width: 240px;
		padding: 5px;
	}
	input {
		width: 100%;
	}
	p {
		padding: 2px 3px 0;
		color: var(--brick);
		font-size: 12px;
	}
	.hint {
		color: var(--quiet);
		font-size: 11px;
	}
</style>
