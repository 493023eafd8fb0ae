<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { goto } from '$app/navigation';
	import { resolve } from '$app/paths';
	import { onMount } from 'svelte';
	import { notify } from '../controls/toaster.ts';
	import CommandPalette from '../dialogs/CommandPalette.svelte';
	import ConflictBar from '../dialogs/ConflictBar.svelte';
	import RenameCard from '../dialogs/RenameCard.svelte';
	import KeysDialog from '../dialogs/KeysDialog.svelte';
	import Drawing from '../drawing/Drawing.svelte';
	import Gauge from '../gauge/Gauge.svelte';
	import Ledger from '../ledger/Ledger.svelte';
	import { applyMode, currentMode, otherMode, type Mode } from '../theme/mode.ts';
	import { type Command, commandOf, type Screen } from './commands.ts';
	import { Desk, provideDesk, thingKey } from './desk.svelte.ts';
	import Header from './Header.svelte';
	import Rail from './Rail.svelte';

	let { id }: { id: string } = $props();

	// A desk lives as long as its screen; another project is another screen.
	// svelte-ignore state_referenced_locally
	const desk = provideDesk(new Desk(id));
	let drawing = $state<ReturnType<typeof Drawing> | undefined>();
	let fileToLookAt = $state<HTMLInputElement | undefined>();
	let palette = $state(false);
	let keys = $state(false);
	let mode = $state(currentMode());
	let problem = $state('');
	let ledgerWidth = $state(412);

	onMount(() => {
		desk.open().catch((error: unknown) => (problem = sentenceOf(error, 'opening the project')));
		return () => desk.close();
	});

	function toggleTheme(): Mode {
		mode = otherMode(mode);
		applyMode(mode);
		return mode;
	}

	/** Opens a mesh file beside the project; what is wrong with it is reported. */
	async function lookAt(file: File | undefined): Promise<void> {
		if (!file) return;
		try {
			await desk.lookAtFile(file.name, new Uint8Array(await file.arrayBuffer()));
		} catch (error) {
			notify(`${file.name}: ${sentenceOf(error, 'reading it')}.`);
		}
	}

	/** Goes on with the outline of the file that is looked at. */
	function takeOutline(): void {
		const { looking } = desk;
		desk.looking = undefined;
		if (!looking) return;
		desk.go('shape');
		void drawing?.offer(looking.name, looking.bytes);
	}

	const screen: Screen = {
		desk,
		drawing: () => drawing,
		rename: renameSelected,
		openPalette: () => (palette = true),
		openKeys: () => (keys = true),
		chooseMeshFile: () => fileToLookAt?.click(),
		toggleMode: toggleTheme,
		leave: () => void goto(resolve('/'))
	};

	/** Opens the name of what is selected, at its row or in the middle of the drawing. */
	function renameSelected(): void {
		const kinds = ['region', 'group', 'point', 'piece'] as const;
		const kind = kinds.find((k) => desk.selected(k).length > 0);
		const name = kind && desk.selected(kind)[0];
		if (!kind || !name) {
			notify('Nothing is selected to be renamed.');
			return;
		}
		const row = [name, name.replace(/\[\d+\]$/, '')]
			.map((selectedName) => document.querySelector(`[data-thing="${CSS.escape(thingKey(kind, selectedName))}"]`))
			.find(Boolean);
		const { left, top } = row?.getBoundingClientRect() ?? { left: window.innerWidth / 3, top: window.innerHeight / 3 };
		desk.renaming = { kind, name, left, top };
	}

	function onKeyDown(event: KeyboardEvent): void {
		const target = event.target as HTMLElement;
		const isTyping =
			target.closest('input:not([type=range], [type=checkbox]), textarea, select, [contenteditable=true]') !== null;
		const command = commandOf(event, desk.station);
		if (command?.whileTyping) return take(event, command);
		// The list listens for Escape itself, but only a moment after it opens.
		if (keys && event.key === 'Escape') keys = false;
		if (palette || keys) return;
		// A cell in which nothing has been typed yet has nothing to undo: the keys are for the recipe.
		if (command?.whileUntouched && target.dataset.untouched === 'true') return take(event, command);
		if (isTyping || event.altKey) return;
		if (!event.ctrlKey && !event.metaKey) {
			if (typesIntoTable(event)) return;
			// An equals sign opens the card for a name, as letters alone are keys.
			const isTypedPlace = /^[0-9.(=-]$/.test(event.key) && desk.tool !== 'select';
			if (isTypedPlace && drawing?.startTyping(event.key === '=' ? '' : event.key)) return event.preventDefault();
			if (event.key === 'Enter' && drawing?.enter()) return event.preventDefault();
			if (event.key === 'Escape') {
				drawing?.escape();
				return event.preventDefault();
			}
		}
		if (command) take(event, command);
	}

	function take(event: KeyboardEvent, command: Command): void {
		if (command.run(screen) !== false) event.preventDefault();
	}

	/** In Divide a digit starts the count of what is selected, in Label a letter the name of its group. */
	function typesIntoTable(event: KeyboardEvent): boolean {
		const piece = desk.selected('piece')[0];
		if (desk.station === 'divide' && /^[0-9]$/.test(event.key) && piece) {
			const cell = document.querySelector<HTMLInputElement>(`[aria-label="Divisions of ${CSS.escape(piece)}"]`);
			cell?.focus();
			// What the cell holds is selected when it has the focus, so that the digit replaces it.
			cell?.select();
			return cell !== null;
		}
		if (desk.station === 'label' && desk.face === 'table' && /^[\p{L}_]$/u.test(event.key)) {
			const field = document.querySelector<HTMLInputElement>('[aria-label="Name of the new group"]:not(:disabled)');
			field?.focus();
			return field !== null;
		}
		return false;
	}

	function beforeUnload(event: BeforeUnloadEvent): void {
		desk.finishTyping();
		if (desk.unsaved) event.preventDefault();
	}

	function resizeLedger(event: PointerEvent & { currentTarget: HTMLElement }): void {
		if (event.buttons !== 1) return;
		ledgerWidth = Math.min(900, Math.max(300, window.innerWidth - event.clientX));
	}

	function resizeByKey(event: KeyboardEvent): void {
		if (event.key === 'ArrowLeft') ledgerWidth = Math.min(900, ledgerWidth + 20);
		else if (event.key === 'ArrowRight') ledgerWidth = Math.max(300, ledgerWidth - 20);
	}
</script>

<svelte:window onkeydown={onKeyDown} onbeforeunload={beforeUnload} onfocus={desk.lookAgain} />
<svelte:head><title>{desk.result?.model.title ?? 'Project'} – Tessellon</title></svelte:head>

{#if problem}
	<main class="problem">
		<p>This project cannot be opened: {problem}.</p>
		<a class="action" href={resolve('/')}>All projects</a>
	</main>
{:else if !desk.loaded}
	<main class="problem" aria-busy="true"><p>Opening the project…</p></main>
{:else}
	<div class="desk" style:--ledger="{ledgerWidth}px">
		<div class="header"><Header onpalette={() => (palette = true)} ontheme={toggleTheme} /></div>
		<div class="rail"><Rail /></div>
		<main class="drawing"><Drawing bind:this={drawing} {mode} /></main>
		<aside class="ledger">
			<!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
			<div
				class="divider"
				role="separator"
				aria-orientation="vertical"
				aria-label="Width of the ledger"
				aria-valuenow={ledgerWidth}
				tabindex="0"
				onpointerdown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
				onpointermove={resizeLedger}
				onkeydown={resizeByKey}
			></div>
			<Ledger />
		</aside>
		<div class="gauge"><Gauge /></div>
	</div>
	<ConflictBar />
	<RenameCard />
	<CommandPalette bind:open={palette} onrun={(command) => command.run(screen)} />
	<KeysDialog bind:open={keys} />
	<input
		bind:this={fileToLookAt}
		type="file"
		hidden
		aria-label="Mesh file to look at"
		accept=".cgns,.vtu"
		onchange={(event) => {
			void lookAt(event.currentTarget.files?.[0]);
			event.currentTarget.value = '';
		}}
	/>
	{#if desk.looking}
		{@const { name, looked } = desk.looking}
		{#await import('../files/MeshFileView.svelte') then { default: MeshFileView }}
			<MeshFileView {name} {looked} ontake={takeOutline} onclose={() => (desk.looking = undefined)} />
		{/await}
	{/if}
{/if}

<style>
	.desk {
		display: grid;
		grid-template: auto minmax(0, 1fr) auto / 64px minmax(0, 1fr) min(var(--ledger), 42vw);
		grid-template-areas: 'header header header' 'rail drawing ledger' 'rail gauge ledger';
		height: 100vh;
	}
	.header {
		grid-area: header;
		min-width: 0;
	}
	.rail {
		grid-area: rail;
	}
	.drawing {
		grid-area: drawing;
		min-width: 0;
	}
	.divider {
		flex: none;
		width: 5px;
		border-left: 1px solid var(--edge-strong);
		background: var(--sheet);
		cursor: col-resize;
		touch-action: none;
	}
	.divider:hover {
		background: var(--kingfisher-soft);
	}
	.ledger {
		display: flex;
		grid-area: ledger;
		min-width: 0;
	}
	.gauge {
		grid-area: gauge;
		min-width: 0;
	}
	.problem {
		display: grid;
		place-items: center;
		align-content: center;
		gap: 12px;
		height: 100vh;
	}
</style>
