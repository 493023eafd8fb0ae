import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline, type Result } from '../../pipeline.ts';
import { pieceNames } from '../../domain/references.ts';
import { nearestOnCurve } from '../../geometry/meet.ts';
import { smoothBlock } from './smooth-block.ts';
import { growthOfBlock, largestGrowth, smoothQuads, stencils, worstCorner } from './smooth.ts';
import { fillTransfinite } from './transfinite.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const errors = (result: Result) => result.findings.filter((f) => f.severity === 'error').map((f) => f.message);
const worst = ({ mesh }: Result) => finish(worstCorner(mesh.x, mesh.y, mesh.quads)).value;

/** The area that the quadrilaterals cover. */
function area({ mesh: { x, y, quads } }: Result): number {
	let sum = 0;
	for (let q = 0; q < quads.length; q += 4)
		for (let k = 0; k < 4; k++) {
			const [a, b] = [quads[q + k]!, quads[q + ((k + 1) & 3)]!];
			sum += (x[a]! * y[b]! - x[b]! * y[a]!) / 2;
		}
	return sum;
}

/** A mesh whose every inner edge has two quadrilaterals: blocks meet node to node. */
function isConforming({ mesh }: Result): boolean {
	const seen = new Map<string, number>();
	for (let q = 0; q < mesh.quads.length; q += 4)
		for (let k = 0; k < 4; k++) {
			const [a, b] = [mesh.quads[q + k]!, mesh.quads[q + ((k + 1) & 3)]!];
			const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
			seen.set(key, (seen.get(key) ?? 0) + 1);
		}
	const nodes = new Set(mesh.quads).size;
	// V − E + F = 1 − holes, and no edge has three elements.
	return [...seen.values()].every((n) => n <= 2) && nodes === mesh.x.length;
}

