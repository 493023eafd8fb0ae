import { describe, expect, it } from 'vitest';
import { regionAreas } from '../../mesh/mesh.ts';
import { finish } from '../../numeric/work.ts';
import { Pipeline, type Result } from '../../pipeline.ts';
import { irregularNodes } from '../../quality/irregular.ts';
import { input, ring, type Loop } from '../domains.test-support.ts';
import { crossField } from '../cross-field/cross-field.ts';
import { spokesOf } from './quads.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const errors = ({ findings }: Result) => findings.filter((f) => f.severity === 'error').map((f) => f.message);

/** What the issue of quality asks: no folded element, areas, shapes. */
function figures(result: Result) {
	const { mesh, quality } = result;
	const irregular = irregularNodes(mesh);
	const { min, mean } = quality.of('scaledJacobian');
	return {
		quads: mesh.quadRegion.length,
		triangles: mesh.triangleRegion.length,
		irregular: irregular.nodes.length,
		share: irregular.nodes.length / Math.max(1, irregular.inner),
		min,
		mean,
		area: regionAreas(mesh).reduce((a, b) => a + b, 0)
	};
}

describe('cross fields', () => {
	const square: Loop = [
		[0, 0],
		[10, 0],
		[10, 10],
		[0, 10]
	];
	const sum = (loops: Loop[]) => finish(crossField(input(loops))).singular.reduce((s, { index }) => s + index, 0);
	const divided = (loop: Loop, n: number): Loop =>
		loop.flatMap(([ax, ay], k): Loop => {
			const [bx, by] = loop[(k + 1) % loop.length]!;
			return Array.from({ length: n }, (_, i) => [ax + ((bx - ax) * i) / n, ay + ((by - ay) * i) / n]);
		});
	const circle = (r: number, n: number, cx = 0, cy = 0) => ring(n, cx, cy, () => r);
	const turned = (loop: Loop): Loop => [...loop].reverse();

	it('have singular nodes whose indices add up to what the outlines ask: the Euler characteristic less the corners', () => {
		// A smooth outline turns once round: index 1 in a disc, 0 in a ring, −1 with two holes.
		expect(sum([circle(10, 60)])).toBeCloseTo(1, 12);
		expect(sum([circle(10, 60), turned(circle(4, 30))])).toBeCloseTo(0, 12);
		expect(sum([circle(10, 80), turned(circle(2, 24, -4, 0)), turned(circle(2, 24, 4, 0))])).toBeCloseTo(-1, 12);
		// Each right corner of a square carries a quarter of it.
		expect(sum([divided(square, 8)])).toBeCloseTo(0, 12);
		expect(sum([divided(square, 8), turned(circle(2, 24, 5, 5))])).toBeCloseTo(-1, 12);
	});

	it('follow their edges, and are one of four directions everywhere', () => {
		const field = finish(crossField(input([divided(square, 8)])));
		for (const [x, y] of [
			[5, 5],
			[1, 9],
			[9.5, 0.5]
		] as const)
			expect(Math.abs(field.at(x, y))).toBeLessThan(1e-6);
		const round = finish(crossField(input([circle(10, 120), turned(circle(5, 60))])));
		for (let k = 0; k < 12; k++) {
			const a = 0.1 + (k * Math.PI) / 6;
			const off = (round.at(7.5 * Math.cos(a), 7.5 * Math.sin(a)) - a) / (Math.PI / 2);
			expect(Math.abs(off - Math.round(off)) * 90).toBeLessThan(2);
		}
	});
});

