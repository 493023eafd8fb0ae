import { Delaunay } from 'd3-delaunay';
import { finish } from '../src/core/numeric/work.ts';
import type { FillInput } from '../src/core/fill/method.ts';
import { fillTriangles } from '../src/core/fill/triangles/fill-triangles.ts';
import type { SizeRule } from '../src/core/sizing/size-rule.ts';
import { smoothBlock } from '../src/core/fill/structured/smooth-block.ts';
import { fillTransfinite } from '../src/core/fill/structured/transfinite.ts';
import { positions } from '../src/core/divide/spacing.ts';
import { settleCounts } from '../src/core/blocks/counts.ts';
import { cutRectangle, feasiblePins } from '../src/core/blocks/networks.test-support.ts';
import { pairs, type Ratio } from './ratio.ts';
import { countAlong, evenlyPlaced, positionsAlong } from '../src/core/sizing/size-along.ts';

/** A closed outline through nodes. */
function closed(nodes: readonly (readonly number[])[]): FillInput {
	return {
		x: Float64Array.from(nodes, (p) => p[0]!),
		y: Float64Array.from(nodes, (p) => p[1]!),
		edges: Uint32Array.from(nodes.flatMap((_, i) => [i, (i + 1) % nodes.length]))
	};
}

function square(n: number): FillInput {
	const nodes = [0, 1, 2, 3].flatMap((side) =>
		Array.from({ length: n }, (_, k) => {
			const f = k / n;
			return [
				[f, 0],
				[1, f],
				[1 - f, 1],
				[0, 1 - f]
			][side]!;
		})
	);
	return closed(nodes);
}

/** The whole fill of a square with about 500 000 triangles, against the bare triangulation of the very same nodes. */
export function fillAgainstTriangulation(): Ratio {
	const n = 465;
	return againstTriangulation('a square', square(n), { size: 1 / n, growth: 1.2 }, '≤ 0.5');
}

/** The same for a square with a zone a thousand times finer in its middle, from which sizes grow. */
export function zoneAgainstTriangulation(): Ratio {
	const size = 1 / 40;
	const [fine, radius] = [size / 1000, 0.0063];
	const field = (x: number, y: number) => fine + 0.2 * Math.max(0, Math.hypot(x - 0.4, y - 0.6) - radius);
	const box = [0.4 - radius, 0.6 - radius, 0.4 + radius, 0.6 + radius] as const;
	const rule = { size, growth: 1.2, field: { at: field }, plateaus: [{ size: fine, box }] };
	return againstTriangulation('a square with a round zone a thousand times finer', square(40), rule, '≤ 1.5');
}

/** From 1 to 1000 times 8e-6, growing away from a point. */
const gradedField = (x: number, y: number) => 0.008 / 1000 + 0.0115 * Math.sqrt((x - 0.4) ** 2 + (y - 0.6) ** 2);

const gradedRule: SizeRule = { size: 1, growth: 1.0115, field: { at: gradedField } };

/** A square whose sides are divided as the field asks. */
function gradedSquare(): FillInput {
	const corners = [
		[0, 0],
		[1, 0],
		[1, 1],
		[0, 1]
	] as const;
	const nodes = corners.flatMap(([ax, ay], k) => {
		const [bx, by] = corners[(k + 1) % 4]!;
		const sizes = evenlyPlaced(
			Float64Array.from({ length: 1001 }, (_, i) => gradedField(ax + ((bx - ax) * i) / 1000, ay + ((by - ay) * i) / 1000))
		);
		const at = positionsAlong(sizes, Math.round(countAlong(sizes, 1)));
		return Array.from(at.slice(0, -1), (t) => [ax + (bx - ax) * t, ay + (by - ay) * t]);
	});
	return closed(nodes);
}

/** The same for a square in which every element is a little larger than its neighbour toward a point, its boundary divided likewise. */
export function gradedAgainstTriangulation(): Ratio {
	return againstTriangulation('a square graded everywhere, from 1 to 1000', gradedSquare(), gradedRule, '≤ 1.5');
}

/** The same for a square with 400 round holes. */
export function holesAgainstTriangulation(): Ratio {
	return againstTriangulation('a square with 400 round holes', holesInput(), { size: 1 / 450, growth: 1.2 }, '≤ 1.6');
}

/** A square with 20 × 20 holes of 48 edges each. */
function holesInput(): FillInput {
	const [across, around] = [20, 48];
	const outer = square(300);
	const x = [...outer.x];
	const y = [...outer.y];
	const edges = [...outer.edges];
	for (let i = 0; i < across; i++)
		for (let j = 0; j < across; j++) {
			const first = x.length;
			for (let k = 0; k < around; k++) {
				const a = (-2 * Math.PI * k) / around;
				x.push((i + 0.5) / across + 0.0125 * Math.cos(a));
				y.push((j + 0.5) / across + 0.0125 * Math.sin(a));
				edges.push(first + k, first + ((k + 1) % around));
			}
		}
	return { x: Float64Array.from(x), y: Float64Array.from(y), edges: Uint32Array.from(edges) };
}

