import { cos, sin } from '../../numeric/elementary.ts';
import { lengthened } from '../../numeric/lengthened.ts';
import { turn } from '../../numeric/predicates.ts';
import type { Work } from '../../numeric/work.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { type CrossField, nearestDirection } from '../cross-field/cross-field.ts';
import { OFFSET } from '../triangles/constrained.ts';
import { type Location, next, previous, type Triangulation } from '../triangles/triangulation.ts';

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
	const before = mesh.triangleCount;
	const slope = rule.growth - 1;
	let sizes = nodeSize;
	let source = new Int32Array(sizes.length);
	/** The triangle of the field at each vertex. */
	let hint = new Int32Array(sizes.length);
	for (const v of starts) hint[v] = crosses.beside(v - OFFSET);
	for (let v = 0; v < mesh.vertexCount; v++) source[v] = v;
	/** Which search saw a triangle last. */
	let seen = new Int32Array(mesh.twin.length / 3);
	let search = 0;
	const stack: number[] = [];

	const wanted = (px: number, py: number, from: number): number => {
		const [dx, dy] = [mesh.x[from]! - px, mesh.y[from]! - py];
		const grown = Math.min(rule.size, sizes[from]! + slope * Math.sqrt(dx * dx + dy * dy));
		return rule.field ? Math.min(grown, rule.field.at(px, py)) : grown;
	};

	/** Whether no node and no given edge is near a place in a triangle; tells the vertex from which the size there grows. */
	const isFree = (px: number, py: number, h: number, angle: number, triangle: number): boolean => {
		const { x, y, from, twin, fixed } = mesh;
		const [c, s] = [cos(angle), sin(angle)];
		const reach = leastDistance * h;
		search++;
		stack.length = 0;
		stack.push(triangle);
		seen[triangle] = search;
		while (stack.length > 0) {
			const t = stack.pop()!;
			for (let e = 3 * t; e < 3 * t + 3; e++) {
				const a = from[e]!;
				const [ax, ay] = [x[a]! - px, y[a]! - py];
				if (Math.max(Math.abs(c * ax + s * ay), Math.abs(c * ay - s * ax)) < reach) return false;
				const b = from[next(e)]!;
				const [ex, ey] = [x[b]! - x[a]!, y[b]! - y[a]!];
				const along = Math.min(1, Math.max(0, -(ax * ex + ay * ey) / (ex * ex + ey * ey)));
				const [qx, qy] = [ax + along * ex, ay + along * ey];
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
	};

	/** The edge to walk from, from a vertex toward a place: the triangle at the vertex that opens toward it. */
	const toward = (v: number, px: number, py: number): number => {
		const { x, y, from, twin, outgoing } = mesh;
		const first = outgoing[v]!;
		let e = first;
		do {
			const [b, c] = [from[next(e)]!, from[previous(e)]!];
			if (
				turn(x[v]!, y[v]!, x[b]!, y[b]!, px, py) >= 0 &&
				turn(x[v]!, y[v]!, x[c]!, y[c]!, px, py) < 0 &&
				turn(x[v]!, y[v]!, x[b]!, y[b]!, x[c]!, y[c]!) > 0
			)
				return e;
			e = twin[previous(e)]!;
		} while (e >= 0 && e !== first);
		return -1;
	};
	/** Whether a neighbour of a vertex stands where a node would go: then there is no need to look around. */
	const isTaken = (v: number, px: number, py: number, radius: number): boolean => {
		const { x, y, from, twin, outgoing } = mesh;
		const first = outgoing[v]!;
		let e = first;
		do {
			const w = from[next(e)]!;
			const [dx, dy] = [x[w]! - px, y[w]! - py];
			if (dx * dx + dy * dy < radius * radius) return true;
			e = twin[previous(e)]!;
		} while (e >= 0 && e !== first);
		return false;
	};
	const isIn = (t: number) => t >= before || inside[t] === 1;
	/** Where a place lies that can be seen from a vertex, within the region and on no node or given edge. */
	const findFrom = (v: number, px: number, py: number): Location | undefined => {
		const start = toward(v, px, py);
		if (start < 0 || !isIn((start / 3) | 0)) return undefined;
		const found = mesh.walk(px, py, start);
		return !found || found.vertex >= 0 || (found.onEdge && mesh.fixed[found.edge] === 1) ? undefined : found;
	};

	let queue = new Int32Array(Math.max(1024, 2 * starts.length));
	queue.set(starts);
	let [head, tail] = [0, starts.length];
	let added = 0;
	/** Makes a node; rows will start from it. */
	const put = (px: number, py: number, found: Location, own: { size: number; source: number; hint: number }): void => {
		const w = mesh.insertAt(px, py, found);
		added++;
		if (mesh.x.length > sizes.length) {
			sizes = lengthened(sizes, mesh.x.length);
			source = lengthened(source, mesh.x.length);
			hint = lengthened(hint, mesh.x.length);
			seen = lengthened(seen, mesh.twin.length / 3);
		}
		if (tail === queue.length) queue = lengthened(queue, 2 * queue.length);
		sizes[w] = own.size;
		source[w] = own.source;
		hint[w] = own.hint;
		queue[tail++] = w;
	};

	// Phase 1: in corners that hold one quadrilateral, its fourth node.
	for (let k = 0; k < corners.length; k += 3) {
		const [a, v, b] = [corners[k]!, corners[k + 1]!, corners[k + 2]!];
		const { x, y } = mesh;
		const [px, py] = [x[a]! + x[b]! - x[v]!, y[a]! + y[b]! - y[v]!];
		const found = findFrom(v, px, py);
		if (!found) continue;
		const h = wanted(px, py, source[v]!);
		const base = found.edge - (found.edge % 3);
		if (!isFree(px, py, 0.8 * h, crosses.at(px, py, hint[v]), (base / 3) | 0)) continue;
		put(px, py, found, { size: h, source: source[v]!, hint: crosses.triangle });
	}

	// Phase 2: rows.
	while (head < tail && added < limit) {
		const v = queue[head++]!;
		const [vx, vy] = [mesh.x[v]!, mesh.y[v]!];
		const h0 = Math.min(rule.size, sizes[v]!);
		const angle0 = crosses.at(vx, vy, hint[v]);
		hint[v] = crosses.triangle;
		const [c0, s0] = [cos(angle0), sin(angle0)];
		for (let k = 0; k < 4; k++) {
			const [dx, dy] = k === 0 ? [c0, s0] : k === 1 ? [-s0, c0] : k === 2 ? [-c0, -s0] : [s0, -c0];
			if (isTaken(v, vx + h0 * dx, vy + h0 * dy, takenWithin * h0)) continue;
			// The way follows the field, and is as long as the sizes at its two ends are on the mean.
			const h1 = wanted(vx + h0 * dx, vy + h0 * dy, source[v]!);
			const way = (h0 + h1) / 2;
			const middle = crosses.at(vx + (way / 2) * dx, vy + (way / 2) * dy, hint[v]);
			const d = nearestDirection(middle, dx, dy);
			const [px, py] = [vx + way * d.x, vy + way * d.y];
			const found = findFrom(v, px, py);
			if (!found) continue;
			const angle = crosses.at(px, py, hint[v]);
			const place = crosses.triangle;
			// Of the sources around, the one that asks for least.
			let nearest = source[v]!;
			let h = wanted(px, py, nearest);
			const base = found.edge - (found.edge % 3);
			for (let e = base; e < base + 3; e++) {
				const other = source[mesh.from[e]!]!;
				const own = wanted(px, py, other);
				if (own < h) [h, nearest] = [own, other];
			}
			if (!isFree(px, py, h, angle, (base / 3) | 0)) continue;
			put(px, py, found, { size: h, source: nearest, hint: place });
		}
		if ((head & 0x1ff) === 0) yield Math.min(0.99, added / expected);
	}
	const region = new Uint8Array(mesh.triangleCount).fill(1, before);
	region.set(inside.subarray(0, before));
	return { inside: region, sizes };
}
