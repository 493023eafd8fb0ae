<script lang="ts">
	import { goto } from '$app/navigation';
	import { resolve } from '$app/paths';
	import { onMount } from 'svelte';
	import type { ProjectSummary } from '../../api/schemas.ts';
	import * as api from '../api/client.ts';
	import Mark from '../desk/Mark.svelte';
	import { openRecipe } from './open-recipe.ts';

	let projects = $state.raw<ProjectSummary[] | undefined>();
	let problem = $state('');
	let removing = $state('');

	onMount(load);

	async function load(): Promise<void> {
		try {
			projects = await api.listProjects();
		} catch (error) {
			problem = `The projects could not be loaded: ${(error as Error).message}`;
		}
	}

	async function create(): Promise<void> {
		const project = await api.createProject();
		await goto(resolve('/projects/[id]', { id: project.id }));
	}

	async function open(files: FileList | null): Promise<void> {
		if (!files || files.length === 0) return;
		try {
			const project = await openRecipe([...files]);
			await goto(resolve('/projects/[id]', { id: project.id }));
		} catch (error) {
			problem = (error as Error).message;
		}
	}

	async function remove(id: string): Promise<void> {
		await api.removeProject(id);
		removing = '';
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
<main>
	{#if problem}<p class="problem" role="alert">{problem}</p>{/if}
	<ul>
		{#each projects ?? [] as project (project.id)}
			<li class="panel">
				<a href={resolve('/projects/[id]', { id: project.id })}>
					<img
						src="/api/projects/{project.id}/picture?revision={project.revision}"
						alt="Mesh of {project.title}"
						loading="lazy"
						width="480"
						height="270"
					/>
					<h2>{project.title}</h2>
					<p>
						revision <span class="number">{project.revision}</span> · {new Date(project.changedAt).toLocaleString('en-GB', {
							dateStyle: 'medium',
							timeStyle: 'short'
						})}
					</p>
				</a>
				{#if removing === project.id}
					<p class="sure">
						Take it off the list? <button class="action" onclick={() => remove(project.id)}>Remove</button>
						<button class="action plain" onclick={() => (removing = '')}>Keep</button>
					</p>
				{:else}<button
						class="remove"
						aria-label="Remove {project.title}"
						title="Remove from the list"
						onclick={() => (removing = project.id)}>×</button
					>{/if}
			</li>
		{/each}
	</ul>
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
	header span {
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
		padding: 24px 20px;
	}
	ul {
		display: grid;
		grid-template-columns: repeat(auto-fill, minmax(330px, 1fr));
		gap: 18px;
		max-width: 1400px;
		margin: 0 auto;
	}
	li {
		position: relative;
		overflow: hidden;
		box-shadow: none;
	}
	li:hover {
		border-color: var(--kingfisher);
	}
	a {
		display: block;
		padding-bottom: 10px;
	}
	img {
		display: block;
		width: 100%;
		height: auto;
		border-bottom: 1px solid var(--edge);
		background: #f5f2ea;
	}
	h2 {
		padding: 10px 14px 0;
		font-size: 15px;
		font-weight: 600;
	}
	a p {
		padding: 2px 14px 0;
		color: var(--quiet);
		font-size: 12px;
	}
	.remove {
		position: absolute;
		right: 8px;
		bottom: 8px;
		padding: 0 8px;
		color: var(--quiet);
		font-size: 16px;
		cursor: pointer;
	}
	.remove:hover {
		color: var(--brick);
	}
	.sure {
		display: flex;
		align-items: center;
		gap: 8px;
		padding: 8px 14px;
		border-top: 1px solid var(--edge);
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
