import { resolvePieces } from '../domain/references.ts';
import { boxOf, flatten } from '../geometry/parts.ts';
import { distanceToSegment } from '../geometry/segments.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { Report } from '../findings/report.ts';
import type { CurveReference } from '../recipe/language/syntax.ts';
import type { Model } from '../recipe/model/model.ts';
import type { Region } from '../domain/regions.ts';

/** The nodes along a piece, from its start to its end. */
export interface NodesAlong {
	/** Fractions of the piece's length; the first is 0 and the last 1 where all of it is meshed. */
	at: Float64Array;
	nodes: Uint32Array;
}

/** An element, and which of its corners: triangles have numbers below {@link MeshView.triangleCount}, quadrilaterals follow. */
export interface Corner {
	element: number;
	corner: number;
}

/** What is looked at: a mesh, and the drawing and the names that its recipe gives. */
export interface MeshWithDrawing {
	model: Model;
	arrangement: Arrangement;
	regions: readonly Region[];
	mesh: Mesh;
}

/**
 * A finished mesh as promises are measured on it: from its arrays alone, and from the drawing and the names of the recipe. Nothing
 * that made the mesh, divisions, layouts or stacks, is known here.
 */
export class MeshView {
	readonly model: Model;
	readonly arrangement: Arrangement;
	readonly mesh: Mesh;
	readonly regions: readonly Region[];
	readonly triangleCount: number;
	private edgesOf: number[][] | undefined;
	private readonly nodesOf = new Map<number, NodesAlong | undefined>();
	/** By the list of references: what one statement asks of several things is looked up once. */
	private readonly resolved = new Map<readonly CurveReference[], readonly number[]>();
	/** The regions by their face. */
	private readonly byFace: ReadonlyMap<number, Region>;
	/** For each of {@link Mesh.regions} the region of the recipe. */
	private readonly meshed: readonly (Region | undefined)[];
	private counts: RegionElements[] | undefined;
	private quadsAround: Around | undefined;
	private trianglesAround: Around | undefined;
	private readonly silent = new Report([]);

	constructor({ model, arrangement, regions, mesh }: MeshWithDrawing) {
		this.model = model;
		this.arrangement = arrangement;
		this.regions = regions;
		this.mesh = mesh;
		this.triangleCount = mesh.triangles.length / 3;
		this.byFace = new Map(regions.map((r) => [r.face, r]));
		const byName = new Map(regions.map((r) => [r.name, r]));
		this.meshed = mesh.regions.map((name) => byName.get(name));
	}

	get elementCount(): number {
		return this.triangleCount + this.mesh.quads.length / 4;
	}

	/** The pieces that references stand for, each once; what stands for none is left out. */
	piecesOf(references: readonly CurveReference[]): readonly number[] {
		const known = this.resolved.get(references);
		if (known) return known;
		const { model, arrangement, regions, silent } = this;
		const found = [...new Set(resolvePieces(model, arrangement, references, silent, regions).map(({ piece }) => piece))];
		this.resolved.set(references, found);
		return found;
	}

	/** The edges on a piece, as numbers of {@link Mesh.edges}. */
	edgesOn(piece: number): readonly number[] {
		if (!this.edgesOf) {
			this.edgesOf = this.arrangement.pieces.map(() => []);
			const { edgePiece } = this.mesh;
			for (let e = 0; e < edgePiece.length; e++) this.edgesOf[edgePiece[e]!]!.push(e);
		}
		return this.edgesOf[piece]!;
	}

	/** The nodes along a piece; undefined where it has no edge. */
	nodesAlong(piece: number): NodesAlong | undefined {
		if (this.nodesOf.has(piece)) return this.nodesOf.get(piece);
		const { edges, edgeSide, edgeStretch } = this.mesh;
		const all = this.edgesOn(piece);
		// A piece between two regions has its edges twice, a two-sided wall with nodes of its own.
		const side = all.length > 0 ? edgeSide[all[0]!]! : 0;
		const places = new Map<number, number>();
		for (const e of all) {
			if (edgeSide[e] !== side) continue;
			for (const k of [2 * e, 2 * e + 1]) places.set(edgeStretch[k]!, edges[k]!);
		}
		const order = [...places].sort(([a], [b]) => a - b);
		const found =
			order.length < 2 ? undefined : { at: Float64Array.from(order, ([t]) => t), nodes: Uint32Array.from(order, ([, n]) => n) };
		this.nodesOf.set(piece, found);
		return found;
	}

	/** A piece as a polyline of flat x, y pairs, off by this share of the drawing at most. */
	lineOf(piece: number, off = 1e-7): Float64Array {
		const { pieces, diagonal } = this.arrangement;
		return flatten(pieces[piece]!, off * diagonal);
	}

	/** How far places are from the nearest of some pieces, to a tenth of a `unit`; those farther than `most` from the boxes around them are infinitely far. */
	distanceTo(pieces: readonly number[], most: number, unit: number): (x: number, y: number) => number {
		const off = Math.max(1e-7, Math.min(1e-3, (0.1 * unit) / this.arrangement.diagonal));
		const lines = pieces.map((p) => {
			const line = this.lineOf(p, off);
			return { line, box: boxOf(line) };
		});
		return (x, y) => {
			let least = Infinity;
			for (const { line, box } of lines) {
				const [left, low, right, high] = box;
				if (x < left - most || x > right + most || y < low - most || y > high + most) continue;
				least = Math.min(least, distanceToLine(line, x, y));
			}
			return least;
		};
	}

