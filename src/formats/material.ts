import type { Curve, Point } from '../core/geometry/curve.ts';
import { segmentCount } from '../core/geometry/curve.ts';
import { flatten } from '../core/geometry/parts.ts';
import type { Arrangement } from '../core/geometry/pieces.ts';
import type { FillRule } from '../core/recipe/model/model.ts';

/** Which faces of an imported drawing are material: as its shapes are filled in the file, every second outline from outside in, or all. */
export type MaterialRule = 'as filled' | 'alternate' | 'all';

/** The filled shapes of a drawing, by the curves that outline each. */
export interface FilledShapes {
	fills: readonly FillRule[];
	/** For each curve of the arrangement the shape that it outlines, if any. */
	shapeOf: readonly (number | undefined)[];
}

/** Says of each face whether it is material, by a point inside of it. */
export function materialFaces(
	arrangement: Arrangement,
	places: readonly (Point | undefined)[],
	rule: MaterialRule,
	shapes: FilledShapes
): boolean[] {
	if (rule === 'all') return places.map(() => true);
	if (rule === 'alternate' || shapes.fills.length === 0) return [...depths(arrangement)].map((depth) => depth % 2 === 0);
	const outlines = shapes.fills.map(() => [] as Outline[]);
	arrangement.curves.forEach((curve, c) => {
		const shape = shapes.shapeOf[c];
		if (shape !== undefined) outlines[shape]!.push(outlineOf(curve, arrangement.diagonal * 1e-6));
	});
	return places.map((p) => p !== undefined && shapes.fills.some((fill, s) => covers(outlines[s]!, fill, p)));
}

interface Outline {
	points: Float64Array;
	minX: number;
	maxX: number;
	minY: number;
	maxY: number;
}

function outlineOf(curve: Curve, flatness: number): Outline {
	const points = flatten({ curve, t0: 0, t1: segmentCount(curve) }, flatness);
	const box = { minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity };
	for (let k = 0; k < points.length; k += 2) {
		box.minX = Math.min(box.minX, points[k]!);
		box.maxX = Math.max(box.maxX, points[k]!);
		box.minY = Math.min(box.minY, points[k + 1]!);
		box.maxY = Math.max(box.maxY, points[k + 1]!);
	}
	return { points, ...box };
}

function covers(outlines: readonly Outline[], rule: FillRule, p: Point): boolean {
	let winding = 0;
	const isJoined = rule === 'joined';
	for (const { points, minX, maxX, minY, maxY } of outlines) {
		if (p.x > maxX || p.y < minY || p.y > maxY) continue;
		if (!isJoined && p.x < minX) continue;
		// A curve of a shape is closed by a straight line, unless others close it.
		for (let k = isJoined ? 2 : 0, j = isJoined ? 0 : points.length - 2; k < points.length; j = k, k += 2) {
			const [ax, ay, bx, by] = [points[j]!, points[j + 1]!, points[k]!, points[k + 1]!];
			if (ay > p.y === by > p.y) continue;
			if (p.x < ax + ((bx - ax) * (p.y - ay)) / (by - ay)) winding += by > ay ? 1 : -1;
		}
	}
	return rule === 'nonzero' ? winding !== 0 : winding % 2 !== 0;
}

/** How many outlines lie around each face, beside its own; faces of one outline count as one. */
function depths(arrangement: Arrangement): Int32Array {
	const { faces, sides } = arrangement;
	const depth = new Int32Array(faces.length).fill(-1);
	/** The face in which the outline of a face lies: on the other side of its hole walk. */
	const host = new Int32Array(faces.length).fill(-1);
	faces.forEach((face, f) => face.inner.forEach((walk) => walk.forEach((h) => sides[h ^ 1]! >= 0 && (host[sides[h ^ 1]!] = f))));
	// Faces that share an outline lie in the same hole.
	const of = (f: number, guard: number): number => {
		if (depth[f] !== -1) return depth[f]!;
		if (host[f]! >= 0 && guard < faces.length) return (depth[f] = of(host[f]!, guard + 1) + 1);
		return (depth[f] = 0);
	};
	const queue: number[] = [];
	faces.forEach((_, f) => host[f]! >= 0 && queue.push(f));
	for (let k = 0; k < queue.length; k++)
		for (const h of faces[queue[k]!]!.outer) {
			const other = sides[h ^ 1]!;
			if (other >= 0 && other !== host[queue[k]!] && host[other] === -1 && faces[other]!.outer.includes(h ^ 1)) {
				host[other] = host[queue[k]!]!;
				queue.push(other);
			}
		}
	faces.forEach((_, f) => of(f, 0));
	return depth;
}
