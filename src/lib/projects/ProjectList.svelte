<script lang="ts">
	import { sentenceOf } from '../../core/text/user-error.ts';
	import { goto } from '$app/navigation';
	import { resolve } from '$app/paths';
	import { onMount } from 'svelte';
	import type { ProjectSummary } from '../../api/schemas.ts';
	import * as api from '../api/client.ts';
	import Mark from '../desk/Mark.svelte';
	import ProjectCard from './ProjectCard.svelte';
	import { VirtualList } from '../virtual/virtual.svelte.ts';
	import { emptyRecipe } from '../../core/recipe/empty.ts';
	import { chosen, freeTitle, orders, type Order } from './chosen.ts';
	import { openRecipe } from './open-recipe.ts';
	import { ProjectPictures } from './project-pictures.svelte.ts';

	/** Least width and height of a card, and the gap between two, in pixels. */
	const leastWidth = 330;
	const cardHeight = 256;
	const gap = 16;

	let projects = $state.raw<ProjectSummary[] | undefined>();
	/** Those that were removed lately, and whether they are shown. */
	let removed = $state.raw<ProjectSummary[]>([]);
	let showsRemoved = $state(false);
	let problem = $state('');
	/** The pictures that have come; they outlive the cards, which come and go as the list is scrolled. */
	const pictures = new ProjectPictures();
	let wanted = $state('');
	let order = $state<Order>('changed');
	let main: HTMLElement;
	let list: HTMLUListElement | undefined = $state();
	let width = $state(0);
	const shown = $derived(chosen(projects ?? [], wanted, order));
	/** Cards side by side. */
	const lanes = $derived(Math.max(1, Math.floor((width + gap) / (leastWidth + gap))));
	const cards = new VirtualList();
	$effect(() => (list ? cards.attach(list, main) : undefined));
	$effect(() => cards.update({ count: Math.ceil(shown.length / lanes), size: cardHeight + gap }));
	const inSight = $derived(cards.items.flatMap((item) => shown.slice(item.index * lanes, (item.index + 1) * lanes)));

	onMount(load);

	async function load(): Promise<void> {
		try {
			[projects, removed] = await Promise.all([api.listProjects(), api.removedProjects()]);
		} catch (error) {
			problem = `The projects could not be loaded: ${sentenceOf(error, 'loading them')}`;
		}
	}

	async function create(): Promise<void> {
		try {
			const project = await api.createProject(emptyRecipe(freeTitle((projects ?? []).map(({ title }) => title))));
			await goto(resolve('/projects/[id]', { id: project.id }));
		} catch (error) {
			problem = sentenceOf(error, 'making a project');
		}
	}

	async function bringBack(id: string): Promise<void> {
		try {
			await api.bringBackProject(id);
		} catch (error) {
			problem = sentenceOf(error, 'bringing it back');
		}
		await load();
		if (removed.length === 0) showsRemoved = false;
	}

	/** Whether this browser has a session on a server with a token. */
	const hasSession = document.cookie.includes('tessellon_guarded=');
	async function logOut(): Promise<void> {
		try {
			await api.logOut();
			location.reload();
		} catch (error) {
			problem = sentenceOf(error, 'logging out');
		}
	}

	async function open(files: FileList | null): Promise<void> {
		if (!files || files.length === 0) return;
		try {
			const project = await openRecipe([...files]);
			await goto(resolve('/projects/[id]', { id: project.id }));
		} catch (error) {
			problem = sentenceOf(error, 'opening the file');
		}
	}

	async function remove(id: string, etag: string): Promise<void> {
		try {
			await api.removeProject(id, etag);
		} catch (error) {
			problem =
				error instanceof api.ServerRefusal && error.status === 412
					? 'This project was changed meanwhile, so it stays; look at it before you take it off.'
					: sentenceOf(error, 'removing it');
		}
		await load();
	}
</script>

<svelte:head><title>Projects – Tessellon</title></svelte:head>
<svelte:window
	ondragover={(event) => event.preventDefault()}
	ondrop={(event) => {
		event.preventDefault();
		void open(event.dataTransfer?.files ?? null);
	}}
