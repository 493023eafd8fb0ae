import { groupEdges, isBoundary, type Mesh } from '../core/mesh/mesh.ts';
import type { MeshFile } from './mesh-file.ts';

/** What can be counted in a mesh, whether it was read or made. */
export interface MeshFigures {
	nodes: number;
	triangles: number;
	quads: number;
	regions: { name: string; elements: number }[];
	groups: { name: string; kind?: string; edges: number }[];
}

/** The counts of a mesh file, or of the mesh that a recipe makes. */
export function figuresOf(source: MeshFile | { mesh: Mesh }): MeshFigures {
	const mesh = 'mesh' in source ? source.mesh : source;
	const elements = new Array<number>(mesh.regions.length).fill(0);
	for (const list of [mesh.triangleRegion, mesh.quadRegion]) for (const r of list) elements[r]!++;
	return {
		nodes: mesh.x.length,
		triangles: mesh.triangleRegion.length,
		quads: mesh.quadRegion.length,
		regions: mesh.regions.flatMap((name, r) => (elements[r]! > 0 ? [{ name, elements: elements[r]! }] : [])),
		groups:
			'mesh' in source
				? source.mesh.groups
						.filter(isBoundary)
						.map((group) => ({ name: group.name, kind: group.kind, edges: groupEdges(source.mesh, group).length }))
				: source.groups.map(({ name, kind, sides }) => ({ name, ...(kind ? { kind } : {}), edges: sides.length / 2 }))
	};
}

/** A count in a file beside that of the recipe's mesh; undefined where one of them has nothing of that name. */
export interface ComparedCount {
	what: string;
	file: number | undefined;
	recipe: number | undefined;
}

/** The counts of two meshes side by side, by name. Regions are left out where no name agrees: others name them otherwise. */
export function compared(file: MeshFigures, recipe: MeshFigures): ComparedCount[] {
	const rows: ComparedCount[] = (['nodes', 'triangles', 'quads'] as const).map((what) => ({
		what,
		file: file[what],
		recipe: recipe[what]
	}));
	const side = (what: string, mine: { name: string; count: number }[], other: { name: string; count: number }[]) => {
		const count = (list: typeof mine, name: string) => list.find((one) => one.name === name)?.count;
		for (const name of new Set([...mine, ...other].map((one) => one.name)))
			rows.push({ what: `${what} ${name}`, file: count(mine, name), recipe: count(other, name) });
	};
	const regions = [file, recipe].map((f) => f.regions.map(({ name, elements }) => ({ name, count: elements })));
	if (regions[0]!.some(({ name }) => regions[1]!.some((other) => other.name === name))) side('region', regions[0]!, regions[1]!);
	const groups = [file, recipe].map((f) => f.groups.map(({ name, edges }) => ({ name, count: edges })));
	side('group', groups[0]!, groups[1]!);
	return rows;
}