describe('a structured region', () => {
	it('of three sides meets in the middle, each side carrying the sum of two spokes', () => {
		const result = run('polyline p = (0, 0) to (4, 0) to (1, 3) closed\nregion r at (1, 1)\nfill r structured\nsize 0.2');
		expect(errors(result)).toEqual([]);
		expect(area(result)).toBeCloseTo(6, 10);
		expect(worst(result)).toBeGreaterThan(0.6);
		const counts = result.divisions.pieces.map((d) => d.count);
		// With spokes a, b, c the sides are b + c, c + a, a + b; the blocks hold ab + bc + ca elements.
		const half = counts.reduce((s, n) => s + n, 0) / 2;
		expect(Number.isInteger(half)).toBe(true);
		const [a, b, c] = counts.map((n) => half - n) as [number, number, number];
		expect(result.mesh.quads.length / 4).toBe(a * b + b * c + c * a);
	});

	it('of five and of six sides is split into as many blocks', () => {
		for (const sides of [5, 6]) {
			const result = run(`polygon p = around (0, 0) sides ${sides} radius 2\nregion r at (0, 0)\nfill r structured\nsize 0.25`);
			expect(errors(result)).toEqual([]);
			expect(area(result)).toBeCloseTo((sides / 2) * 4 * Math.sin((2 * Math.PI) / sides), 8);
			expect(worst(result)).toBeGreaterThan(0.7);
			expect(isConforming(result)).toBe(true);
		}
	});

	it('of five edges is mapped as four sides when its corners are named', () => {
		const text =
			'polyline p = (0, 0) to (4, 0) to (4, 3) to (2, 3.5) to (0, 3) closed\nregion r at (1, 1)\nsize 0.5\nfill r structured corners (0, 0), (4, 0), (4, 3), (0, 3)';
		const result = run(text);
		const counts = result.divisions.pieces.map((d) => d.count);
		expect(counts[2]! + counts[3]!).toBe(counts[0]);
		expect(result.mesh.quads.length / 4).toBe(counts[0]! * counts[1]!);
	});

	it('around a hole has as many nodes outside as inside', () => {
		const text = `rectangle box = around (0, 0) size 4, 4
circle hole = around (0.4, 0.2) radius 0.7
region r at (1.8, 1.8)
divide box.left into 16
fill r structured into 10 bias 4 toward hole
size 0.2`;
		const result = run(text);
		expect(errors(result)).toEqual([]);
		const names = pieceNames(result.arrangement);
		const count = (name: string) => result.divisions.pieces[names.indexOf(name)]!.count;
		const around = count('box.left') + count('box.right') + count('box.top') + count('box.bottom');
		expect(count('hole')).toBe(around);
		expect(result.mesh.quads.length / 4).toBe(10 * around);
		expect(worst(result)).toBeGreaterThan(0.4);
		// A polygon of n sides has the area n/2 r² sin(2π/n).
		expect(area(result)).toBeCloseTo(16 - (around / 2) * 0.49 * Math.sin((2 * Math.PI) / around), 8);
		expect(isConforming(result)).toBe(true);
	});

	it('between two circles keeps its first height at the inner one', () => {
		const result = run(
			'circle o = around (0, 0) radius 2\ncircle hole = around (0, 0) radius 1\nregion r at (1.5, 0)\nfill r structured into 12 first 0.02 at hole\ndivide o into 40'
		);
		const { x, y } = result.mesh;
		const radii = Array.from(x, (v, p) => Math.hypot(v, y[p]!)).filter((r) => r > 1 + 1e-9);
		expect(Math.min(...radii)).toBeCloseTo(1.02, 10);
	});

	it('follows its divisions across, however small the change', () => {
		const pipeline = new Pipeline(() => 0);
		const go = (first: string) =>
			finish(
				pipeline.run({
					text: `recipe 1\ncircle o = around (0, 0) radius 2\ncircle hole = around (0, 0) radius 1\nregion r at (1.5, 0)\nfill r structured into 12 first ${first} at hole\ndivide o into 40`,
					files: {}
				})
			);
		go('0.02');
		expect(go('0.02').refilled).toEqual([]);
		const result = go('0.020001');
		expect(result.refilled).toEqual(['r']);
		const radii = Array.from(result.mesh.x, (v, p) => Math.hypot(v, result.mesh.y[p]!)).filter((r) => r > 1 + 1e-9);
		expect(Math.min(...radii)).toBeCloseTo(1.020001, 10);
	});

	it('around a hole has its seam where it was asked for', () => {
		const text = (seam: string) => `rectangle box = around (0, 0) size 4, 4
circle hole = around (0, 0) radius 1
region r at (1.8, 1.8)
divide box.left into 10
fill r structured ${seam} into 6
size 0.4`;
		/** The outer node to which the lines across lead from the hole's start, cell by cell. */
		const across = (result: Result) => {
			expect(errors(result)).toEqual([]);
			const { x, y, quads } = result.mesh;
			const around = quads.length / 4 / 6;
			let p = -1;
			for (const q of quads) if (Math.hypot(x[q]! - 1, y[q]!) < 1e-12) p = q;
			// Quads stand ring by ring from outside; the fourth node of each lies inward of the first.
			for (let ring = 5; ring >= 0; ring--)
				for (let k = 0; k < around; k++) {
					const e = 4 * (ring * around + k);
					if (quads[e + 3] === p) {
						p = quads[e]!;
						break;
					}
				}
			return [x[p], y[p]];
		};
		expect(across(run(text('seam (2, -2) to (1, 0)')))).toEqual([2, -2]);
		expect(across(run(text('')))[0]).toBe(2);
		expect(errors(run(text('seam (2, -2) to (0, 0)')))[0]).toMatch(/its seam ends at \(0, 0\), which is no junction of its hole/);
		expect(
			errors(run('rectangle b = (0, 0) to (1, 1)\nregion r at (0.5, 0.5)\nfill r structured seam (0, 0) to (1, 1)'))[0]
		).toMatch(/only a region around a hole has a seam/);
	});

	it('of a full disc has a core and rings', () => {
		const result = run('circle o = around (3, 1) radius 2\nregion r at (3, 1)\nfill r structured\nsize 0.2');
		expect(errors(result)).toEqual([]);
		expect(result.divisions.pieces[0]!.count % 4).toBe(0);
		expect(worst(result)).toBeGreaterThan(0.7);
		expect(isConforming(result)).toBe(true);
	});

	it('of a half disc takes the corners of its outline for those of the core', () => {
		const result = run(
			'point a = (-1, 0)\npoint b = (1, 0)\nline d = a to b\narc o = b to a around (0, 0)\nregion r at (0, 0.5)\nfill r structured\nsize 0.1'
		);
		expect(errors(result)).toEqual([]);
		expect(worst(result)).toBeGreaterThan(0.5);
	});

	it('says what is wrong with two holes, a loose curve, or counts that no star has', () => {
		const box = 'rectangle b = (0, 0) to (9, 4)\n';
		const rest = '\nregion r at (0.1, 0.1)\nfill r structured\nsize 0.5';
		expect(errors(run(`${box}circle c = around (2, 2) radius 1\ncircle d = around (6, 2) radius 1${rest}`))[0]).toMatch(
			/has 2 holes/
		);
		expect(errors(run(`${box}line l = (2, 2) to (3, 3)${rest}`))[0]).toMatch(/a loose curve lies inside/);
		const star =
			'polyline p = (0, 0) to (4, 0) to (1, 3) closed\nregion r at (1, 1)\ndivide p[1] into 9\ndivide p[2], p[3] into 3\nfill r structured';
		expect(errors(run(star))[0]).toMatch(/contradict each other.*would settle it/);
	});

	it('of triangles with a right angle has two to a cell', () => {
		const result = run('rectangle b = (0, 0) to (4, 3)\nregion r at (1, 1)\nfill r triangles halved size 0.5');
		expect(errors(result)).toEqual([]);
		const { x, y, triangles, quads } = result.mesh;
		expect(quads).toHaveLength(0);
		expect(triangles.length / 3).toBe(2 * 8 * 6);
		let sum = 0;
		for (let t = 0; t < triangles.length; t += 3) {
			const [a, b, c] = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
			const part = ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
			expect(part).toBeCloseTo(0.125, 12);
			sum += part;
		}
		expect(sum).toBeCloseTo(12, 12);
		// Beside other triangles it shares its nodes.
		const two = run(
			'rectangle b = (0, 0) to (4, 3)\nrectangle c = (4, 0) to (6, 3)\nregion r at (1, 1)\nregion s at (5, 1)\nfill r triangles halved\nfill s triangles\nsize 0.5'
		);
		const corners = new Set(Array.from(two.mesh.x, (v, p) => `${v} ${two.mesh.y[p]!}`));
		expect(corners.size).toBe(two.mesh.x.length);
	});

	it('that folds says where, when smoothing does not cure it', () => {
		const text = `polyline p = (0, 0) to (10, 0) to (10, 10) to (9.8, 10) to (5, 0.1) to (0.2, 10) to (0, 10) closed
region r at (0.1, 0.1)
size 1
fill r structured corners (0, 0), (10, 0), (10, 10), (0, 10)`;
		const result = run(text);
		if (result.mesh.quads.length > 0) expect(worst(result)).toBeGreaterThan(0);
		else expect(errors(result)[0]).toMatch(/fold over at \(.*\), and smoothing does not cure it/);
	});
});

