<script lang="ts">
	import { groupEdges, isBoundary } from '../../core/mesh/mesh.ts';
	import { thingKey, useDesk } from '../desk/desk.svelte.ts';

	/** Boundaries by region: edges of every group beside every region. */
	const desk = useDesk();
	const table = $derived.by(() => {
		const { result } = desk;
		if (!result) return undefined;
		const { mesh, arrangement, regions } = result;
		const columns = regions.flatMap(({ fill, name, face }) => (fill === 'none' ? [] : [{ name, face }]));
		const rows = mesh.groups.filter(isBoundary).map((group) => {
			const edges = groupEdges(mesh, group);
			const beside = (face: number) => {
				let count = 0;
				for (const e of edges) if (arrangement.sides[2 * mesh.edgePiece[e]! + mesh.edgeSide[e]!] === face) count++;
				return count;
			};
			return { name: group.name, counts: columns.map(({ face }) => beside(face)) };
		});
		return { columns, rows };
	});
</script>

{#if table && table.rows.length > 0 && table.columns.length > 0 && table.columns.length <= 12}
	<details>
		<summary>Boundaries by region</summary>
		<div class="scroll">
			<table aria-label="Boundaries by region">
				<thead
					><tr
						><th class="text">group</th>{#each table.columns as { name } (name)}<th>{name}</th>{/each}</tr
					></thead
				>
				<tbody>
					{#each table.rows as { name, counts } (name)}<tr
							onpointerenter={() => (desk.hover = thingKey('group', name))}
							onpointerleave={() => (desk.hover = '')}
							><td>{name}</td>{#each counts as count, k (k)}<td class="number">{count > 0 ? count.toLocaleString('en') : '–'}</td
								>{/each}</tr
						>{/each}
				</tbody>
			</table>
		</div>
	</details>
{/if}

<style>
	details {
		padding: 8px;
	}
	summary {
		color: var(--quiet);
		font-size: 11.5px;
		font-weight: 600;
		cursor: pointer;
	}
	.scroll {
		overflow-x: auto;
	}
	td:first-child {
		text-align: left;
	}
</style>
