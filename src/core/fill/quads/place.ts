import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { cos, sin } from '../../numeric/elementary.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import { turn } from '../../numeric/predicates.ts';
import type { Work } from '../../numeric/work.ts';
import { sizeOrField, type SizeRule } from '../../sizing/size-rule.ts';
import { type CrossField, nearestDirection } from '../cross-field/cross-field.ts';
import { OFFSET } from '../triangles/constrained.ts';
import { type Location, next, previous, Triangulation } from '../triangles/triangulation.ts';

/** A new node stays so far, in wanted sizes along the directions of the field, from every other … */
const leastDistance = 0.7;
/** … and so far from every given edge. */
const leastHeight = 0.55;
/** A node so near to a place, in sizes, stands in the way of it however the field turns and sizes change there. */
const takenWithin = 0.3;

/**
 * Nodes in rows along the crosses of a field: every node, from the given ones on, oldest first, wants one neighbour at the wanted
 * distance in each of the four directions, where none stands within about that distance in the maximum norm of the cross
 * (J.-F. Remacle et al., Int. J. Num. Meth. Eng. 94 (2013), section 4). The wanted size is that of the triangle fill: the smallest
 * of the sizes of the given nodes, each grown by `growth − 1` times the way from it, of the field of sizes, and of `size`.
 *
 * @param inside 1 for each triangle of the region
 * @param nodeSize wanted size at each vertex present, by vertex number
 * @param starts the vertices from which rows start, in order
 * @param corners corners that hold one quadrilateral: the vertex before, the vertex, the one after, three numbers each
 * @param limit the most nodes that may be added
 * @param expected about how many will be
 * @returns 1 for each triangle of the region, as they are now
 */
export function* placeInRows(
	mesh: Triangulation,
	inside: Uint8Array,
	nodeSize: Float64Array,
	starts: Int32Array,
	corners: readonly number[],
	rule: SizeRule,
	crosses: CrossField,
	limit: number,
	expected: number
): Work<{ inside: Uint8Array; sizes: Float64Array }> {
	const rows = new Rows(mesh, inside, nodeSize, starts, rule, crosses);
	// Phase 1: in corners that hold one quadrilateral, its fourth node.
	for (let k = 0; k < corners.length; k += 3) rows.putFourth(corners[k]!, corners[k + 1]!, corners[k + 2]!);
	// Phase 2: rows.
	while (!rows.isDone && rows.added < limit) {
		rows.goOn(limit);
		yield Math.min(0.99, rows.added / expected);
	}
	return { inside: rows.inside(), sizes: rows.sizes };
}

/** Nodes that start rows between two yields. */
const chunkSize = 0x200;

/** Nodes in rows, and what is known of them while they become more. */
class Rows {
	/** Triangles below this number are told by `given` whether they lie inside; the others do. */
	private readonly before: number;
	private readonly slope: number;
	private readonly size: number;
	private readonly field: SizeRule['field'];
	/** The given vertex that the size at each vertex grows from. */
	private source: Int32Array;
	/** The triangle of the field at each vertex. */
	private hint: Int32Array;
	/** Which search saw a triangle last. */
	private seen: Int32Array;
	private search = 0;
	private readonly stack: number[] = [];
	private queue: Int32Array;
	private head = 0;
	private tail: number;
	added = 0;

	constructor(
		private readonly mesh: Triangulation,
		private readonly given: Uint8Array,
		public sizes: Float64Array,
		starts: Int32Array,
		{ size, growth, field }: SizeRule,
		private readonly crosses: CrossField
	) {
		this.before = mesh.triangleCount;
		[this.size, this.slope, this.field] = [size, growth - 1, field];
		this.source = new Int32Array(sizes.length);
		for (let v = 0; v < mesh.vertexCount; v++) this.source[v] = v;
		this.hint = new Int32Array(sizes.length);
		for (const v of starts) this.hint[v] = crosses.beside(v - OFFSET);
		this.seen = new Int32Array(mesh.twin.length / 3);
		this.queue = new Int32Array(Math.max(1024, 2 * starts.length));
		this.queue.set(starts);
		this.tail = starts.length;
	}