	/** The region of an element, as an index of {@link Mesh.regions}. */
	regionOf(element: number): number {
		const { triangleRegion, quadRegion } = this.mesh;
		return element < this.triangleCount ? triangleRegion[element]! : quadRegion[element - this.triangleCount]!;
	}

	/** How many corners an element has. */
	cornersAt = (element: number): 3 | 4 => (element < this.triangleCount ? 3 : 4);

	/** A corner node of an element, counter-clockwise from 0. */
	cornerNode(element: number, k: number): number {
		const { triangles, quads } = this.mesh;
		const t = this.triangleCount;
		return element < t ? triangles[3 * element + (k % 3)]! : quads[4 * (element - t) + (k & 3)]!;
	}

	/** The quadrilateral that has an edge on its boundary in this direction, and the corner at the edge's first node; undefined for none. */
	quadAt(a: number, b: number): Corner | undefined {
		const { quads } = this.mesh;
		const { first, elements } = (this.quadsAround ??= around(this.mesh.x.length, quads, 4));
		for (let k = first[a]!; k < first[a + 1]!; k++) {
			const q = 4 * elements[k]!;
			for (let corner = 0; corner < 4; corner++)
				if (quads[q + corner] === a && quads[q + ((corner + 1) & 3)] === b)
					return { element: this.triangleCount + elements[k]!, corner };
		}
		return undefined;
	}

	/** The triangle that has an edge on its boundary in this direction. */
	triangleAt(a: number, b: number): Corner | undefined {
		const { triangles } = this.mesh;
		const { first, elements } = (this.trianglesAround ??= around(this.mesh.x.length, triangles, 3));
		for (let k = first[a]!; k < first[a + 1]!; k++) {
			const t = 3 * elements[k]!;
			for (let corner = 0; corner < 3; corner++)
				if (triangles[t + corner] === a && triangles[t + ((corner + 1) % 3)] === b) return { element: elements[k]!, corner };
		}
		return undefined;
	}

	/** The length of the sides of an equilateral triangle, or a square, of an element's area. */
	localSize(element: number): number {
		const { x, y } = this.mesh;
		const corners = this.cornersAt(element);
		const a = this.cornerNode(element, 0);
		let twice = 0;
		for (let k = 1; k + 1 < corners; k++) {
			const [b, c] = [this.cornerNode(element, k), this.cornerNode(element, k + 1)];
			twice += (x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!);
		}
		return Math.sqrt(corners === 3 ? (2 * twice) / Math.sqrt(3) : twice / 2);
	}

	/** The middle of an element. */
	middleOf(element: number): { x: number; y: number } {
		const { x, y } = this.mesh;
		const corners = this.cornersAt(element);
		let [mx, my] = [0, 0];
		for (let k = 0; k < corners; k++) {
			const n = this.cornerNode(element, k);
			mx += x[n]! / corners;
			my += y[n]! / corners;
		}
		return { x: mx, y: my };
	}

	/** The region on a side of a piece, `2 p` to the left of piece p, `2 p + 1` to its right; undefined for none. */
	regionBeside = (side: number): Region | undefined => this.byFace.get(this.arrangement.sides[side]!);

	/** How many elements of each shape every region has, by index of {@link Mesh.regions}. */
	elementsOf(region: number): RegionElements {
		if (!this.counts) {
			this.counts = this.meshed.map(() => ({ triangles: 0, quads: 0, firstTriangle: -1, firstQuad: -1 }));
			const { triangleRegion, quadRegion } = this.mesh;
			for (let e = triangleRegion.length - 1; e >= 0; e--) {
				const counted = this.counts[triangleRegion[e]!]!;
				counted.triangles++;
				counted.firstTriangle = e;
			}
			for (let e = quadRegion.length - 1; e >= 0; e--) {
				const counted = this.counts[quadRegion[e]!]!;
				counted.quads++;
				counted.firstQuad = this.triangleCount + e;
			}
		}
		return this.counts[region]!;
	}

	/** Whether the cells of a region, by index of {@link Mesh.regions}, are cut into triangles with a right angle. */
	isHalved = (region: number): boolean => this.meshed[region]?.halved === true;

	/** The names of the region statements, by index of {@link Mesh.regions}: `water` of `water[2]`. */
	statementOf(region: number): string {
		return this.meshed[region]?.statement ?? this.mesh.regions[region]!;
	}
}

/** The elements of a region: how many of each shape, and the first of each, −1 for none. */
interface RegionElements {
	triangles: number;
	quads: number;
	firstTriangle: number;
	firstQuad: number;
}

/** Which elements meet at each node: those of node n stand from `first[n]` to before `first[n + 1]`. */
interface Around {
	first: Uint32Array;
	elements: Uint32Array;
}

function around(nodes: number, corners: Uint32Array, size: 3 | 4): Around {
	const first = new Uint32Array(nodes + 1);
	for (let k = 0; k < corners.length; k++) first[corners[k]! + 1]!++;
	for (let n = 0; n < nodes; n++) first[n + 1]! += first[n]!;
	const next = first.slice(0, -1);
	const elements = new Uint32Array(corners.length);
	for (let e = 0; size * e < corners.length; e++) for (let k = 0; k < size; k++) elements[next[corners[size * e + k]!]!++] = e;
	return { first, elements };
}

/** How far a place is from a polyline of flat x, y pairs. */
export function distanceToLine(line: Float64Array, x: number, y: number): number {
	let least = Infinity;
	for (let k = 0; k + 3 < line.length; k += 2)
		least = Math.min(least, distanceToSegment(x, y, line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!));
	return least;
}
