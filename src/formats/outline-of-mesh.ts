import { addTo } from '../core/numeric/lists.ts';
import { polylineCurve } from '../core/geometry/build.ts';
import type { BoundaryKind } from '../core/recipe/language/boundary-kinds.ts';
import { layerName } from '../core/recipe/statements/shared/curve-files.ts';
import type { DrawingFile } from '../core/recipe/model/model.ts';
import { type MeshFile, sidesOf } from './mesh-file.ts';

/** Joints that turn by more than this are corners: no division that follows a curve turns by more than 30°. */
const cornerTurn = (35 * Math.PI) / 180;

/** The layer of sides in no group, and of those between regions. */
const bare = { boundary: 'outline', inside: 'interface' } as const;

/**
 * The outline of a mesh as the curves of a drawing: the sides of every group on a layer of its name, cut where groups, or more
 * than two sides, meet. What holds elements is material: an odd number of its outlines lies around it.
 */
export function outlineOfMesh(mesh: MeshFile): DrawingFile {
	const { x, y, groups } = mesh;
	const keyOf = (a: number, b: number) => Math.min(a, b) * x.length + Math.max(a, b);
	const labels = new Map<number, string>();
	groups.forEach(({ name, sides }) => {
		for (let k = 0; k < sides.length; k += 2) labels.set(keyOf(sides[k]!, sides[k + 1]!), layerName(name));
	});
	const { nodes, regions, layers } = laidTogether(mesh, (a, b) => labels.get(keyOf(a, b)));
	const count = nodes.length / 2;
	const around = new Map<number, number[]>();
	for (let s = 0; s < count; s++) {
		const [a, b] = [nodes[2 * s]!, nodes[2 * s + 1]!];
		for (const node of [a, b]) addTo(around, node, s);
	}
	const isJunction = (node: number) => {
		const sides = around.get(node)!;
		return sides.length !== 2 || layers[sides[0]!] !== layers[sides[1]!];
	};

	const curves: DrawingFile['curves'] = [];
	const used = new Uint8Array(count);
	const walk = (start: number, side: number) => {
		const chain = [start];
		let [node, s] = [start, side];
		for (;;) {
			used[s] = 1;
			node = nodes[2 * s] === node ? nodes[2 * s + 1]! : nodes[2 * s]!;
			if (node === start) break;
			chain.push(node);
			if (isJunction(node)) break;
			const next = around.get(node)!.find((other) => !used[other]);
			if (next === undefined) break;
			s = next;
		}
		const closed = node === start;
		const list = (values: Float64Array) => Float64Array.from(chain, (n) => values[n]!);
		if (chain.length > 1)
			curves.push({
				curve: polylineCurve('side', list(x), list(y), closed, cornerTurn),
				layer: layers[side]!,
				...(regions[2 * side + 1] === -1 ? { shape: 0 } : {})
			});
	};
	for (const [node, sides] of around) if (isJunction(node)) for (const s of sides) if (!used[s]) walk(node, s);
	// What is left are rings without a junction.
	for (let s = 0; s < count; s++) if (!used[s]) walk(nodes[2 * s]!, s);

	const kinds: Record<string, BoundaryKind> = {};
	for (const { name, kind } of groups) if (kind) kinds[layerName(name)] = kind;
	return {
		...(mesh.unit ? { unit: mesh.unit } : {}),
		curves,
		fills: ['joined'],
		points: [],
		skipped: [],
		mesh: { kinds },
		...(mesh.fields ? { result: { x, y, triangles: halved(mesh), fields: mesh.fields } } : {})
	};
}

/**
 * The sides of a mesh, each by the first of the nodes at its ends' places: the two sides of a wall inside it, where every node
 * stands twice, are one between what lies beside it, on the layer of the first of them.
 */
function laidTogether(
	mesh: MeshFile,
	labelOf: (a: number, b: number) => string | undefined
): { nodes: readonly number[]; regions: readonly number[]; layers: readonly string[] } {
	const { x, y } = mesh;
	const sides = sidesOf(mesh);
	const firstAt = new Map<string, number>();
	const placeOf = (node: number) => {
		const key = `${x[node]!} ${y[node]!}`;
		const first = firstAt.get(key) ?? node;
		firstAt.set(key, first);
		return first;
	};
	const outer = new Map<string, number>();
	const [nodes, regions, layers]: [number[], number[], string[]] = [[], [], []];
	for (let s = 0; s < sides.nodes.length / 2; s++) {
		const [from, to] = [sides.nodes[2 * s]!, sides.nodes[2 * s + 1]!];
		const [a, b] = [placeOf(from), placeOf(to)];
		const isOuter = sides.regions[2 * s + 1] === -1;
		const other = isOuter ? outer.get(`${b} ${a}`) : undefined;
		if (other !== undefined) {
			regions[2 * other + 1] = sides.regions[2 * s]!;
			outer.delete(`${b} ${a}`);
			continue;
		}
		if (isOuter) outer.set(`${a} ${b}`, layers.length);
		nodes.push(a, b);
		regions.push(sides.regions[2 * s]!, sides.regions[2 * s + 1]!);
		layers.push(labelOf(from, to) ?? (isOuter ? bare.boundary : bare.inside));
	}
	return { nodes, regions, layers };
}

/** All elements as triangles. */
function halved({ triangles, quads }: MeshFile): Uint32Array {
	const out = new Uint32Array(triangles.length + (quads.length / 4) * 6);
	out.set(triangles);
	for (let q = 0, at = triangles.length; q < quads.length; q += 4, at += 6) {
		const [a, b, c, d] = [quads[q]!, quads[q + 1]!, quads[q + 2]!, quads[q + 3]!];
		out.set([a, b, c, a, c, d], at);
	}
	return out;
}