describe('heights at a wall', () => {
	it('are within 1 % of the first height asked for, at any throat of a tube', () => {
		fc.assert(
			fc.property(fc.double({ min: 0.4, max: 0.75, noNaN: true }), (beta) => {
				const text = `point a = (0, 0)
point b = (10, 0)
point p = (0, 2)
point q = (10, 2)
spline wall = p to (3, 2) to (5, ${2 * beta}) to (7, 2) to q
line axis = a to b
line inlet = a to p
line outlet = b to q
region r at (5, 0.3)
divide inlet into 30 first 0.005 at wall
divide axis into 60
fill r structured`;
				const result = run(text);
				expect(errors(result)).toEqual([]);
				expect(worst(result)).toBeGreaterThan(0.3);
				const names = pieceNames(result.arrangement);
				const wall = result.divisions.pieces[names.indexOf('wall')]!;
				const { x, y, quads } = result.mesh;
				// Every wall node but the ends has one edge that leaves the wall; what counts is how far it gets from it.
				const curve = result.arrangement.curves[result.arrangement.curves.findIndex((c) => c.name === 'wall')]!;
				const onWall = new Map(Array.from(wall.x, (v, k) => [`${v} ${wall.y[k]!}`, k] as const));
				const isWall = (n: number) => onWall.has(`${x[n]!} ${y[n]!}`);
				let checked = 0;
				for (let e = 0; e < quads.length; e += 4)
					for (let k = 0; k < 4; k++) {
						const [m, n] = [quads[e + k]!, quads[e + ((k + 1) & 3)]!];
						if (isWall(m) === isWall(n)) continue;
						const [off, on] = isWall(m) ? [n, m] : [m, n];
						// The ends of the wall lean as the inlet and the outlet do that they lie on.
						if (x[on] === 0 || x[on] === 10) continue;
						const { distance } = nearestOnCurve(curve, { x: x[off]!, y: y[off]! });
						expect(distance / 0.005).toBeCloseTo(1, 2);
						checked++;
					}
				expect(checked).toBe(118);
			}),
			{ numRuns: 12 }
		);
	});
});