/>

<header>
	<Mark /><b>Tessellon</b>
	<span>from a 2D drawing to a simulation mesh</span>
	<div></div>
	<a class="quiet" href="/licences.txt" target="_blank" rel="external" data-tip="The licences of what Tessellon is made of"
		>Licences</a
	>
	{#if hasSession}<button class="action" data-tip="End the session of this browser" onclick={logOut}>Log out</button>{/if}
	<label class="action"
		>Open a recipe…<input
			type="file"
			multiple
			accept=".tessellon,.csv,.txt,.dat"
			onchange={(event) => open(event.currentTarget.files)}
		/></label
	>
	<button class="action main" onclick={create}>New project</button>
</header>
<main bind:this={main} data-scrolls>
	<h1 class="unseen">Projects</h1>
	{#if projects && projects.length > 0}
		<div class="finding" role="search">
			<input class="field" type="search" placeholder="Find by title" aria-label="Find by title" bind:value={wanted} />
			<label
				>sorted by <select class="field" bind:value={order}>
					{#each Object.entries(orders) as [key, title] (key)}<option value={key}>{title}</option>{/each}
				</select></label
			>
			<span
				><span class="number">{shown.length === projects.length ? '' : `${shown.length} of `}{projects.length}</span>
				{projects.length === 1 ? 'project' : 'projects'}</span
			>
			{#if removed.length > 0}<button
					class="action"
					aria-pressed={showsRemoved}
					data-tip="Projects that were removed in the last thirty days"
					onclick={() => (showsRemoved = !showsRemoved)}>Removed: {removed.length}</button
				>{/if}
		</div>
	{/if}
	{#if showsRemoved || projects?.length === 0}
		<ul class="removed" aria-label="Removed projects">
			{#each removed as { id, title, changedAt } (id)}<li>
					<b>{title}</b>
					<span>changed {new Date(changedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })}</span>
					<button class="action" onclick={() => bringBack(id)}>Bring it back</button>
				</li>{/each}
		</ul>
	{/if}
	{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	<ul
		bind:this={list}
		bind:clientWidth={width}
		style:padding-top="{cards.before}px"
		style:padding-bottom="{cards.after}px"
		style:--card="{cardHeight}px"
	>
		{#each inSight as project (project.id)}
			<ProjectCard {project} {pictures} onremove={() => remove(project.id, project.etag)} />
		{/each}
	</ul>
	{#if projects && projects.length > 0 && shown.length === 0}<p class="none">No title has all of these words.</p>{/if}
	{#if projects?.length === 0}<p class="none">
			No project yet. Make a new one, or drop a recipe with its coordinate files here.
		</p>{/if}
</main>

<style>
	header {
		display: flex;
		align-items: center;
		gap: 10px;
		height: 52px;
		padding: 0 20px;
		border-bottom: 1px solid var(--edge-strong);
		background: var(--sheet);
	}
	header b {
		font-size: 17px;
		font-weight: 600;
	}
	header span,
	header .quiet {
		padding: 0;
		color: var(--quiet);
	}
	header div {
		flex: 1;
	}
	input[type='file'] {
		position: absolute;
		width: 1px;
		height: 1px;
		opacity: 0;
	}
	main {
		height: calc(100vh - 52px);
		overflow: auto;
		padding: 16px 20px 24px;
	}
	.finding {
		display: flex;
		align-items: center;
		gap: 16px;
		max-width: 1400px;
		margin: 0 auto 16px;
		color: var(--quiet);
	}
	.finding input {
		width: 260px;
	}
	ul.removed {
		display: block;
		margin-bottom: 16px;
	}
	.removed li {
		display: flex;
		gap: 12px;
		align-items: center;
		padding: 3px 0;
	}
	.removed span {
		flex: 1;
		color: var(--quiet);
	}
	ul {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
		gap: 16px;
		max-width: 1400px;
		margin: 0 auto;
	}
	.problem {
		max-width: 1400px;
		margin: 0 auto 16px;
		color: var(--brick);
	}
	.none {
		color: var(--quiet);
		text-align: center;
	}
</style>
