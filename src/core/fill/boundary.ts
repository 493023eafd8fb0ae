import type { Division } from '../divide/division.ts';
import { type Region, walksOf } from '../domain/regions.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { FillInput } from './method.ts';
import { methodOf } from './methods.ts';

/** Global numbers for the nodes on pieces; every shared one exists once. */
export interface BoundaryNumbering {
	/** How many nodes lie on pieces of filled regions. */
	count: number;
	/** Node of each junction, −1 when no filled region touches it. */
	junction: Int32Array;
	/** Number of the first inner node of each piece; the rest follow in the piece's direction; −1 when unused. */
	piece: Int32Array;
}

/** Numbers junctions first, then the inner nodes of the pieces, skipping what bounds no filled region. */
export function numberBoundary(
	arrangement: Arrangement,
	divisions: readonly Division[],
	regions: readonly Region[]
): BoundaryNumbering {
	const used = new Uint8Array(arrangement.pieces.length);
	for (const region of regions) if (region.fill !== 'none') for (const h of walksOf(arrangement, region).flat()) used[h >> 1] = 1;
	const junction = new Int32Array(arrangement.x.length).fill(-1);
	const piece = new Int32Array(arrangement.pieces.length).fill(-1);
	const touched = new Uint8Array(junction.length);
	arrangement.pieces.forEach((p, i) => {
		if (used[i]) touched[p.start] = touched[p.end] = 1;
	});
	const filled = new Set(regions.filter((r) => methodOf(r)?.keepsPoints).map((r) => r.face));
	for (const point of arrangement.isolated) if (filled.has(point.face)) touched[point.junction] = 1;
	let count = 0;
	for (let j = 0; j < junction.length; j++) if (touched[j]) junction[j] = count++;
	for (let p = 0; p < piece.length; p++) {
		if (!used[p]) continue;
		piece[p] = count;
		count += divisions[p]!.count - 1;
	}
	return { count, junction, piece };
}

/** Global node numbers along a half-piece, both ends included. */
export function nodesAlong(
	h: number,
	arrangement: Arrangement,
	divisions: readonly Division[],
	numbering: BoundaryNumbering
): number[] {
	const p = h >> 1;
	const { start, end } = arrangement.pieces[p]!;
	const { count } = divisions[p]!;
	const list = [numbering.junction[start]!];
	for (let k = 0; k < count - 1; k++) list.push(numbering.piece[p]! + k);
	list.push(numbering.junction[end]!);
	return h & 1 ? list.reverse() : list;
}

/** A region's boundary in local numbers, ready for a fill. */
export interface RegionBoundary {
	input: FillInput;
	/** The half-piece of each edge. */
	halves: Uint32Array;
	/** Global node of each local one. */
	global: Uint32Array;
	/** For each walk and half-piece, its local nodes, both ends included. */
	along: Map<number, Uint32Array>;
}

/** Gathers the nodes and directed edges around a region. */
export function gatherBoundary(
	region: Region,
	arrangement: Arrangement,
	divisions: readonly Division[],
	numbering: BoundaryNumbering
): RegionBoundary {
	const local = new Map<number, number>();
	const global: number[] = [];
	const x: number[] = [];
	const y: number[] = [];
	const edges: number[] = [];
	const halves: number[] = [];
	const along = new Map<number, Uint32Array>();
	for (const walk of walksOf(arrangement, region))
		for (const h of walk) {
			const division = divisions[h >> 1]!;
			const n = division.count;
			const nodes = nodesAlong(h, arrangement, divisions, numbering).map((g, k) => {
				let i = local.get(g);
				if (i === undefined) {
					i = global.length;
					local.set(g, i);
					global.push(g);
					const at = h & 1 ? n - k : k;
					x.push(division.x[at]!);
					y.push(division.y[at]!);
				}
				return i;
			});
			along.set(h, Uint32Array.from(nodes));
			for (let k = 0; k < n; k++) {
				edges.push(nodes[k]!, nodes[k + 1]!);
				halves.push(h);
			}
		}
	for (const point of arrangement.isolated) {
		const node = numbering.junction[point.junction]!;
		if (point.face !== region.face || node < 0) continue;
		global.push(node);
		x.push(arrangement.x[point.junction]!);
		y.push(arrangement.y[point.junction]!);
	}
	return {
		input: { x: Float64Array.from(x), y: Float64Array.from(y), edges: Uint32Array.from(edges) },
		halves: Uint32Array.from(halves),
		global: Uint32Array.from(global),
		along
	};
}