describe('blocks that one statement smooths', () => {
	/** Two blocks under a bent roof, with a slanted line between them. */
	const two = (rest: string) => `point a = (0, 0)
point b = (4, 0)
point c = (8, 0)
point d = (8, 3)
point e = (5.5, 4)
point f = (0, 3)
line floorA = a to b
line floorB = b to c
line right = c to d
spline roofB = d to (6.8, 3.8) to e
spline roofA = e to (3, 4) to f
line left = f to a
line border = b to e
region one at (1, 1)
region two at (7, 1)
divide floorA, floorB into 12
divide left into 10
${rest}`;
	/** Nodes of the border, from below. */
	const borderOf = (result: Result): number[][] => {
		const { mesh } = result;
		const names = pieceNames(result.arrangement);
		const nodes = new Set<number>();
		mesh.edgePiece.forEach((p, k) => {
			if (names[p] === 'border') nodes.add(mesh.edges[2 * k]!).add(mesh.edges[2 * k + 1]!);
		});
		return [...nodes].map((p) => [mesh.x[p]!, mesh.y[p]!]).sort((p, q) => p[1]! - q[1]!);
	};
	/** By how much the lines of nodes turn where they cross the border, in all. */
	const bendAcross = (result: Result): number => {
		const { x, y, quads } = result.mesh;
		const border = borderOf(result).slice(1, -1);
		return border.reduce((sum, [bx, by]) => {
			const beside = new Map<number, number[]>();
			for (let e = 0; e < quads.length; e += 4)
				for (let k = 0; k < 4; k++) {
					const p = quads[e + k]!;
					if (x[p] !== bx || y[p] !== by) continue;
					for (const q of [quads[e + ((k + 1) & 3)]!, quads[e + ((k + 3) & 3)]!])
						beside.set(q, [Math.atan2(y[q]! - by!, x[q]! - bx!)]);
				}
			const nodes = new Set(borderOf(result).map(([px, py]) => `${px} ${py}`));
			const [one, other] = [...beside].filter(([q]) => !nodes.has(`${x[q]!} ${y[q]!}`)).map(([, [angle]]) => angle!);
			return sum + Math.abs(Math.PI - Math.abs(one! - other!));
		}, 0);
	};
	const away = ([x, y]: number[]) => Math.abs((x! - 4) * 4 - y! * 1.5) / Math.hypot(4, 1.5);

	it('move the straight line between them too, and only its inside', () => {
		const result = run(two('fill one, two structured smooth 60'));
		expect(errors(result)).toEqual([]);
		expect(isConforming(result)).toBe(true);
		const border = borderOf(result);
		expect(border).toHaveLength(11);
		expect(away(border[0]!)).toBeCloseTo(0, 12);
		expect(away(border[10]!)).toBeCloseTo(0, 12);
		expect(Math.max(...border.map(away))).toBeGreaterThan(0.01);
		// The lines that cross it bend less there than where each block is smoothed alone.
		const alone = run(two('fill one structured smooth 60\nfill two structured smooth 60'));
		expect(bendAcross(result)).toBeLessThan(0.5 * bendAcross(alone));
	});

	it('leave it as drawn where it has a name, parts materials, is a curve, or each has its own statement', () => {
		for (const rest of [
			'fill one, two structured smooth 60\ngroup g = border as wall',
			'fill one, two structured smooth 60\ngroup g = region one\ngroup h = region two',
			'fill one structured smooth 60\nfill two structured smooth 60'
		]) {
			const result = run(two(rest));
			expect(errors(result)).toEqual([]);
			expect(Math.max(...borderOf(result).map(away))).toBeLessThan(1e-12);
		}
		const bent = two('fill one, two structured smooth 60').replace('line border = b to e', 'arc border = b to e radius 6');
		const place = (result: Result) => borderOf(result).map(([x, y]) => `${x} ${y}`);
		expect(place(run(bent))).toEqual(place(run(bent.replace(' smooth 60', ''))));
	});

	it('keep the first height at a wall that runs through them', () => {
		const result = run(
			two('divide right, border first 0.05 at floorB\nfill one, two structured smooth 40').replace(
				'divide left into 10',
				'divide left into 16 first 0.05 at floorA'
			)
		);
		expect(errors(result)).toEqual([]);
		const { y, quads } = result.mesh;
		let checked = 0;
		for (let e = 0; e < quads.length; e += 4)
			for (let k = 0; k < 4; k++) {
				const [m, n] = [quads[e + k]!, quads[e + ((k + 1) & 3)]!];
				if ((y[m] === 0) === (y[n] === 0)) continue;
				expect(Math.abs(Math.abs(y[m]! - y[n]!) / 0.05 - 1)).toBeLessThan(0.02);
				checked++;
			}
		expect(checked).toBe(48);
	});

	it('are not smoothed again when something else has changed', () => {
		const pipeline = new Pipeline(() => 0);
		const go = (extra: string) =>
			finish(pipeline.run({ text: `recipe 1\n${two(`fill one, two structured smooth 60\n${extra}`)}`, files: {} }));
		const before = go('');
		const after = go('group g = left as inflow');
		expect(after.refilled).toEqual([]);
		expect(after.mesh.x).toEqual(before.mesh.x);
		expect(after.mesh.y).toEqual(before.mesh.y);
	});
});