	get isDone(): boolean {
		return this.head === this.tail;
	}

	/** 1 for each triangle of the region, as they are now. */
	inside(): Uint8Array {
		const region = new Uint8Array(this.mesh.triangleCount).fill(1, this.before);
		region.set(this.given.subarray(0, this.before));
		return region;
	}

	/** Starts rows from some nodes more, while there are fewer than so many. */
	goOn(limit: number): void {
		for (let visited = 0; visited < chunkSize && this.head < this.tail && this.added < limit; visited++)
			this.startRows(this.queue[this.head++]!);
	}

	/** Puts the fourth node of the quadrilateral that a corner holds. */
	putFourth(a: number, v: number, b: number): void {
		const { mesh, crosses, source } = this;
		const { x, y } = mesh;
		const px = x[a]! + x[b]! - x[v]!;
		const py = y[a]! + y[b]! - y[v]!;
		const found = this.findFrom(v, px, py);
		if (!found) return;
		const h = this.wanted(px, py, source[v]!);
		const triangle = (found.edge / 3) | 0;
		if (this.isFree(px, py, 0.8 * h, crosses.at(px, py, this.hint[v]), triangle))
			this.put(px, py, found, h, source[v]!, crosses.triangle);
	}

	/** Puts the neighbours that a node wants and has room for. */
	private startRows(v: number): void {
		const { mesh, crosses } = this;
		const vx = mesh.x[v]!;
		const vy = mesh.y[v]!;
		const h = Math.min(this.size, this.sizes[v]!);
		const angle = crosses.at(vx, vy, this.hint[v]);
		this.hint[v] = crosses.triangle;
		const c = cos(angle);
		const s = sin(angle);
		this.startRow(v, h, c, s);
		this.startRow(v, h, -s, c);
		this.startRow(v, h, -c, -s);
		this.startRow(v, h, s, -c);
	}

	/** The same in one direction. */
	private startRow(v: number, h0: number, dx: number, dy: number): void {
		const { mesh, crosses } = this;
		const vx = mesh.x[v]!;
		const vy = mesh.y[v]!;
		if (this.isTaken(v, vx + h0 * dx, vy + h0 * dy, takenWithin * h0)) return;
		// The way follows the field, and is as long as the sizes at its two ends are on the mean.
		const h1 = this.wanted(vx + h0 * dx, vy + h0 * dy, this.source[v]!);
		const way = (h0 + h1) / 2;
		const middle = crosses.at(vx + (way / 2) * dx, vy + (way / 2) * dy, this.hint[v]);
		const d = nearestDirection(middle, dx, dy);
		const px = vx + way * d.x;
		const py = vy + way * d.y;
		const found = this.findFrom(v, px, py);
		if (!found) return;
		const angle = crosses.at(px, py, this.hint[v]);
		const place = crosses.triangle;
		// Of the sources around, the one that asks for least.
		let nearest = this.source[v]!;
		let h = this.wanted(px, py, nearest);
		const base = found.edge - (found.edge % 3);
		for (let e = base; e < base + 3; e++) {
			const other = this.source[mesh.from[e]!]!;
			const size = this.wanted(px, py, other);
			if (size < h) {
				h = size;
				nearest = other;
			}
		}
		if (this.isFree(px, py, h, angle, (base / 3) | 0)) this.put(px, py, found, h, nearest, place);
	}

	/** Makes a node; rows will start from it. */
	private put(px: number, py: number, found: Location, size: number, source: number, hint: number): void {
		const { mesh } = this;
		const w = mesh.insertAt(px, py, found);
		this.added++;
		if (mesh.x.length > this.sizes.length) {
			this.sizes = lengthened(this.sizes, mesh.x.length);
			this.source = lengthened(this.source, mesh.x.length);
			this.hint = lengthened(this.hint, mesh.x.length);
			this.seen = lengthened(this.seen, mesh.twin.length / 3);
		}
		if (this.tail === this.queue.length) this.queue = lengthened(this.queue, 2 * this.queue.length);
		this.sizes[w] = size;
		this.source[w] = source;
		this.hint[w] = hint;
		this.queue[this.tail++] = w;
	}

