import { finish } from '../src/core/numeric/work.ts';
import { fillQuads } from '../src/core/fill/quads/fill-quads.ts';
import { fillTriangles } from '../src/core/fill/triangles/fill-triangles.ts';
import type { FillInput } from '../src/core/fill/method.ts';
import { pairs, type Ratio } from './ratio.ts';

/** A square with a round hole whose nodes lie so close that sizes grow all over. */
function plate(n: number): FillInput {
	const side = Array.from({ length: n }, (_, k) => k / n);
	const outer = [
		...side.map((f) => [f, 0]),
		...side.map((f) => [1, f]),
		...side.map((f) => [1 - f, 1]),
		...side.map((f) => [0, 1 - f])
	];
	const around = 4 * n;
	const hole = Array.from({ length: around }, (_, k) => {
		const a = (-2 * Math.PI * k) / around;
		return [0.4 + 0.1 * Math.cos(a), 0.55 + 0.1 * Math.sin(a)];
	});
	const nodes = [...outer, ...hole];
	const ring = (first: number, count: number) =>
		Array.from({ length: count }, (_, k) => [first + k, first + ((k + 1) % count)]).flat();
	return {
		x: Float64Array.from(nodes, (p) => p[0]!),
		y: Float64Array.from(nodes, (p) => p[1]!),
		edges: Uint32Array.from([...ring(0, outer.length), ...ring(outer.length, hole.length)])
	};
}

const n = 700;
const rule = { size: 1 / n, growth: 1.2 };

/** Fills the plate with quadrilaterals, once; @returns how many there are. */
export const fillPlate = (): number => finish(fillQuads(plate(n), rule, n * n)).quads.length / 4;

/** Quadrilaterals against triangles of the same size field. */
export function quadsAgainstTriangles(): Ratio {
	const input = plate(n);
	return {
		what: `a fill of ${fillPlate().toLocaleString('en')} quadrilaterals, sizes that grow from a hole`,
		against: 'triangles of the same size field',
		...pairs(
			3,
			() => void finish(fillQuads(input, rule, n * n)),
			() => void finish(fillTriangles(input, rule))
		),
		wanted: '≤ 3'
	};
}
