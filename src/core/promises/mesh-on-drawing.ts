import { hypot } from '../numeric/elementary.ts';
import Flatbush from 'flatbush';
import { lengthAt } from '../geometry/curve.ts';
import { nearestOnCurve } from '../geometry/meet.ts';
import { partBox } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { type Mesh, type MeshElements, type MeshGroup } from '../mesh/mesh.ts';

/** Elements and regions that were read from a file, in recipe units. */
export interface ReadMesh extends MeshElements {
	regions: string[];
}

/** A node is on a piece when it is no farther from it than this share of the drawing's diagonal. */
const onPiece = 1e-7;

/**
 * A mesh that was read, laid on the drawing of a recipe: which edges of its elements lie on which piece, on which side, and over which
 * stretch. Nothing but the places of its nodes says so.
 */
export function meshOnDrawing(read: ReadMesh, arrangement: Arrangement, groups: MeshGroup[]): Mesh {
	const { pieces, diagonal } = arrangement;
	const near = onPiece * diagonal;
	const boxes = new Flatbush(Math.max(1, pieces.length));
	for (const piece of pieces) {
		const [minX, minY, maxX, maxY] = partBox(piece);
		boxes.add(minX - near, minY - near, maxX + near, maxY + near);
	}
	if (pieces.length === 0) boxes.add(0, 0, 0, 0);
	boxes.finish();
	/** For each node the pieces that it lies on, with the fractions of their length; a closed piece has its junction at both ends. */
	const places = new Map<number, Map<number, number[]>>();
	const placesOf = (n: number): Map<number, number[]> => {
		const known = places.get(n);
		if (known) return known;
		const [x, y] = [read.x[n]!, read.y[n]!];
		const found = new Map<number, number[]>();
		for (const p of pieces.length === 0 ? [] : boxes.search(x, y, x, y)) {
			const at = fractionsAt(arrangement, p, x, y, near);
			if (at.length > 0) found.set(p, at);
		}
		places.set(n, found);
		return found;
	};
	const edges: number[] = [];
	const edgePiece: number[] = [];
	const edgeSide: number[] = [];
	const edgeStretch: number[] = [];
	const take = (a: number, b: number) => {
		const [here, there] = [placesOf(a), placesOf(b)];
		for (const [p, from] of here) {
			const to = there.get(p);
			if (!to) continue;
			const [s, t] = nearestPair(from, to);
			// A chord between two nodes that are no neighbours on the piece is none of its edges.
			if (s === t || !isAlong(arrangement, p, s, t, hypot(read.x[b]! - read.x[a]!, read.y[b]! - read.y[a]!))) continue;
			edges.push(a, b);
			edgePiece.push(p);
			edgeSide.push(s < t ? 0 : 1);
			edgeStretch.push(s, t);
			return;
		}
	};
	for (const [nodes, size] of [
		[read.triangles, 3],
		[read.quads, 4]
	] as const)
		for (let k = 0; k < nodes.length; k += size) for (let i = 0; i < size; i++) take(nodes[k + i]!, nodes[k + ((i + 1) % size)]!);
	return {
		...read,
		edges: Uint32Array.from(edges),
		edgePiece: Uint32Array.from(edgePiece),
		edgeSide: Uint8Array.from(edgeSide),
		edgeStretch: Float64Array.from(edgeStretch),
		groups
	};
}

/** Where on a piece a place is, as fractions of its length. */
function fractionsAt({ pieces, x: jx, y: jy }: Arrangement, p: number, x: number, y: number, near: number): number[] {
	const { curve, t0, t1, start, end, length } = pieces[p]!;
	const at = [
		...(hypot(jx[start]! - x, jy[start]! - y) <= near ? [0] : []),
		...(hypot(jx[end]! - x, jy[end]! - y) <= near ? [1] : [])
	];
	if (at.length > 0) return at;
	const { t, distance } = nearestOnCurve(curve, { x, y });
	if (distance > near) return [];
	const whole = curve.lengths.at(-1)!;
	let along = lengthAt(curve, t) - lengthAt(curve, t0);
	// A piece may go on past the start of its closed curve.
	if (along < 0 && t1 > curve.kinds.length) along += whole;
	const fraction = along / length;
	return fraction >= 0 && fraction <= 1 ? [fraction] : [];
}

/** The two fractions, one of each list, that are nearest to one another, but not the same. */
function nearestPair(from: readonly number[], to: readonly number[]): [number, number] {
	let best: [number, number] = [from[0]!, to[0]!];
	for (const s of from)
		for (const t of to) if (s !== t && (best[0] === best[1] || Math.abs(s - t) < Math.abs(best[0] - best[1]))) best = [s, t];
	return best;
}

/** Whether an edge follows its piece from one fraction to another: it is no more than a quarter turn shorter than the way along. */
const isAlong = ({ pieces }: Arrangement, p: number, s: number, t: number, chord: number): boolean =>
	Math.abs(s - t) * pieces[p]!.length <= chord * (Math.PI / 2) * 1.001;
