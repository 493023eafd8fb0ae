import { atan2, hypot } from '../core/numeric/elementary.ts';
import type { SecondOrder } from '../core/assembly/second-order.ts';
import type { Result } from '../core/pipeline.ts';

/**
 * Looks at a mesh of triangles and quadrilaterals from outside: with nothing of what made it, only its arrays.
 *
 * @param rule size and growth that were asked for everywhere; without, elements are not counted
 * @returns what is wrong with it, a sentence each
 */
export function wrongInMesh({ mesh, regions, arrangement, unfilled }: Result, rule?: { size: number; growth: number }): string[] {
	const wrong: string[] = [];
	const { x, y, triangles, quads, edges, edgePiece, edgeSide } = mesh;
	const count = x.length;
	if (![x, y].every((list) => list.every(Number.isFinite))) return ['a coordinate is not finite'];
	let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
	for (let k = 0; k < count; k++) {
		[minX, maxX] = [Math.min(minX, x[k]!), Math.max(maxX, x[k]!)];
		[minY, maxY] = [Math.min(minY, y[k]!), Math.max(maxY, y[k]!)];
	}
	const extent = Math.max(maxX - minX, maxY - minY);

	// Every element is positive, and every side of one is the other way around a side of another, or an edge of the boundary.
	const sides = new Map<number, number>();
	const elements = [
		...Array.from({ length: triangles.length / 3 }, (_, k) => [...triangles.subarray(3 * k, 3 * k + 3)]),
		...Array.from({ length: quads.length / 4 }, (_, k) => [...quads.subarray(4 * k, 4 * k + 4)])
	];
	const regionOf = [...mesh.triangleRegion, ...mesh.quadRegion];
	const areas = regions.map(() => 0);
	let [flat, doubled] = [0, 0];
	/** Seen from its first node: far from the origin the products of coordinates round away what small elements have. */
	const shoelace = ([first, ...nodes]: readonly number[]) => {
		let twice = 0;
		for (let k = 0; k + 1 < nodes.length; k++) {
			const [a, b] = [nodes[k]!, nodes[k + 1]!];
			twice += (x[a]! - x[first!]!) * (y[b]! - y[first!]!) - (x[b]! - x[first!]!) * (y[a]! - y[first!]!);
		}
		return twice / 2;
	};
	elements.forEach((nodes, e) => {
		const area = shoelace(nodes);
		if (!(area > 0)) flat++;
		areas[regionOf[e]!]! += area;
		nodes.forEach((a, k) => {
			const side = a * count + nodes[(k + 1) % nodes.length]!;
			if (sides.has(side)) doubled++;
			sides.set(side, e);
		});
	});
	if (flat > 0) wrong.push(`${flat} elements without area`);
	if (doubled > 0) wrong.push(`${doubled} sides of two elements run the same way`);
	const given = new Set<number>();
	let missing = 0;
	for (let e = 0; e < edgePiece.length; e++) {
		const side = edges[2 * e]! * count + edges[2 * e + 1]!;
		given.add(side);
		// Beside a region that was not filled an edge may have its element on the other side.
		if (!sides.has(side) && !(unfilled.length > 0 && sides.has(edges[2 * e + 1]! * count + edges[2 * e]!))) missing++;
	}
	if (missing > 0) wrong.push(`${missing} given edges are no side of an element`);
	let open = 0;
	for (const side of sides.keys()) {
		const [a, b] = [Math.floor(side / count), side % count];
		if (!sides.has(b * count + a) && !given.has(side) && !(unfilled.length > 0 && given.has(b * count + a))) open++;
	}
	if (open > 0) wrong.push(`${open} sides are open inside`);

	// A region's elements cover what its edges run around.
	const around = regions.map(() => 0);
	const boundaries = regions.map(() => new Map<number, number>());
	const faces = new Map(regions.map(({ face, fill }, r) => [fill === 'none' ? -1 : face, r]));
	const goRound = (face: number, a: number, b: number) => {
		const r = faces.get(face);
		if (r === undefined) return;
		around[r]! += ((x[a]! - minX) * (y[b]! - minY) - (x[b]! - minX) * (y[a]! - minY)) / 2;
		const turn = boundaries[r]!;
		turn.set(a, (turn.get(a) ?? 0) + 1);
		turn.set(b, (turn.get(b) ?? 0) - 1);
	};
	for (let e = 0; e < edgePiece.length; e++) {
		const [a, b, half] = [edges[2 * e]!, edges[2 * e + 1]!, 2 * edgePiece[e]! + edgeSide[e]!];
		goRound(arrangement.sides[half]!, a, b);
		// An edge between two regions stands there once, but at a two-sided wall.
		if (!given.has(b * count + a)) goRound(arrangement.sides[half ^ 1]!, b, a);
	}
	regions.forEach(({ name, fill, statement }, r) => {
		if (fill === 'none') return;
		if (areas[r] === 0) {
			if (!unfilled.includes(name) && !unfilled.includes(statement)) wrong.push(`region ${name} is empty, and not named as that`);
			return;
		}
		if ([...boundaries[r]!.values()].some((n) => n !== 0)) wrong.push(`the boundary of ${name} is not closed`);
		if (Math.abs(areas[r]! - around[r]!) > 1e-10 * Math.max(areas[r]!, extent * extent * 1e-3))
			wrong.push(`region ${name} has an area of ${areas[r]}, its boundary ${around[r]}`);
	});

	// No two nodes at one place.
	const near = 1e-9 * extent;
	const order = Array.from({ length: count }, (_, k) => k).sort((a, b) => x[a]! - x[b]!);
	let close = 0;
	for (let i = 0; i < count; i++)
		for (let j = i + 1; j < count && x[order[j]!]! - x[order[i]!]! < near; j++)
			if (Math.abs(y[order[j]!]! - y[order[i]!]!) < near) close++;
	if (close > 0) wrong.push(`${close} pairs of nodes nearer than ${near}`);

	if (!rule) return wrong;
	const { size, growth } = rule;
	// Not many more than the integral of one over the squared sizes: those asked for, and those of edges that grow inward.
	const step = Math.max(1, Math.ceil(edgePiece.length / 400));
	const held: [number, number, number][] = [];
	for (let e = 0; e < edgePiece.length; e++) {
		const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
		const length = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
		if (length < 0.7 * size || e % step === 0) held.push([(x[a]! + x[b]!) / 2, (y[a]! + y[b]!) / 2, length]);
	}
	const sample = Math.max(1, Math.ceil((elements.length * held.length) / 2e7));
	let expected = 0;
	elements.forEach((nodes, e) => {
		if (e % sample !== 0) return;
		const [cx, cy] = [nodes.reduce((s, n) => s + x[n]!, 0) / nodes.length, nodes.reduce((s, n) => s + y[n]!, 0) / nodes.length];
		let wanted = size;
		for (const [px, py, length] of held) {
			if (length >= wanted) continue;
			wanted = Math.min(wanted, length + (growth - 1) * hypot(px - cx, py - cy));
		}
		expected += (sample * shoelace(nodes) * (4 / Math.sqrt(3))) / (wanted * wanted);
	});
	const halves = elements.reduce((sum, nodes) => sum + nodes.length - 2, 0);
	if (halves > 2 * expected + 2 * edgePiece.length)
		wrong.push(`${halves} triangles where the sizes ask for ${Math.round(expected)}`);
	return wrong;
}