describe('quads', () => {
	it('are the grid of a rectangle with equal counts, and the ring of an annulus', () => {
		const grid = figures(run('rectangle o = (0, 0) to (20.3, 10.2)\nregion r at (1, 1)\nsize 1\nfill r quads'));
		expect(grid).toMatchObject({ quads: 200, triangles: 0, irregular: 0 });
		expect(grid.min).toBeCloseTo(1, 9);
		const annulus = figures(
			run(
				'circle a = around (0, 0) radius 10\ncircle b = around (0, 0) radius 6\nregion r at (8, 0)\nsize 1\ndivide a, b into 48\nfill r quads'
			)
		);
		expect(annulus).toMatchObject({ triangles: 0, irregular: 0 });
	});

	it('have four irregular nodes in a disc, each with three quadrilaterals, and one in a pentagon', () => {
		for (const count of [24, 32, 46, 64, 100, 160, 250]) {
			const disc = run(
				`circle a = around (0, 0) radius ${count / (2 * Math.PI)}\nregion r at (0, 0)\nsize 1\ndivide a into ${count}\nfill r quads`
			);
			expect([...irregularNodes(disc.mesh).counts], `${count} around`).toEqual([3, 3, 3, 3]);
			expect(disc.quality.of('scaledJacobian').min).toBeGreaterThan(0.75);
			expect(disc.quality.of('scaledJacobian').mean).toBeGreaterThan(0.93);
		}
		for (const outline of [
			'ellipse a = around (0, 0) radii 10, 8',
			'spline a = (10, 0) to (7, 7) to (0, 9) to (-8, 6) to (-10, -1) to (-5, -7) to (4, -8) closed'
		]) {
			const blob = run(`${outline}\nregion r at (0, 0)\nsize 0.7\nfill r quads`);
			expect([...irregularNodes(blob.mesh).counts], outline).toEqual([3, 3, 3, 3]);
			expect(blob.quality.of('scaledJacobian').min).toBeGreaterThan(0.75);
		}
		const pentagon = run('polygon o = around (0, 0) sides 5 radius 30\nregion r at (0, 0)\nsize 2\nfill r quads');
		expect([...irregularNodes(pentagon.mesh).counts]).toEqual([5]);
	});

	it('are no disc and no star where sizes grow inward, or where these would have too many elements', () => {
		const disc = run(
			`circle a = around (0, 0) radius ${400 / (2 * Math.PI)}\nregion r at (0, 0)\ndivide a into 400\nsize 12 growth 1.3\nfill r quads`
		);
		expect(errors(disc)).toEqual([]);
		// A disc of its counts would have ten thousand in its core alone.
		expect(figures(disc).quads).toBeLessThan(5000);
		const pentagon = run(
			'polygon o = around (0, 0) sides 5 radius 60\nregion r at (0, 0)\ndivide o into 1200\nsize 15 growth 1.2\nfill r quads'
		);
		expect(errors(pentagon)).toEqual([]);
		expect(figures(pentagon).quads).toBeGreaterThan(1000);
	});

	it('have as many divisions to the middle of a star as its sides leave, where they are whole', () => {
		expect(spokesOf([20, 20, 20])).toEqual([10, 10, 10]);
		expect(spokesOf([7, 9, 12])).toEqual([7, 5, 2]);
		for (const sides of [3, 5, 6, 7]) {
			const spokes = Array.from({ length: sides }, (_, k) => 1 + ((5 * k) % 7));
			const counts = spokes.map((_, k) => spokes[(k + sides - 1) % sides]! + spokes[(k + 1) % sides]!);
			expect(spokesOf(counts)).toEqual(spokes);
		}
		expect(spokesOf([7, 9, 11])).toBeUndefined();
		expect(spokesOf([2, 2, 8])).toBeUndefined();
		expect(spokesOf([4, 4, 4, 4])).toBeUndefined();
	});

	it('have irregular nodes in a disc of finer middle that lack four quadrilaterals together, as Euler’s formula asks', () => {
		for (const count of [32, 48, 64, 96]) {
			const result = run(
				`circle a = around (0, 0) radius 10\nregion r at (0, 0)\nsize ${20 / (count / Math.PI)}\nsize ${6 / (count / Math.PI)} inside circle around (3, 1) radius 1\ndivide a into ${count}\nfill r quads`
			);
			expect(errors(result)).toEqual([]);
			const { nodes, counts } = irregularNodes(result.mesh);
			const lacking = counts.reduce((sum, n) => sum + 4 - n, 0);
			// On the outline, which is smooth, every node has two.
			const { quads, edges } = result.mesh;
			const rim = new Set(edges);
			const around = new Map<number, number>();
			for (const n of quads) if (rim.has(n)) around.set(n, (around.get(n) ?? 0) + 1);
			const onRim = [...around.values()].reduce((sum, n) => sum + 2 - n, 0);
			expect(lacking + onRim).toBe(4);
			expect(nodes.length).toBeLessThan(0.12 * result.mesh.x.length);
		}
	});

	it.each([
		[
			'a plate with three holes',
			'rectangle o = (0, 0) to (90, 50)\ncircle a = around (20, 20) radius 9\ncircle b = around (50, 30) radius 12\ncircle c = around (76, 18) radius 7',
			'(2, 2)',
			'a, b, c'
		],
		['an L', 'polyline o = (0, 0) to (60, 0) to (60, 25.3) to (24.7, 25.3) to (24.7, 61) to (0, 61) closed', '(2, 2)', ''],
		['a sheared plate', 'polyline o = (0, 0) to (60, 0) to (88, 50) to (28, 50) closed', '(30, 20)', ''],
		['a pentagon', 'polygon o = around (0, 0) sides 5 radius 30', '(0, 0)', ''],
		[
			'a wavy channel',
			'curve top = (60*t, 20 + 3*sin(18*t)) for t from 0 to 1\nline l = (0, 20) to (0, 0)\nline f = (0, 0) to (60, 0)\nline r_ = (60, 0) to (60, 20 + 3*sin(18))',
			'(30, 5)',
			''
		],
		[
			'a far field',
			'rectangle o = (0, 0) to (200, 160)\nellipse e = around (90, 80) radii 20, 6\nsize 0.5 near e fade 2',
			'(5, 5)',
			'e'
		]
	])('fill %s with quadrilaterals alone, fair and mostly regular', (_, curves, at, holes) => {
		const rest = holes
			? holes
					.split(', ')
					.map(
						(h, k) =>
							`region h${k} at ${h === 'e' ? '(90, 80)' : { a: '(20, 20)', b: '(50, 30)', c: '(76, 18)' }[h]}\nfill h${k} none`
					)
					.join('\n')
			: '';
		const result = run(`${curves}\nregion r at ${at}\n${rest}\nsize ${holes === 'e' ? '8 growth 1.2' : '1.3'}\nfill r quads`);
		expect(errors(result)).toEqual([]);
		const found = figures(result);
		expect(found.triangles).toBe(0);
		expect(found.min).toBeGreaterThanOrEqual(0.35);
		expect(found.mean).toBeGreaterThanOrEqual(0.93);
		expect(found.share).toBeLessThan(holes === 'e' ? 0.12 : 0.06);
		// The region is as large as its outline of straight edges.
		const { mesh } = result;
		let outline = 0;
		for (let k = 0; k < mesh.edges.length; k += 2) {
			const [a, b] = [mesh.edges[k]!, mesh.edges[k + 1]!];
			outline += (mesh.x[a]! * mesh.y[b]! - mesh.x[b]! * mesh.y[a]!) / 2;
		}
		expect(Math.abs(found.area - outline)).toBeLessThan(1e-12 * 200 * 160);
	});

	it('take an even number of divisions around every outline, whatever the sizes', () => {
		for (const size of [0.9, 1.1, 1.37, 2.03]) {
			const result = run(
				`rectangle o = (0, 0) to (31, 17)\ncircle h = around (12, 8) radius 4.4\nregion r at (1, 1)\nregion q at (12, 8)\nsize ${size}\nfill r quads\nfill q quads`
			);
			expect(figures(result).triangles).toBe(0);
			const counts = result.divisions.pieces.map((p) => p.count);
			expect(counts.slice(0, 4).reduce((a, b) => a + b) % 2).toBe(0);
			expect(counts[4]! % 2).toBe(0);
		}
		// Counts that are typed and odd together cannot be mended: it is reported, with the smallest changes.
		const pinned = run(
			'rectangle o = (0, 0) to (3, 2)\nregion r at (1, 1)\nsize 0.5\ndivide o.bottom into 7\ndivide o.top, o.left, o.right into 6\nfill r quads'
		);
		const conflict = pinned.findings.find((f) => f.code === 'counts-conflict' || f.code === 'count-conflict');
		expect(pinned.findings.map((f) => f.code)).toContain(conflict?.code ?? 'triangles-left');
		expect(figures(pinned).triangles).toBeLessThanOrEqual(1);
	});

	it('stand beside rows and triangles, behind layers, around nodes and inner edges, with every edge shared', () => {
		const result = run(`rectangle o = (0, 0) to (40, 20)
line cut = (20, 0) to (20, 20)
line slit = (26, 10) to (34, 12)
circle c = around (9, 10) radius 3
region left at (2, 2)
region right at (30, 4)
region hole at (9, 10)
node (35, 5)
size 1
fill left quads
fill right quads
fill hole none
layers on c in left first 0.05 growth 1.3 count 6
baffle wall = slit as wall`);
		expect(errors(result)).toEqual([]);
		const { mesh } = result;
		const found = figures(result);
		expect(found.min).toBeGreaterThan(0.2);
		expect(found.triangles).toBeLessThanOrEqual(1);
		expect(result.layerFigures[0]!.complete).toBe(1);
		const beside = new Map<string, number>();
		for (const [list, size] of [
			[mesh.triangles, 3],
			[mesh.quads, 4]
		] as const)
			for (let e = 0; e < list.length; e += size)
				for (let k = 0; k < size; k++) {
					const [a, b] = [list[e + k]!, list[e + ((k + 1) % size)]!];
					const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
					beside.set(key, (beside.get(key) ?? 0) + 1);
				}
		const once = [...beside].filter(([, n]) => n === 1).length;
		expect([...beside.values()].every((n) => n <= 2)).toBe(true);
		// Once: the edges of the outline, the hole, and both sides of the slit.
		const single =
			[...mesh.edgePiece].length - 2 * mesh.edgePiece.filter((p) => result.arrangement.pieces[p]!.owner === 1).length;
		expect(once).toBeLessThanOrEqual(single + 40);
		const node = [...mesh.x].findIndex((x, i) => x === 35 && mesh.y[i] === 5);
		expect(node).toBeGreaterThanOrEqual(0);
	});

	it('leave no triangle behind layers whose fans, or ends, would make the front odd', () => {
		const bodies = [
			'polyline b = (4, 5) to (8, 4) to (11, 5) to (8, 6) closed',
			'polyline b = (5, 3) to (11, 3) to (8, 8) closed',
			'polyline b = (4, 5) to (9, 4.6) to (14, 5) to (9, 5.4) closed'
		];
		for (const body of bodies)
			for (const size of [0.5, 0.7, 0.8, 1.1])
				for (const walls of ['b', 'b, o.bottom']) {
					const result = run(
						`rectangle o = (0, 0) to (20, 10)\n${body}\nregion r at (1, 1)\nsize ${size}\nlayers on ${walls} first 0.05 growth 1.2 count 5\nfill r quads`
					);
					expect(errors(result)).toEqual([]);
					expect(
						result.findings.filter((f) => f.code === 'triangles-left'),
						`${size} ${body} ${walls}`
					).toEqual([]);
				}
	});

	it.each([
		['of one size', 'size 1.2', ''],
		['few, of one size', 'size 2', ''],
		['graded 1 : 100', 'size 4 growth 1.2', 'divide h by size 0.04'],
		['graded 1 : 100 over few', 'size 8 growth 1.2', 'divide h by size 0.08']
	])('mostly, %s, leave some triangles where they are better, and say nothing of it', (_, sizes, division) => {
		const recipe = (fill: string) =>
			`rectangle o = (0, 0) to (60, 40)\ncircle h = around (22, 20) radius 6\nregion r at (1, 1)\nregion q at (22, 20)\n${sizes}\n${division}\nfill r ${fill}\nfill q none`;
		const result = run(recipe('quads mostly'));
		expect(errors(result)).toEqual([]);
		const found = figures(result);
		expect(found.triangles).toBeGreaterThan(0);
		expect(found.quads / (found.quads + found.triangles)).toBeGreaterThan(0.97);
		expect(found.min).toBeGreaterThanOrEqual(0.45);
		expect(result.findings.filter((f) => f.code === 'triangles-left')).toEqual([]);
		// Without any, they are nearly as good.
		const all = figures(run(recipe('quads')));
		expect(all.triangles).toBe(0);
		expect(all.min).toBeGreaterThanOrEqual(0.35);
		expect(all.mean).toBeGreaterThanOrEqual(0.93);
	});
});

