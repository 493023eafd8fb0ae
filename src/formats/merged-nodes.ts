import { addTo } from '../core/numeric/lists.ts';
import { hypot } from '../core/numeric/elementary.ts';

/** Places nearer than this share of the drawing's size are one, where they are of different zones. */
const near = 1e-9;

/**
 * The nodes of several zones in one numbering: nodes of different zones at one place become one; those of one zone never do, as a
 * wall of two sides has two.
 */
export function mergedNodes(zones: readonly { x: Float64Array; y: Float64Array }[]): {
	x: Float64Array;
	y: Float64Array;
	/** By zone, the number of each node. */
	number: Uint32Array[];
} {
	if (zones.length === 1) return { x: zones[0]!.x, y: zones[0]!.y, number: [Uint32Array.from(zones[0]!.x, (_, k) => k)] };
	let [minX, maxX, minY, maxY] = [Infinity, -Infinity, Infinity, -Infinity];
	for (const { x, y } of zones)
		for (let k = 0; k < x.length; k++) {
			minX = Math.min(minX, x[k]!);
			maxX = Math.max(maxX, x[k]!);
			minY = Math.min(minY, y[k]!);
			maxY = Math.max(maxY, y[k]!);
		}
	const step = near * Math.max(maxX - minX, maxY - minY) || 1;
	const [outX, outY]: [number[], number[]] = [[], []];
	/** Nodes by their cell of a fine grid, with the zone that had them last. */
	const cells = new Map<string, { node: number; zone: number }[]>();
	const number = zones.map(({ x, y }, z) =>
		Uint32Array.from(x, (px, k) => {
			const [u, v] = [px / step, y[k]! / step];
			// A place near the border of a cell may have its twin beyond it.
			for (const i of new Set([Math.floor(u), Math.round(u) - 1, Math.round(u)]))
				for (const j of new Set([Math.floor(v), Math.round(v) - 1, Math.round(v)])) {
					const twin = cells
						.get(`${i} ${j}`)
						?.find(
							(candidate) => candidate.zone !== z && hypot(outX[candidate.node]! - px, outY[candidate.node]! - y[k]!) <= step
						);
					if (!twin) continue;
					twin.zone = z;
					return twin.node;
				}
			const node = outX.push(px) - 1;
			outY.push(y[k]!);
			const key = `${Math.floor(u)} ${Math.floor(v)}`;
			addTo(cells, key, { node, zone: z });
			return node;
		})
	);
	return { x: Float64Array.from(outX), y: Float64Array.from(outY), number };
}