describe('elliptic smoothing', () => {
	/** A square grid of n by n cells with its inner nodes displaced. */
	function grid(n: number, displace: (i: number, j: number) => [number, number]) {
		const x: number[] = [];
		const y: number[] = [];
		const at = new Map<string, number>();
		const put = (i: number, j: number) => {
			at.set(`${i} ${j}`, x.length);
			const inner = i > 0 && j > 0 && i < n && j < n;
			const [dx, dy] = inner ? displace(i, j) : [0, 0];
			x.push(i / n + dx);
			y.push(j / n + dy);
		};
		for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) if (i === 0 || j === 0 || i === n || j === n) put(i, j);
		const fixed = x.length;
		for (let j = 1; j < n; j++) for (let i = 1; i < n; i++) put(i, j);
		const quads: number[] = [];
		for (let j = 0; j < n; j++)
			for (let i = 0; i < n; i++)
				quads.push(...[`${i} ${j}`, `${i + 1} ${j}`, `${i + 1} ${j + 1}`, `${i} ${j + 1}`].map((k) => at.get(k)!));
		return { x: Float64Array.from(x), y: Float64Array.from(y), quads: Uint32Array.from(quads), fixed };
	}

	it('of one block alone goes where that of any quadrilaterals goes', () => {
		const n = 9;
		const { x, y, quads, fixed } = grid(n, (i, j) => [0.03 * Math.sin(3 * i + j), 0.03 * Math.cos(i - 2 * j)]);
		// The upper side is lifted, so that nothing is symmetrical.
		for (let p = 0; p < fixed; p++) if (y[p] === 1) y[p]! += 0.3 * x[p]! * x[p]!;
		const number = new Map(
			Array.from(x.subarray(0, fixed), (v, p) => [`${Math.round(v * n)} ${Math.min(n, Math.round(y[p]! * n))}`, p])
		);
		const side = (at: (k: number) => string) => Uint32Array.from({ length: n + 1 }, (_, k) => number.get(at(k))!);
		const sides = [
			side((k) => `${k} 0`),
			side((k) => `${n} ${k}`),
			side((k) => `${n - k} ${n}`),
			side((k) => `0 ${n - k}`)
		] as const;
		const [xs, ys] = [x.slice(), y.slice()];
		finish(smoothQuads(xs, ys, quads, fixed, 400, true));
		expect(xs).not.toEqual(x);
		finish(smoothBlock(x, y, sides, fixed, 400, true));
		for (let p = 0; p < x.length; p++) {
			expect(x[p]).toBeCloseTo(xs[p]!, 6);
			expect(y[p]).toBeCloseTo(ys[p]!, 6);
		}
	});

	it('unfolds a grid whose inner nodes lie anywhere', () => {
		fc.assert(
			fc.property(fc.array(fc.double({ min: -0.3, max: 0.3, noNaN: true }), { minLength: 98, maxLength: 98 }), (noise) => {
				const { x, y, quads, fixed } = grid(8, (i, j) => [noise[(j - 1) * 7 + i - 1]!, noise[49 + (j - 1) * 7 + i - 1]!]);
				finish(smoothQuads(x, y, quads, fixed, 200, false));
				expect(finish(worstCorner(x, y, quads)).value).toBeGreaterThan(0.999);
			})
		);
	});

	it('leaves a grid alone whose lines are clustered, when its spacing is to be kept', () => {
		const n = 10;
		const bunched = (t: number) => t * t;
		const { x, y, quads, fixed } = grid(n, (i, j) => [bunched(i / n) - i / n, bunched(j / n) - j / n]);
		// The boundary is bunched as well.
		for (let p = 0; p < fixed; p++) {
			x[p] = bunched(x[p]!);
			y[p] = bunched(y[p]!);
		}
		const before = x.slice();
		finish(smoothQuads(x, y, quads, fixed, 50, true));
		for (let p = 0; p < x.length; p++) expect(x[p]).toBeCloseTo(before[p]!, 12);
	});
});

