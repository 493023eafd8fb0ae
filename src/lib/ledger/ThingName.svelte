<script lang="ts">
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import type { ThingKind } from '../desk/selection.svelte.ts';

	/** The name of a thing in a table: a click selects it, a double click renames it. A curve stands for its pieces. */
	let { kind, name, selects = [name] }: { kind: ThingKind; name: string; selects?: readonly string[] } = $props();
	const desk = useDesk();
	/** Letters at the end that are always there. */
	const tail = $derived(Math.min(name.length, 6));
</script>

<button
	data-tip={name}
	aria-label={name}
	data-thing={thingKey(kind, name)}
	onclick={(event) =>
		desk.select(
			selects.map((selectedName) => thingKey(kind, selectedName)),
			event.shiftKey || event.ctrlKey || event.metaKey
		)}
	ondblclick={(event) => {
		const { left, top } = event.currentTarget.getBoundingClientRect();
		desk.renaming = { kind, name, left, top };
	}}
>
	<!-- Cut in the middle: names that go on from one another differ at their ends. -->
	<span class="whole"><span class="head">{name.slice(0, -tail)}</span><span class="tail">{name.slice(-tail)}</span></span>
</button>

<style>
	.whole {
		display: flex;
	}
	.head {
		overflow: hidden;
		text-overflow: ellipsis;
		white-space: pre;
	}
	.tail {
		flex: none;
		white-space: pre;
	}
</style>
