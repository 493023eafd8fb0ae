import type { DeliveryGrid, GridCells } from '../mesh/grid.ts';
import { groupColours, type GroupColour } from '../recipe/language/boundary-kinds.ts';

/** The surface of a solid to look at: places, and for each group its triangles and the edges of its sides. */
export interface Surface {
	/** x, y, z of each node, about the middle of the box around all. */
	places: Float32Array;
	/** From the middle to a corner of the box. */
	reach: number;
	parts: { name: string; colour: string; triangles: Uint32Array; edges: Uint32Array }[];
}

/** The sides of a solid by group; undefined where there are more than so many. */
export function surfaceOf(
	{ coordinates, patches }: DeliveryGrid,
	colours: ReadonlyMap<string, GroupColour>,
	most: number
): Surface | undefined {
	const sides = patches.reduce((sum, p) => sum + p.sides.reduce((total, s) => total + s.nodes.length, 0), 0) / 4;
	if (sides > most) return undefined;
	const [x, y, z] = coordinates as [Float64Array, Float64Array, Float64Array];
	const box = [x, y, z].map((values) => {
		let [low, high] = [Infinity, -Infinity];
		for (const value of values) {
			low = Math.min(low, value);
			high = Math.max(high, value);
		}
		return { middle: (low + high) / 2, half: (high - low) / 2 };
	});
	const places = new Float32Array(3 * x.length);
	for (let k = 0; k < x.length; k++) [x, y, z].forEach((values, axis) => (places[3 * k + axis] = values[k]! - box[axis]!.middle));
	return {
		places,
		reach: Math.sqrt(box.reduce((sum, { half }) => sum + half * half, 0)),
		parts: patches
			.filter((patch) => !patch.inside)
			.map(({ name, sides: lists }) => ({
				name,
				// A flat side without a colour of its own is pale.
				colour: colours.has(name) ? groupColours[colours.get(name)!] : '#c9cfd2',
				triangles: Uint32Array.from(lists.flatMap(trianglesOf)),
				edges: Uint32Array.from(lists.flatMap(edgesOf))
			}))
	};
}

function trianglesOf({ shape, nodes }: GridCells): number[] {
	const list: number[] = [];
	if (shape === 'triangle') return [...nodes];
	for (let k = 0; k < nodes.length; k += 4) {
		const [a, b, c, d] = [nodes[k]!, nodes[k + 1]!, nodes[k + 2]!, nodes[k + 3]!];
		list.push(a, b, c, a, c, d);
	}
	return list;
}

function edgesOf({ shape, nodes }: GridCells): number[] {
	const size = shape === 'triangle' ? 3 : 4;
	const list: number[] = [];
	for (let k = 0; k < nodes.length; k++) list.push(nodes[k]!, nodes[k - (k % size) + ((k + 1) % size)]!);
	return list;
}