describe('the growth of cells', () => {
	it('of a block is the same whether it is looked at as a grid or node by node', () => {
		for (const [n, m] of [
			[2, 2],
			[7, 3],
			[5, 9]
		] as const) {
			const outline = { x: new Float64Array(2 * (n + m)), y: new Float64Array(2 * (n + m)) };
			const ends = [0, n, n + m, 2 * n + m, 2 * (n + m)];
			const corners = [
				[0, 0],
				[3, 0.2],
				[3.3, 2],
				[-0.2, 1.7]
			] as const;
			for (let side = 0; side < 4; side++)
				for (let k = ends[side]!; k < ends[side + 1]!; k++) {
					const t = ((k - ends[side]!) / (ends[side + 1]! - ends[side]!)) ** (1 + 0.4 * side);
					const [[ax, ay], [bx, by]] = [corners[side]!, corners[(side + 1) % 4]!];
					outline.x[k] = ax + t * (bx - ax);
					outline.y[k] = ay + t * (by - ay);
				}
			const sides = [0, 1, 2, 3].map((side) =>
				Uint32Array.from({ length: ends[side + 1]! - ends[side]! + 1 }, (_, k) => (ends[side]! + k) % outline.x.length)
			) as [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
			const given = outline.x.length;
			const fill = fillTransfinite(outline.x, outline.y, sides);
			const [x, y] = [Float64Array.from([...outline.x, ...fill.x]), Float64Array.from([...outline.y, ...fill.y])];
			const growth = finish(growthOfBlock(x, y, sides, given));
			expect(growth).toBeGreaterThan(1);
			expect(growth).toBeCloseTo(largestGrowth(x, y, stencils(x.length, fill.quads, given)), 12);
		}
	});
});

describe('smoothing that is asked for', () => {
	const smallestAngle = (result: Result) => result.quality.of('minimumAngle').min;
	const growthOf = ({ mesh: { x, y, quads, edges } }: Result) =>
		largestGrowth(x, y, stencils(x.length, quads, new Set(edges).size));
	const cases: [string, string][] = [
		[
			'a quarter of a ring with a small first height',
			'arc inner = (1, 0) to (0, 1) around (0, 0)\narc outer = (3, 0) to (0, 3) around (0, 0)\nline low = (1, 0) to (3, 0)\nline left = (0, 1) to (0, 3)\nregion r bounded by inner, outer, low, left\ndivide low into 30 first 0.001 at inner\ndivide inner into 24\nfill r structured'
		],
		[
			'a ring between a square and a circle',
			'rectangle box = (-2, -2) to (2, 2)\ncircle hole = around (0, 0) radius 0.7\nregion r at (1.5, 0)\nsize 0.15\nfill r structured'
		],
		[
			'a block with a bent side',
			'polyline p = (0, 0) to (4, 0) to (5, 3) to (0.5, 2) closed\nregion r at (1, 1)\nsize 0.3\nfill r structured'
		],
		[
			'a block that is not convex',
			'polyline p = (0, 0) to (5, 0) to (5, 1) to (1, 1) to (1, 5) to (0, 5) closed\nregion r at (0.5, 0.5)\nsize 0.25\nfill r structured corners (0, 0), (5, 0), (5, 1), (0, 5)'
		]
	];

	it.each(cases)('never harms, however many sweeps: %s', (_, text) => {
		const plain = run(text);
		for (const sweeps of [1, 20, 200, 1000]) {
			const smoothed = run(`${text} smooth ${sweeps}`);
			expect(errors(smoothed)).toEqual(errors(plain));
			expect(smoothed.mesh.quads.length).toBe(plain.mesh.quads.length);
			if (errors(plain).length > 0) continue;
			expect(worst(smoothed)).toBeGreaterThanOrEqual(worst(plain) - 2e-3);
			expect(smallestAngle(smoothed)).toBeGreaterThanOrEqual(smallestAngle(plain) - 0.3);
			if (worst(plain) > 0.15) expect(growthOf(smoothed)).toBeLessThanOrEqual(Math.max(1.41, 1.03 * growthOf(plain)));
		}
	});
});

describe('six blocks in a C around a slender profile', () => {
	it('agree in their counts, keep the first height and fold nowhere', () => {
		// A symmetrical profile of thickness 0.12, after the polynomial of the textbooks on wing sections.
		const half = (x: number) => 0.6 * (0.2969 * Math.sqrt(x) - 0.126 * x - 0.3516 * x * x + 0.2843 * x ** 3 - 0.1036 * x ** 4);
		const crest = 0.3;
		const through = (from: number, to: number, sign: number) =>
			Array.from({ length: 13 }, (_, k) => from + ((to - from) * (1 - Math.cos((Math.PI * k) / 12))) / 2)
				.slice(1, -1)
				.map((x) => `(${x}, ${sign * half(x)})`)
				.join(' to ');
		const [cx, cy] = [1 + 6 * Math.cos((2 * Math.PI) / 3), 6 * Math.sin((2 * Math.PI) / 3)];
		const lines = (side: string, sign: number) => `point crest${side} = (${crest}, ${sign * half(crest)})
point far${side} = (${cx}, ${sign * cy})
point above${side} = (1, ${sign * 6})
spline fore${side} = nose to ${through(0, crest, sign)} to crest${side}
spline aft${side} = crest${side} to ${through(crest, 1, sign)} to tail
arc front${side} = west to far${side} through (${1 + 6 * Math.cos((5 * Math.PI) / 6)}, ${sign * 6 * Math.sin((5 * Math.PI) / 6)})
arc roof${side} = far${side} to above${side} through (${1 + 6 * Math.cos((7 * Math.PI) / 12)}, ${sign * 6 * Math.sin((7 * Math.PI) / 12)})
line long${side} = above${side} to (8, ${sign * 6})
line rear${side} = (8, 0) to (8, ${sign * 6})
line cutCrest${side} = crest${side} to far${side}
line cutTail${side} = tail to above${side}
region a${side} at (-2, ${sign})
region b${side} at (0, ${sign * 2})
region c${side} at (5, ${sign * 2})
divide fore${side} into 24
divide aft${side} into 30
divide cutTail${side} into 24 first 0.004 at tail
divide cutCrest${side} into 24 first 0.004 at crest${side}`;
		const text = `point nose = (0, 0)
point tail = (1, 0)
point west = (-5, 0)
line cutNose = nose to west
line wake = tail to (8, 0)
${lines('Up', 1)}
${lines('Low', -1)}
divide cutNose into 24 first 0.004 at nose
divide wake into 30 growth 1.1 toward tail
fill aUp, bUp, cUp, aLow, bLow, cLow structured`;
		const result = run(text);
		expect(errors(result)).toEqual([]);
		expect(result.mesh.quads.length / 4).toBe(2 * 24 * (24 + 30 + 30));
		expect(worst(result)).toBeGreaterThan(0.2);
		expect(isConforming(result)).toBe(true);
		// The cells on the body are as high as asked, square to it.
		const skins = result.arrangement.curves.filter((c) => /^(fore|aft)/.test(c.name));
		const names = pieceNames(result.arrangement);
		const body = new Set<string>();
		for (const name of ['foreUp', 'aftUp', 'foreLow', 'aftLow']) {
			const { x, y } = result.divisions.pieces[names.indexOf(name)]!;
			x.forEach((v, k) => body.add(`${v} ${y[k]!}`));
		}
		const { x, y, quads } = result.mesh;
		const isBody = (n: number) => body.has(`${x[n]!} ${y[n]!}`);
		let heights = 0;
		for (let e = 0; e < quads.length; e += 4)
			for (let k = 0; k < 4; k++) {
				const [m, n] = [quads[e + k]!, quads[e + ((k + 1) & 3)]!];
				// The wake leaves the tail along the body's own row.
				if (isBody(m) === isBody(n) || (y[m] === 0 && y[n] === 0)) continue;
				const off = isBody(m) ? n : m;
				const onCut = result.divisions.pieces.some(
					(d, p) => /^cut/.test(names[p]!) && d.x.some((v, i) => v === x[off] && d.y[i] === y[off])
				);
				if (onCut) continue;
				const distance = Math.min(...skins.map((c) => nearestOnCurve(c, { x: x[off]!, y: y[off]! }).distance));
				expect(Math.abs(distance / 0.004 - 1)).toBeLessThan(0.02);
				heights++;
			}
		expect(heights).toBeGreaterThan(200);
	});
});
