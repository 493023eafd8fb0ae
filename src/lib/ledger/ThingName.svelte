<script lang="ts">
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';
	import type { ThingKind } from '../desk/selection.svelte.ts';

	/** The name of a thing in a table: a click selects it, a double click renames it. A curve stands for its pieces. */
	let { kind, name, selects = [name] }: { kind: ThingKind; name: string; selects?: readonly string[] } = $props();
	const desk = useDesk();
</script>

<button
	title={name}
	data-thing={thingKey(kind, name)}
	onclick={(event) =>
		desk.select(
			selects.map((own) => thingKey(kind, own)),
			event.shiftKey || event.ctrlKey || event.metaKey
		)}
	ondblclick={(event) => {
		const { left, top } = event.currentTarget.getBoundingClientRect();
		desk.renaming = { kind, name, left, top };
	}}>{name}</button
>
