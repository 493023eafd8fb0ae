<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { resolve } from '$app/paths';
	import { onMount } from 'svelte';
	import { notify } from '../controls/toaster.ts';
	import CommandPalette, { type Command } from '../dialogs/CommandPalette.svelte';
	import ConflictBar from '../dialogs/ConflictBar.svelte';
	import RenameCard from '../dialogs/RenameCard.svelte';
	import KeysDialog from '../dialogs/KeysDialog.svelte';
	import Drawing from '../drawing/Drawing.svelte';
	import { tools } from '../drawing/tools/table.ts';
	import Gauge from '../gauge/Gauge.svelte';
	import Ledger from '../ledger/Ledger.svelte';
	import { applyMode, currentMode, otherMode } from '../theme/mode.ts';
	import { Desk, provideDesk, stations, thingKey } from './desk.svelte.ts';
	import Header from './Header.svelte';
	import Rail from './Rail.svelte';

	let { id }: { id: string } = $props();

	// A desk lives as long as its screen; another project is another screen.
	// svelte-ignore state_referenced_locally
	const desk = provideDesk(new Desk(id));
	let drawing = $state<ReturnType<typeof Drawing> | undefined>();
	let gauge = $state<HTMLElement | undefined>();
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

	function toggleTheme(): void {
		mode = otherMode(mode);
		applyMode(mode);
	}

	/** Opens a mesh file beside the project; what is wrong with it is told. */
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

	const commands: Command[] = [
		...stations.map((station, k) => ({
			title: `Go to ${station[0]!.toUpperCase()}${station.slice(1)}`,
			keys: `Ctrl+Shift+${k + 1}`,
			run: () => desk.go(station)
		})),
		...tools.slice(1).map((tool) => ({ title: tool.title, ...(tool.key ? { keys: tool.key } : {}), run: () => pick(tool.name) })),
		{ title: 'Fit everything', keys: 'F', run: () => drawing?.fit() },
		{ title: 'Table or recipe text', keys: 'T', run: () => (desk.face = desk.face === 'table' ? 'recipe' : 'table') },
		{ title: 'Look at a mesh file (CGNS, VTU)', run: () => fileToLookAt?.click() },
		{ title: 'Undo', keys: 'Ctrl+Z', run: () => void desk.undo() },
		{ title: 'Redo', keys: 'Ctrl+Y', run: () => void desk.redo() },
		{ title: 'Delete what is selected', keys: 'Delete', run: () => desk.deleteSelected() },
		{ title: 'Rename what is selected', keys: 'F2', run: renameSelected },
		{ title: 'Select all that the station shows', keys: 'Ctrl+A', run: () => desk.selectAll() },
		{ title: 'Walk to the worst elements', keys: 'W', run: walkWorst },
		{ title: 'Colour the mesh by quality', run: () => (desk.colourByQuality = !desk.colourByQuality) },
		{ title: 'Stop meshing', run: () => desk.stop() },
		{ title: 'Paper or slate theme', run: toggleTheme },
		{ title: 'Show the keys', keys: '?', run: () => (keys = true) }
	];

	function pick(tool: (typeof tools)[number]['name']): void {
		desk.station = 'shape';
		desk.tool = tool;
	}

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

	function walkWorst(): void {
		gauge?.querySelector<HTMLButtonElement>('.buttons button')?.click();
	}

	function onKeyDown(event: KeyboardEvent): void {
		const target = event.target as HTMLElement;
		const command = event.ctrlKey || event.metaKey;
		const typing = target.closest('input:not([type=range], [type=checkbox]), textarea, select, [contenteditable=true]') !== null;
		if (command && event.key.toLowerCase() === 'k') {
			event.preventDefault();
			palette = true;
			return;
		}
		// A cell in which nothing has been typed yet has nothing of its own to undo.
		const travels = !typing || target.dataset.untouched === 'true';
		// The list listens for Escape itself, but only a moment after it opens.
		if (keys && event.key === 'Escape') keys = false;
		if (palette || keys) return;
		if (command && travels && 'zy'.includes(event.key.toLowerCase())) {
			event.preventDefault();
			void (event.shiftKey || event.key.toLowerCase() === 'y' ? desk.redo() : desk.undo());
			return;
		}
		const station = /^Digit([1-5])$/.exec(event.code)?.[1];
		// No typing can hit these, wherever the focus is.
		if (event.ctrlKey && event.shiftKey && station) {
			event.preventDefault();
			desk.go(stations[Number(station) - 1]!);
			return;
		}
		if (typing) return;
		if (command && event.key.toLowerCase() === 'a') {
			event.preventDefault();
			desk.selectAll();
			return;
		}
		if (command || event.altKey) return;
		// In Divide a digit starts the count of what is selected.
		if (desk.station === 'divide' && /^[0-9]$/.test(event.key) && desk.selected('piece').length > 0) {
			const cell = document.querySelector<HTMLInputElement>(
				`[aria-label="Divisions of ${CSS.escape(desk.selected('piece')[0]!)}"]`
			);
			if (cell) {
				cell.focus();
				// What the cell holds is selected when it has the focus, so that the digit replaces it.
				cell.select();
				return;
			}
		}
		if (
			desk.station === 'fill' &&
			event.key.toLowerCase() === 'l' &&
			document.querySelector<HTMLButtonElement>('[data-layers]')
		) {
			document.querySelector<HTMLButtonElement>('[data-layers]')!.click();
			event.preventDefault();
			return;
		}
		// In Label a letter starts the name of the group of what is selected.
		if (desk.station === 'label' && desk.face === 'table' && /^[\p{L}_]$/u.test(event.key)) {
			const field = document.querySelector<HTMLInputElement>('[aria-label="Name of the new group"]:not(:disabled)');
			if (field) {
				field.focus();
				return;
			}
		}
		// An equals sign opens the card for a name, as letters alone are keys.
		if (/^[0-9.(=-]$/.test(event.key) && desk.tool !== 'select' && drawing?.startTyping(event.key === '=' ? '' : event.key)) {
			event.preventDefault();
			return;
		}
		const tool = desk.station === 'shape' ? tools.find((t) => t.key?.toLowerCase() === event.key.toLowerCase()) : undefined;
		if (tool) desk.tool = tool.name;
		else if (event.key === 'Enter' && drawing?.enter()) void 0;
		else if (event.key === 'Escape') drawing?.escape();
		else if (event.key === 'Delete' || event.key === 'Backspace') desk.deleteSelected();
		else if (event.key === 'F2') renameSelected();
		else if (event.key === 'f' || event.key === 'F') drawing?.fit();
		else if (event.key === 't' || event.key === 'T') desk.face = desk.face === 'table' ? 'recipe' : 'table';
		else if (event.key === 'w' || event.key === 'W') walkWorst();
		else if (event.key === '+') document.querySelector<HTMLButtonElement>('[data-chain]')?.click();
		else if (event.key === 'z' || event.key === 'Z') drawing?.back();
		else if (event.key === '?') keys = true;
		else return;
		event.preventDefault();
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

<svelte:window onkeydown={onKeyDown} onbeforeunload={beforeUnload} />
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
		<div class="gauge" bind:this={gauge}><Gauge /></div>
	</div>
	<ConflictBar />
	<RenameCard />
	<CommandPalette bind:open={palette} {commands} />
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