function againstTriangulation(name: string, input: FillInput, rule: SizeRule, wanted: string): Ratio {
	const fill = finish(fillTriangles(input, rule));
	const count = input.x.length + fill.x.length;
	const points = new Float64Array(2 * count);
	for (let i = 0; i < count; i++) {
		points[2 * i] = i < input.x.length ? input.x[i]! : fill.x[i - input.x.length]!;
		points[2 * i + 1] = i < input.x.length ? input.y[i]! : fill.y[i - input.x.length]!;
	}
	return {
		what: `fill of ${name} with ${fill.triangles.length / 3} triangles, from its boundary to the last element`,
		against: '“d3-delaunay” triangulating the same final nodes',
		...pairs(
			7,
			() => finish(fillTriangles(input, rule)),
			() => new Delaunay(points)
		),
		wanted
	};
}

/** Four million triangles against one million: how the time of a fill grows. */
export function fourAgainstOne(): Ratio {
	const fill = (n: number) => () => finish(fillTriangles(square(n), { size: 1 / n, growth: 1.2 }));
	return {
		what: 'fill of a square with 4 million triangles',
		against: 'the same with 1 million',
		...pairs(3, fill(1316), fill(658)),
		wanted: '≤ 4.6'
	};
}

/** Fills a square with about a million triangles, graded everywhere, for a look at the memory that it takes. */
export function fillMillion(): number {
	return finish(fillTriangles(gradedSquare(), gradedRule)).triangles.length / 3;
}

/** A structured block of a million quads, against writing arrays of the same sizes in a plain loop. */
export function structuredAgainstCopy(): Ratio {
	const n = 1000;
	const at = positions(n, { law: 'geometric', number: { bias: 20 }, end: 'both' });
	const x: number[] = [];
	const y: number[] = [];
	const side = (f: (t: number) => [number, number]) =>
		Uint32Array.from(at, (t) => {
			const [px, py] = f(t);
			x.push(px);
			y.push(py);
			return x.length - 1;
		});
	const sides = [
		side((t) => [t, 0.1 * t * (1 - t)]),
		side((t) => [1, t]),
		side((t) => [1 - t, 1]),
		side((t) => [0, 1 - t])
	] as const;
	const [gx, gy] = [Float64Array.from(x), Float64Array.from(y)];
	const nodes = (n - 1) * (n - 1);
	return {
		what: '1 000 000 structured quads by transfinite interpolation',
		against: 'writing two Float64Array and one Uint32Array of the same sizes in a plain loop',
		...pairs(
			7,
			() => fillTransfinite(gx, gy, sides),
			() => {
				const [a, b, c] = [new Float64Array(nodes), new Float64Array(nodes), new Uint32Array(4 * n * n)];
				for (let i = 0; i < nodes; i++) {
					a[i] = i;
					b[i] = i;
				}
				for (let i = 0; i < c.length; i++) c[i] = i;
			}
		),
		wanted: '≤ 2'
	};
}

/** The counts of 300 blocks cut at random, with 40 pins that can all stand, against sorting the numbers of a million. */
export function countsAgainstSorting(): Ratio {
	let state = 4711;
	const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
	const network = cutRectangle(300, random);
	const pinned = feasiblePins(network, 40, random);
	const wanted = Array.from({ length: network.pieces }, () => 2 + 30 * random());
	const numbers = Float64Array.from({ length: 1_000_000 }, random);
	return {
		what: 'counts of 300 blocks cut at random, 40 of 900 pieces pinned',
		against: 'sorting a million random numbers',
		...pairs(
			7,
			() => settleCounts(network.blocks, pinned, wanted),
			() => numbers.slice().sort()
		),
		wanted: '≤ 5'
	};
}

/** Ten sweeps of elliptic smoothing over a block of 250 000 quads, against ten five-point passes over an array of the same size. */
export function smoothingAgainstStencil(): Ratio {
	const n = 500;
	const x: number[] = [];
	const y: number[] = [];
	const put = (i: number, j: number) => {
		x.push(i / n + 0.1 * (j / n) ** 2);
		return y.push(j / n - 0.05 * (i / n) ** 2) - 1;
	};
	const corners = [put(0, 0), put(n, 0), put(n, n), put(0, n)];
	const sides = [0, 1, 2, 3].map((side) => {
		const inner = Array.from({ length: n - 1 }, (_, k) => {
			const f = k + 1;
			const [i, j] = [
				[f, 0],
				[n, f],
				[n - f, n],
				[0, n - f]
			][side]!;
			return put(i!, j!);
		});
		return Uint32Array.from([corners[side]!, ...inner, corners[(side + 1) % 4]!]);
	}) as [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
	const given = x.length;
	for (let j = 1; j < n; j++) for (let i = 1; i < n; i++) put(i, j);
	const [xs, ys] = [Float64Array.from(x), Float64Array.from(y)];
	const from = Float64Array.from({ length: (n + 1) * (n + 1) }, (_, k) => k % 97);
	const to = new Float64Array(from.length);
	const pass = () => {
		for (let sweep = 0; sweep < 10; sweep++)
			for (let j = 1; j < n; j++)
				for (let i = 1; i < n; i++) {
					const k = j * (n + 1) + i;
					to[k] = 0.25 * (from[k - 1]! + from[k + 1]! + from[k - n - 1]! + from[k + n + 1]!) - from[k]!;
				}
	};
	return {
		what: 'ten sweeps of elliptic smoothing of a block of 250 000 quads, control functions included',
		against: 'ten five-point stencil passes over one array of the same size',
		...pairs(7, () => finish(smoothBlock(xs, ys, sides, given, 10, true)), pass),
		wanted: '≤ 3'
	};
}