/** The least angle of all elements, in degrees; 180 without any. */
export const leastAngle = (result: Result): number => leastAngleOf(result, () => true);

/** The same of the elements that are no cells of layers. */
export function leastAngleBehind(result: Result): number {
	const { layerRanges } = result;
	return leastAngleOf(
		result,
		(element) => !layerRanges.some((from, k) => k % 2 === 0 && element >= from && element < layerRanges[k + 1]!)
	);
}

/** @param takes whether an element counts: triangles first, quadrilaterals after them */
function leastAngleOf({ mesh: { x, y, triangles, quads } }: Result, takes: (element: number) => boolean): number {
	let least = 180;
	for (const [list, size, first] of [
		[triangles, 3, 0],
		[quads, 4, triangles.length / 3]
	] as const)
		for (let at = 0; at < list.length; at += size) {
			if (!takes(first + at / size)) continue;
			for (let k = 0; k < size; k++) {
				const [a, b, c] = [list[at + ((k + size - 1) % size)]!, list[at + k]!, list[at + ((k + 1) % size)]!];
				const [ux, uy, vx, vy] = [x[a]! - x[b]!, y[a]! - y[b]!, x[c]! - x[b]!, y[c]! - y[b]!];
				least = Math.min(least, (Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy)) * 180) / Math.PI);
			}
		}
	return least;
}

/**
 * Looks at the triangles of second order of a mesh: the Jacobian at their corners, middles and centre, by the quadratic shape
 * functions (Zienkiewicz, Taylor & Zhu 2013, ch. 6).
 *
 * @returns what is wrong and not reported
 */
export function wrongOfSecondOrder(
	{ mesh, findings }: Result,
	{ x: middleX, y: middleY, edgeBetween }: Pick<SecondOrder, 'x' | 'y' | 'edgeBetween'>
): string[] {
	const { x, y, triangles } = mesh;
	const places = [
		[0, 0],
		[1, 0],
		[0, 1],
		[0.5, 0],
		[0.5, 0.5],
		[0, 0.5],
		[1 / 3, 1 / 3]
	] as const;
	let folded = 0;
	for (let at = 0; at < triangles.length; at += 3) {
		const corners = [...triangles.subarray(at, at + 3)];
		const middles = corners.map((a, k) => edgeBetween(a, corners[(k + 1) % 3]!)!);
		const px = [...corners.map((n) => x[n]!), ...middles.map((m) => middleX[m]!)];
		const py = [...corners.map((n) => y[n]!), ...middles.map((m) => middleY[m]!)];
		const isFolded = places.some(([s, t]) => {
			const r = 1 - s - t;
			const ds = [1 - 4 * r, 4 * s - 1, 0, 4 * (r - s), 4 * t, -4 * t];
			const dt = [1 - 4 * r, 0, 4 * t - 1, -4 * s, 4 * s, 4 * (r - t)];
			const sum = (weights: readonly number[], list: readonly number[]) =>
				weights.reduce((total, w, k) => total + w * list[k]!, 0);
			return !(sum(ds, px) * sum(dt, py) - sum(dt, px) * sum(ds, py) > 0);
		});
		if (isFolded) folded++;
	}
	return folded > 0 && !findings.some(({ code }) => code.includes('order'))
		? [`${folded} triangles of second order are folded`]
		: [];
}