describe('bilinear elements on quads', () => {
	/** Solves −Δu = 2π² sin πx sin πy on a mesh of the unit square with u = 0 around; the L2 error at the nodes. */
	function errorOf(size: number): { error: number; h: number } {
		const { mesh } = run(
			`rectangle o = (0, 0) to (1, 1)\ncircle c = around (0.4, 0.5) radius 0.2\nregion r at (0.05, 0.05)\nregion q at (0.4, 0.5)\nsize ${size}\nfill r, q quads`
		);
		const { x, y, quads } = mesh;
		const n = x.length;
		const rows: Map<number, number>[] = Array.from({ length: n }, () => new Map());
		const load = new Float64Array(n);
		const mass = new Float64Array(n);
		const g = 1 / Math.sqrt(3);
		for (let e = 0; e < quads.length; e += 4) {
			const corners = [0, 1, 2, 3].map((k) => quads[e + k]!);
			for (const s of [-g, g])
				for (const t of [-g, g]) {
					const N = [(1 - s) * (1 - t), (1 + s) * (1 - t), (1 + s) * (1 + t), (1 - s) * (1 + t)].map((v) => v / 4);
					const ds = [-(1 - t), 1 - t, 1 + t, -(1 + t)].map((v) => v / 4);
					const dt = [-(1 - s), -(1 + s), 1 + s, 1 - s].map((v) => v / 4);
					const at = (d: number[], values: Float64Array) => d.reduce((sum, v, k) => sum + v * values[corners[k]!]!, 0);
					const [xs, xt, ys, yt] = [at(ds, x), at(dt, x), at(ds, y), at(dt, y)];
					const J = xs * yt - xt * ys;
					const gx = ds.map((v, k) => (v * yt - dt[k]! * ys) / J);
					const gy = ds.map((v, k) => (dt[k]! * xs - v * xt) / J);
					const f = 2 * Math.PI ** 2 * Math.sin(Math.PI * at(N, x)) * Math.sin(Math.PI * at(N, y));
					corners.forEach((i, k) => {
						load[i]! += N[k]! * f * J;
						mass[i]! += N[k]! * J;
						corners.forEach((j, l) => rows[i]!.set(j, (rows[i]!.get(j) ?? 0) + (gx[k]! * gx[l]! + gy[k]! * gy[l]!) * J));
					});
				}
		}
		const free = [...x.keys()].filter((i) => x[i]! > 1e-12 && x[i]! < 1 - 1e-12 && y[i]! > 1e-12 && y[i]! < 1 - 1e-12);
		const isFree = new Uint8Array(n);
		for (const i of free) isFree[i] = 1;
		// Conjugate gradients.
		const u = new Float64Array(n);
		const r = Float64Array.from(load, (v, i) => (isFree[i] ? v : 0));
		const p = r.slice();
		let rr = free.reduce((sum, i) => sum + r[i]! ** 2, 0);
		for (let k = 0; k < 2000 && rr > 1e-22; k++) {
			const q = new Float64Array(n);
			for (const i of free) for (const [j, v] of rows[i]!) if (isFree[j]) q[i]! += v * p[j]!;
			const alpha = rr / free.reduce((sum, i) => sum + p[i]! * q[i]!, 0);
			for (const i of free) {
				u[i]! += alpha * p[i]!;
				r[i]! -= alpha * q[i]!;
			}
			const next = free.reduce((sum, i) => sum + r[i]! ** 2, 0);
			for (const i of free) p[i] = r[i]! + (next / rr) * p[i]!;
			rr = next;
		}
		let sum = 0;
		for (let i = 0; i < n; i++) sum += mass[i]! * (u[i]! - Math.sin(Math.PI * x[i]!) * Math.sin(Math.PI * y[i]!)) ** 2;
		return { error: Math.sqrt(sum), h: 1 / Math.sqrt(quads.length / 4) };
	}

	it('converge with the second order', () => {
		const [coarse, fine] = [errorOf(0.08), errorOf(0.02)];
		const order = Math.log(coarse.error / fine.error) / Math.log(coarse.h / fine.h);
		expect(order).toBeGreaterThan(1.8);
	});
});