	/** The size that is wanted at a place, as it grows from a given vertex. */
	private wanted(px: number, py: number, from: number): number {
		const dx = this.mesh.x[from]! - px;
		const dy = this.mesh.y[from]! - py;
		const grown = Math.min(this.size, this.sizes[from]! + this.slope * Math.sqrt(dx * dx + dy * dy));
		return sizeOrField(grown, this.field, px, py);
	}

	/** Whether no node and no given edge is near a place in a triangle. */
	private isFree(px: number, py: number, h: number, angle: number, triangle: number): boolean {
		const { seen, stack } = this;
		const { x, y, from, twin, fixed } = this.mesh;
		const c = cos(angle);
		const s = sin(angle);
		const reach = leastDistance * h;
		const search = ++this.search;
		stack.length = 0;
		stack.push(triangle);
		seen[triangle] = search;
		while (stack.length > 0) {
			const t = stack.pop()!;
			for (let e = 3 * t; e < 3 * t + 3; e++) {
				const a = from[e]!;
				const ax = x[a]! - px;
				const ay = y[a]! - py;
				if (Math.max(Math.abs(c * ax + s * ay), Math.abs(c * ay - s * ax)) < reach) return false;
				const b = from[next(e)]!;
				const ex = x[b]! - x[a]!;
				const ey = y[b]! - y[a]!;
				const along = Math.min(1, Math.max(0, -(ax * ex + ay * ey) / (ex * ex + ey * ey)));
				const qx = ax + along * ex;
				const qy = ay + along * ey;
				const square = qx * qx + qy * qy;
				if (fixed[e]) {
					if (square < leastHeight * leastHeight * h * h) return false;
					continue;
				}
				const other = (twin[e]! / 3) | 0;
				// Beyond an edge that is farther than any place of the box there is nothing near.
				if (square < 2 * reach * reach && seen[other] !== search) {
					seen[other] = search;
					stack.push(other);
				}
			}
		}
		return true;
	}

	/** The edge to walk from, from a vertex toward a place: the triangle at the vertex that opens toward it. */
	private toward(v: number, px: number, py: number): number {
		const { x, y, from, twin, outgoing } = this.mesh;
		const first = outgoing[v]!;
		let e = first;
		do {
			const b = from[next(e)]!;
			const c = from[previous(e)]!;
			if (
				turn(x[v]!, y[v]!, x[b]!, y[b]!, px, py) >= 0 &&
				turn(x[v]!, y[v]!, x[c]!, y[c]!, px, py) < 0 &&
				turn(x[v]!, y[v]!, x[b]!, y[b]!, x[c]!, y[c]!) > 0
			)
				return e;
			e = twin[previous(e)]!;
		} while (e >= 0 && e !== first);
		return -1;
	}

	/** Whether a neighbour of a vertex stands where a node would go: then there is no need to look around. */
	private isTaken(v: number, px: number, py: number, radius: number): boolean {
		const { x, y, from, twin, outgoing } = this.mesh;
		const first = outgoing[v]!;
		let e = first;
		do {
			const w = from[next(e)]!;
			const dx = x[w]! - px;
			const dy = y[w]! - py;
			if (dx * dx + dy * dy < radius * radius) return true;
			e = twin[previous(e)]!;
		} while (e >= 0 && e !== first);
		return false;
	}

	/** Where a place lies that can be seen from a vertex, within the region and on no node or given edge. */
	private findFrom(v: number, px: number, py: number): Location | undefined {
		const start = this.toward(v, px, py);
		if (start < 0) return undefined;
		const triangle = (start / 3) | 0;
		if (triangle < this.before && this.given[triangle] !== 1) return undefined;
		const found = this.mesh.walk(px, py, start);
		return !found || found.vertex >= 0 || (found.onEdge && this.mesh.fixed[found.edge] === 1) ? undefined : found;
	}
}

keepHiddenClass(
	new Rows(
		new Triangulation([0, 0, 1, 1], 1),
		new Uint8Array(2),
		new Float64Array(5),
		new Int32Array(),
		{ size: 0.5, growth: 1.2 },
		{ at: () => 0, triangle: 0, beside: () => 0, singular: [] }
	)
);
