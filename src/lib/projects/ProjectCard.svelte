<script lang="ts">
	import { resolve } from '$app/paths';
	import type { ProjectSummary } from '../../api/schemas.ts';
	import type { ProjectPictures } from './project-pictures.svelte.ts';

	/** A project in the list: its picture, title and revision; it is removed with a second click. */
	interface Props {
		project: ProjectSummary;
		pictures: ProjectPictures;
		onremove: () => void;
	}
	const { project, pictures, onremove }: Props = $props();
	const key = $derived(`${project.id} ${project.revision}`);
	const picture = $derived(pictures.stateOf(key));
	const changed = $derived(new Date(project.changedAt).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' }));
	let isAsking = $state(false);
</script>

<li class="panel">
	<a href={resolve('/projects/[id]', { id: project.id })}>
		<img
			src="/api/projects/{project.id}/picture?revision={project.revision}&try={pictures.triesOf(key)}"
			alt="Mesh of {project.title}"
			loading="lazy"
			class:drawn={picture === 'come'}
			onload={() => pictures.came(key)}
			onerror={() => pictures.missed(key)}
			width="480"
			height="270"
		/>
		{#if picture !== 'come'}<span class="waiting"
				>{picture === 'missing' ? 'no picture of this one' : 'the picture is being drawn…'}</span
			>{/if}
		<h2>{project.title}</h2>
		<p>revision <span class="number">{project.revision}</span> · {changed}</p>
	</a>
	{#if isAsking}
		<p class="sure">
			Take it off the list? <button
				class="action"
				onclick={() => {
					isAsking = false;
					onremove();
				}}>Remove</button
			>
			<button class="action plain" onclick={() => (isAsking = false)}>Keep</button>
		</p>
	{:else}<button
			class="remove"
			aria-label="Remove {project.title}"
			data-tip="Remove from the list"
			onclick={() => (isAsking = true)}>×</button
		>{/if}
</li>

<style>
	li {
		position: relative;
		height: var(--card);
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
		height: calc(var(--card) - 66px);
		object-fit: contain;
		border-bottom: 1px solid var(--edge);
		background: #f5f2ea;
	}
	img:not(.drawn) {
		visibility: hidden;
	}
	.waiting {
		position: absolute;
		top: 80px;
		right: 0;
		left: 0;
		color: var(--quiet);
		font-size: 12px;
		text-align: center;
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
		position: absolute;
		inset: auto 0 0;
		display: flex;
		align-items: center;
		gap: 8px;
		height: 65px;
		padding: 8px 14px;
		border-top: 1px solid var(--edge);
		background: var(--sheet);
	}
</style>
