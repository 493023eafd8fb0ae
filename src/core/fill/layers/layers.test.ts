import { describe, expect, it } from 'vitest';
import { regionAreas } from '../../mesh/mesh.ts';
import { cos, sin } from '../../numeric/elementary.ts';
import { finish } from '../../numeric/work.ts';
import { Pipeline, type Result } from '../../pipeline.ts';
import { progressionSum } from '../../recipe/model/layer-numbers.ts';
import { domains, numbers, type Random } from '../domains.test-support.ts';
import { FillError, type Fill, type FillInput } from '../method.ts';
import { fillTriangles } from '../triangles/fill-triangles.ts';
import { applyEdits } from '../../text/edit.ts';
import { growLayers } from './grow.ts';
import { fillBehindLayers } from './layered.ts';
import type { LayerRequest } from './stacks.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const faults = (result: ReturnType<typeof run>) =>
	result.findings.filter((f) => f.severity !== 'note' && !['unlabelled', 'unnamed-face'].includes(f.code)).map((f) => f.message);

const codes = (result: ReturnType<typeof run>) =>
	result.findings.filter((f) => f.severity !== 'note' && !['unlabelled', 'unnamed-face'].includes(f.code)).map((f) => f.code);

const messageOf = ({ findings }: Result, code: string) => findings.find((f) => f.code === code)?.message;

/** Heights of the nodes above a horizontal wall at y, in the column at x. */
const column = ({ mesh }: ReturnType<typeof run>, x: number, y: number, most: number) =>
	[...mesh.x.keys()]
		.filter((k) => Math.abs(mesh.x[k]! - x) < 1e-9 && mesh.y[k]! > y + 1e-12 && mesh.y[k]! < y + most)
		.map((k) => mesh.y[k]! - y)
		.sort((a, b) => a - b);

describe('layers on straight walls', () => {
	const plate = `rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 2
divide box.bottom into 20
layers on box.bottom first 0.02 growth 1.2 count 12
fill r triangles`;

	it('have the first height and the growth that are asked, to nine digits', () => {
		const result = run(plate);
		expect(faults(result)).toEqual([]);
		for (const x of [10, 20, 30]) {
			const heights = column(result, x, 0, 0.02 * progressionSum(12, 1.2) + 1e-6);
			expect(heights).toHaveLength(12);
			heights.forEach((h, k) => expect(h / (0.02 * progressionSum(k + 1, 1.2))).toBeCloseTo(1, 9));
		}
		const [layers] = result.layerFigures;
		expect(layers).toMatchObject({ walls: ['box.bottom'], cells: 20 * 12, complete: 1 });
		expect(layers!.first.min).toBeCloseTo(0.02, 10);
		expect(layers!.thickness.mean).toBeCloseTo(0.02 * progressionSum(12, 1.2), 10);
		expect(regionAreas(result.mesh)[0]).toBeCloseTo(800, 9);
	});

	it('say how many cells would grow to the elements behind, where they end far below them', () => {
		const behind = (text: string) => {
			const result = run(text);
			const { last, behind } = result.layerFigures[0]!.profiles[0]!;
			const ratios = [...last.keys()].map((k) => behind[k]! / last[k]!).sort((a, b) => a - b);
			return { finding: result.findings.find((f) => f.code === 'layers-behind'), middle: ratios[ratios.length >> 1]! };
		};
		expect(behind(plate.replace('count 12', 'count 22')).finding).toBeUndefined();
		const [few, thin] = ['first 0.02 growth 1.2 count 5', 'first 0.02 growth 1.2 thickness 0.15'].map((numbers) =>
			plate.replace('first 0.02 growth 1.2 count 12', numbers)
		) as [string, string];
		// Where the divisions along the wall are free, finer ones are proposed instead of a stack as thick as this.
		const free = few.replace('divide box.bottom into 20\n', '');
		for (const text of [few, thin, free]) {
			const { finding, middle } = behind(text);
			expect(middle).toBeGreaterThan(3);
			expect(finding?.message).toMatch(
				/^on half of these walls the elements behind are more than .* times as high as the last cell/
			);
			const mended = behind(applyEdits(`recipe 1\n${text}`, finding!.mend!.edits).replace('recipe 1\n', ''));
			expect(mended.finding).toBeUndefined();
			expect(mended.middle).toBeGreaterThan(0.7);
			expect(mended.middle).toBeLessThan(2);
		}
	});

	it('lie on the pieces beside the wall, which the neighbour shares', () => {
		const result = run(`${plate}\nrectangle next = (40, 0) to (60, 20)\nregion s at (50, 5)\nfill s triangles`);
		expect(faults(result)).toEqual([]);
		// The nodes of the layers on the side between the two stand once.
		const heights = column(result, 40, 0, 0.9);
		expect(heights.length).toBeGreaterThanOrEqual(12);
		heights.slice(0, 12).forEach((h, k) => expect(h / (0.02 * progressionSum(k + 1, 1.2))).toBeCloseTo(1, 9));
		const total = regionAreas(result.mesh).reduce((a, b) => a + b, 0);
		expect(total).toBeCloseTo(1200, 8);
	});

	it('end in one cell where the piece beside them is pinned and cannot carry them, and say so', () => {
		const result = run(`${plate}\ndivide box.left into 3`);
		expect(codes(result)).toEqual([]);
		expect(messageOf(result, 'layers-reduced')).toMatch(
			/^there is room for 0 of 12 layers at \(0, 0\);.* 9\d % of the walls have all$/
		);
		expect(result.layerFigures[0]!.complete).toBeGreaterThan(0.9);
		expect(regionAreas(result.mesh)[0]).toBeCloseTo(800, 9);
	});

	it('share the bisector of an inside corner, and keep their heights on both sides', () => {
		const result = run(`rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 2
layers on box.bottom, box.left first 0.05 growth 1.2 count 10
fill r triangles`);
		expect(faults(result)).toEqual([]);
		const thickness = 0.05 * progressionSum(10, 1.2);
		const { x, y } = result.mesh;
		for (let k = 1; k <= 10; k++) {
			const h = 0.05 * progressionSum(k, 1.2);
			const onBisector = [...x.keys()].some((i) => Math.abs(x[i]! - h) < 1e-9 && Math.abs(y[i]! - h) < 1e-9);
			expect(onBisector, `layer ${k}`).toBe(true);
			// All of a layer is one line: as high everywhere.
			const line = [...x.keys()].filter((i) => Math.abs(y[i]! - h) < 1e-9 && x[i]! < 38);
			expect(line.length).toBeGreaterThan(15);
		}
		expect(result.layerFigures[0]).toMatchObject({ complete: 1 });
		expect(result.layerFigures[0]!.thickness.max).toBeCloseTo(thickness, 9);
	});

	it('grow on one side of an inner curve, or on both with a fan around its tips', () => {
		const text = (side: string) => `rectangle box = (0, 0) to (40, 20)
line vane = (10, 10) to (30, 10)
region r at (5, 5)
size 2
layers on vane first 0.05 growth 1.2 count 8${side}
fill r triangles`;
		const [both, left] = [run(text('')), run(text(' left'))];
		expect([codes(both), codes(left)]).toEqual([[], []]);
		expect(messageOf(left, 'layers-reduced')).toContain('0 of 8 layers at (10, 10), at (30, 10)');
		const thickness = 0.05 * progressionSum(8, 1.2);
		const at = (result: typeof both, y: number) => [...result.mesh.y].filter((v) => Math.abs(v - y) < 1e-9).length;
		expect(at(both, 10 + thickness)).toBeGreaterThan(8);
		expect(at(both, 10 - thickness)).toBe(at(both, 10 + thickness));
		expect(at(left, 10 - thickness)).toBe(0);
		// Around the tip the outermost layer is as thick as along the line.
		const tip = [...both.mesh.x.keys()].filter(
			(k) => both.mesh.x[k]! > 30 && Math.abs(Math.hypot(both.mesh.x[k]! - 30, both.mesh.y[k]! - 10) - thickness) < 1e-9
		);
		expect(tip.length).toBeGreaterThanOrEqual(3);
		expect(regionAreas(both.mesh)[0]).toBeCloseTo(800, 9);
	});
});

describe('first heights that vary along a wall', () => {
	const plate = (layers: string, more = '') => `rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 2
${more}
${layers}
fill r triangles`;

	it('are those that are asked at their places, and change evenly by their logarithm between', () => {
		const result = run(
			plate('layers on box.bottom first 0.02 at (0, 0), 0.08 at (40, 0) growth 1.2 count 8', 'divide box.bottom into 20')
		);
		expect(faults(result)).toEqual([]);
		for (const x of [0, 10, 20, 40]) {
			const wanted = 0.02 * 4 ** (x / 40);
			const heights = column(result, x, 0, wanted * progressionSum(8, 1.2) * 1.01);
			// The front leans a little, as its cells are not everywhere as high: square to it they are what is asked.
			expect(heights[0]! / wanted, `at ${x}`).toBeCloseTo(1, 2);
		}
		const [profile] = result.layerFigures[0]!.profiles;
		expect(profile!.runs).toEqual([0]);
		profile!.along.forEach((s, k) => expect(profile!.first[k]! / (0.02 * 4 ** (s / 40))).toBeCloseTo(1, 9));
		expect([...profile!.count].every((n) => n === 8)).toBe(true);
		// The elements behind are there, and about as high as the last cell or higher.
		expect(Math.min(...profile!.behind)).toBeGreaterThan(0);
	});

	it('hold around a closed wall, and beyond the last place of an open one', () => {
		const round = run(`rectangle box = (-20, -20) to (20, 20)
circle body = around (0, 0) radius 5
region r at (15, 15)
size 2
layers on body first 0.05 at (5, 0), 0.2 at (-5, 0) growth 1.2 count 5
fill r triangles`);
		expect(faults(round)).toEqual([]);
		const [profile] = round.layerFigures[0]!.profiles;
		profile!.x.forEach((x, k) => {
			const share = Math.acos(Math.max(-1, Math.min(1, x / 5))) / Math.PI;
			expect(profile!.first[k]! / (0.05 * 4 ** share)).toBeCloseTo(1, 3);
		});
		const open = run(plate('layers on box.bottom first 0.02 at (10, 0), 0.08 at (30, 0) growth 1.2 count 8'));
		const ends = open.layerFigures[0]!.first;
		expect(ends.min).toBeGreaterThan(0.0199);
		expect(ends.max).toBeLessThan(0.0801);
	});

	it('go with a growth and a count, or to the size behind', () => {
		const wrong = run(plate('layers on box.bottom first 0.02 at (0, 0), 0.08 at (40, 0) growth 1.2 thickness 1'));
		expect(wrong.findings.map((f) => f.message).join()).toMatch(/goes with “growth” and “count”/);
		expect(faults(run(plate('layers on box.bottom first 0.02 at (0, 0), 0.08 at (40, 0) growth 1.2 to size')))).toEqual([]);
	});
});

describe('layers that are squeezed', () => {
	/** A channel that narrows from 20 to 2. */
	const nozzle = (layers: string) => `polyline low = (0, 0) to (30, 9) to (50, 9) to (80, 0)
polyline high = (0, 20) to (30, 11) to (50, 11) to (80, 20)
line left = (0, 0) to (0, 20)
line right = (80, 0) to (80, 20)
region r at (5, 10)
size 1
${layers}
fill r triangles`;

	it('keep their count in a narrow place, and become lower there smoothly', () => {
		const [usual, squeezed, exact] = ['', ' squeeze', ' exact'].map((word) =>
			run(nozzle(`layers on low, high first 0.1 growth 1.2 count 10${word}`))
		) as [Result, Result, Result];
		expect([faults(usual), faults(squeezed), faults(exact)]).toEqual([[], [], []]);
		// By themselves they keep their count and, as far as it goes, their first height: the growth falls.
		expect(usual.layerFigures[0]!.complete).toBeGreaterThan(0.99);
		const [first, growth] = (['first', 'growth'] as const).map((key) =>
			usual.layerFigures[0]!.profiles.flatMap((p) => [...p[key]])
		);
		expect(Math.min(...growth!)).toBeLessThan(1.05);
		expect(Math.min(...first!)).toBeGreaterThan(0.05);
		expect(messageOf(usual, 'layers-squeezed')).toMatch(/^for want of room growth falls to 1.* on \d+ % of the walls: from \(/);
		// Exactly as high as asked, with fewer cells.
		expect(exact.layerFigures[0]!.complete).toBeLessThan(0.8);
		expect(exact.layerFigures[0]!.first.min).toBeCloseTo(0.1, 3);
		expect(messageOf(exact, 'layers-reduced')).toMatch(/^there is room for \d of 10 layers from \(/);
		expect(squeezed.layerFigures[0]!.complete).toBeGreaterThan(0.99);
		expect(messageOf(squeezed, 'layers-squeezed')).toMatch(
			/^for want of room first heights to 0\.\d+ of what is asked on \d+ % of the walls: from \(/
		);
		for (const { x, y, thickness, runs, along, count } of squeezed.layerFigures[0]!.profiles) {
			expect([...count].every((n) => n === 10)).toBe(true);
			x.forEach((px, k) => {
				// Two stacks and the elements between them fit.
				if (px > 30 && px < 50) expect(2 * thickness[k]!).toBeLessThan(2);
				if (runs.includes(k)) return;
				const slope = Math.abs(thickness[k]! - thickness[k - 1]!) / (along[k]! - along[k - 1]!);
				expect(slope, `at (${px}, ${y[k]})`).toBeLessThan(0.3001);
			});
		}
		expect(regionAreas(squeezed.mesh)[0]).toBeCloseTo(regionAreas(usual.mesh)[0]!, 8);
	});

	it('are as asked where there is room', () => {
		const [usual, squeezed] = ['', ' squeeze'].map((word) =>
			run(`rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 2
layers on box first 0.05 growth 1.2 count 8${word}
fill r triangles`)
		);
		expect(squeezed!.mesh.x).toEqual(usual!.mesh.x);
		expect(squeezed!.findings.map((f) => f.code)).not.toContain('layers-squeezed');
	});
});

describe('layers that are there', () => {
	it('are not made again for an edit elsewhere in the recipe', () => {
		const pipeline = new Pipeline(() => 0);
		const of = (text: string) => finish(pipeline.run({ text, files: {} }));
		const text =
			'rectangle box = (0, 0) to (40, 20)\nregion r at (5, 5)\nsize 2\nlayers on box first 0.1 growth 1.2 count 5\nfill r triangles';
		expect(of(text).refilled).toEqual(['r']);
		const after = of(`point p = (1, 1)\n${text}`);
		expect(after.refilled).toEqual([]);
		expect(after.layerFigures[0]).toMatchObject({ line: 4, walls: ['box'] });
		expect(of(text.replace('count 5', 'count 6')).refilled).toEqual(['r']);
	});
});

describe('layers on the sides of blocks', () => {
	it('are the spacing across, on both ends of the block', () => {
		const result = run(`rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 2
layers on box.bottom first 0.02 growth 1.2 count 12
fill r structured`);
		expect(faults(result)).toEqual([]);
		for (const x of [0, 40]) {
			const heights = column(result, x, 0, 0.02 * progressionSum(12, 1.2) + 1e-6);
			expect(heights).toHaveLength(12);
			heights.forEach((h, k) => expect(h / (0.02 * progressionSum(k + 1, 1.2))).toBeCloseTo(1, 9));
		}
		expect(result.mesh.triangles).toHaveLength(0);
	});
});

describe('layers on curved walls', () => {
	it('are as thick as asked, within a hundredth, and square to the wall', () => {
		const result = run(`circle far = around (0, 0) radius 40
circle body = around (0, 0) radius 5
region r at (20, 0)
size 4
divide body into 72
layers on body first 0.01 growth 1.2 count 15
fill r triangles`);
		expect(faults(result)).toEqual([]);
		const { x, y } = result.mesh;
		const radii = [...x.keys()].map((k) => Math.hypot(x[k]!, y[k]!)).filter((r) => r > 5 + 1e-9);
		for (let k = 1; k <= 15; k++) {
			const wanted = 0.01 * progressionSum(k, 1.2);
			expect(
				radii.filter((r) => Math.abs((r - 5) / wanted - 1) < 0.01),
				`layer ${k}`
			).toHaveLength(72);
		}
		expect(result.layerFigures[0]!.complete).toBe(1);
		expect(result.layerFigures[0]!.angle.min).toBeGreaterThan(80);
	});
});

describe('directions of layers at curved walls', () => {
	/** How far the lower third of the stacks leans from a normal of the wall at most, in radians. */
	const leaning = (result: ReturnType<typeof run>, normalAt: (x: number, y: number) => [number, number]) => {
		const { mesh, layerFigures } = result;
		let most = 0;
		for (const { x, y, first, growth, count } of layerFigures[0]!.profiles)
			for (let k = 0; k < x.length; k++)
				for (let layer = 1; layer <= count[k]! / 3; layer++) {
					const [nx, ny] = normalAt(x[k]!, y[k]!);
					const height = first[k]! * progressionSum(layer, growth[k]!);
					const [px, py] = [x[k]! + height * nx, y[k]! + height * ny];
					const away = (i: number) => Math.hypot(mesh.x[i]! - px, mesh.y[i]! - py);
					const node = [...mesh.x.keys()].reduce((best, i) => (away(i) < away(best) ? i : best));
					// Beside the normal; along it a step is longer where edges turn far.
					most = Math.max(most, Math.abs((mesh.x[node]! - px) * ny - (mesh.y[node]! - py) * nx) / height);
					expect(away(node)).toBeLessThan(0.2 * height);
				}
		return most;
	};

	it('are normal to the true curve, where a line goes over into an arc too', () => {
		const result = run(`line under = (-10, -4) to (10, -4)
arc right = (10, -4) to (10, 4) around (10, 0)
line over = (10, 4) to (-10, 4)
arc left = (-10, 4) to (-10, -4) around (-10, 0)
circle far = around (0, 0) radius 60
region r at (0, 20)
size 6
divide right, left into 12
divide under, over into 10
layers on under, right, over, left first 0.01 growth 1.2 count 12
fill r triangles`);
		expect(faults(result)).toEqual([]);
		const lean = leaning(result, (x, y) => {
			const [dx, dy] = [x - Math.max(-10, Math.min(10, x)), y];
			return [dx / Math.hypot(dx, dy), dy / Math.hypot(dx, dy)];
		});
		// Between two edges that turn by 15° a step is 0.9 % longer, so that it is as high as asked square to both.
		expect(lean).toBeLessThan(0.0087);
	});

	it('are those of an ellipse where nodes stand unevenly', () => {
		const result = run(`ellipse body = around (0, 0) radii 10, 3
circle far = around (0, 0) radius 60
region r at (0, 20)
size 6
divide body into 90 bias 6 toward both
layers on body first 0.005 growth 1.2 count 12
fill r triangles`);
		const lean = leaning(result, (x, y) => {
			const [nx, ny] = [x / 100, y / 9];
			return [nx / Math.hypot(nx, ny), ny / Math.hypot(nx, ny)];
		});
		expect(lean).toBeLessThan(0.01);
	});
});

describe('layers in a gap', () => {
	it('leave out upper cells until elements fit between, and say where', () => {
		const result = run(`rectangle box = (0, 0) to (60, 20)
rectangle body = (20, 8) to (40, 19)
region r at (5, 5)
size 1
layers on box.top, body first 0.05 growth 1.25 count 12
fill r triangles`);
		expect(faults(result)).toEqual([]);
		const reduced = result.findings.find((f) => f.code === 'layers-reduced')!;
		expect(reduced.message).toMatch(/there is room for \d+ of 12 layers from \(/);
		expect(reduced.at!.y).toBeGreaterThan(18);
		expect(regionAreas(result.mesh)[0]).toBeCloseTo(1200 - 220, 8);
		const shape = result.quality.of('scaledJacobian')!;
		expect(shape.min).toBeGreaterThan(0);
	});
});

describe('the statement', () => {
	it('says what is missing, and what it names in vain', () => {
		const says = (line: string) =>
			run(`rectangle box = (0, 0) to (40, 20)\nregion r at (5, 5)\nsize 2\nfill r triangles\n${line}`)
				.findings.filter((f) => f.severity !== 'note' && f.code !== 'unlabelled')
				.map((f) => f.message)
				.join();
		expect(says('layers on box.bottom first 0.1 count 5')).toContain('first and count alone do not say');
		expect(says('layers on bax first 0.1 growth 1.2 count 5')).toContain('no curve is named “bax”');
		expect(says('layers on box in s first 0.1 growth 1.2 count 5')).toContain('no region is named “s”');
		expect(says('layers on box.bottom right first 0.1 growth 1.2 count 5')).toContain('no layers grow there');
		expect(says('layers on box.bottom growth 1.2 first 0.1 to size')).toBe('');
	});

	it('distinguishes “in” a region from inches', () => {
		const made = (line: string) =>
			run(`units in\nrectangle box = (0, 0) to (40, 20)\nregion r at (5, 5)\nsize 2\nfill r triangles\n${line}`).layerFigures[0];
		expect(made('layers on box.bottom first 0.1 growth 1.2 count 5 in r')!.cells).toBe(100);
		expect(made('layers on box.bottom first 0.1 in growth 1.2 count 5')!.cells).toBe(100);
		expect(made('layers on box.bottom in r first 0.1 in count 5 growth 1.2')!.cells).toBe(100);
	});

	it('cuts the cells into triangles where that is asked', () => {
		const result = run(
			'rectangle box = (0, 0) to (40, 20)\nregion r at (5, 5)\nsize 2\nfill r triangles\nlayers on box first 0.1 growth 1.2 count 5 triangles'
		);
		expect(faults(result)).toEqual([]);
		expect(result.mesh.quads).toHaveLength(0);
		expect(regionAreas(result.mesh)[0]).toBeCloseTo(800, 9);
	});
});

const triangleArea = (x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number) =>
	((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;

/** A fill has no folded cell, covers its region once, and every edge has two sides or is a given one. */
function checkFill(given: FillInput, fill: Fill): void {
	const x = [...given.x, ...fill.x];
	const y = [...given.y, ...fill.y];
	let [sum, magnitude] = [0, 0];
	const sides = new Map<string, number>();
	const side = (a: number, b: number) => sides.set(`${a} ${b}`, (sides.get(`${a} ${b}`) ?? 0) + 1);
	const take = (nodes: number[]) => {
		for (let k = 0; k < nodes.length; k++) side(nodes[k]!, nodes[(k + 1) % nodes.length]!);
		for (let k = 0; k < nodes.length; k++) {
			const [a, b, c] = [nodes[k]!, nodes[(k + 1) % nodes.length]!, nodes[(k + 2) % nodes.length]!];
			const part = triangleArea(x, y, a, b, c);
			if (!(part > 0)) throw new Error(`folded at (${x[b]}, ${y[b]})`);
			if (nodes.length === 3 ? k === 0 : k % 2 === 0) sum += part;
		}
	};
	for (let k = 0; k < fill.triangles.length; k += 3) take([...fill.triangles.subarray(k, k + 3)]);
	for (let k = 0; k < fill.quads.length; k += 4) take([...fill.quads.subarray(k, k + 4)]);
	let region = 0;
	const bounds = new Set<string>();
	for (let k = 0; k < given.edges.length; k += 2) {
		const [a, b] = [given.edges[k]!, given.edges[k + 1]!];
		bounds.add(`${a} ${b}`);
		region += (x[a]! - x[0]!) * (y[b]! - y[0]!) - (x[b]! - x[0]!) * (y[a]! - y[0]!);
		magnitude += Math.abs((x[a]! - x[0]!) * (y[b]! - y[0]!));
	}
	expect(Math.abs(sum - region / 2)).toBeLessThan(1e-11 * magnitude + 1e-12);
	for (const [key, times] of sides) {
		if (times !== 1) throw new Error(`the edge ${key} has ${times} elements on one side`);
		const [a, b] = key.split(' ');
		if (!bounds.has(key) && !sides.has(`${b} ${a}`)) throw new Error(`the edge ${key} hangs`);
	}
	for (const key of bounds) if (!sides.has(key)) throw new Error(`the given edge ${key} bounds nothing`);
}

/** A ring around curves that lie free inside it, each with the region on both sides; some touch the ring, some nearly each other. */
function freeCurves({ next, below }: Random): FillInput {
	const outer = 40 + below(40);
	const x: number[] = [];
	const y: number[] = [];
	const edges: number[] = [];
	for (let k = 0; k < outer; k++) {
		const a = (2 * Math.PI * k) / outer;
		x.push(10 * cos(a));
		y.push(10 * sin(a));
		edges.push(k, (k + 1) % outer);
	}
	for (let c = 0; c < 4; c++) {
		const [n, bend, from] = [2 + below(14), 0.5 * (next() - 0.5), 2 * Math.PI * next()];
		let [px, py, angle] = [-6 + 3.6 * c, -4 + 8 * next(), from];
		const column: number[] = [];
		for (let k = 0; k <= n; k++) {
			column.push(x.length);
			x.push(px);
			y.push(py);
			px += 0.22 * cos(angle);
			py += 0.22 * sin(angle);
			angle += bend;
		}
		const walk = [...column, ...column.slice(1, -1).reverse()];
		walk.forEach((node, k) => edges.push(node, walk[(k + 1) % walk.length]!));
	}
	return { x: Float64Array.from(x), y: Float64Array.from(y), edges: Uint32Array.from(edges) };
}

describe('layers on random walls of nasty domains', () => {
	const rounds = Number(process.env.FUZZ ?? 8);
	for (const [name, make] of Object.entries({ ...domains, 'curves that lie free': freeCurves }))
		it(`${name}: no folded cell, no gap, no overlap`, () => {
			for (let seed = 1; seed <= rounds; seed++) {
				const random = numbers(100 * seed + name.length);
				const given = make(random);
				const length = Math.hypot(given.x[1]! - given.x[0]!, given.y[1]! - given.y[0]!);
				const walls: LayerRequest[] = Array.from({ length: 1 + random.below(2) }, () => ({
					first: length * 10 ** (-3 + 2.5 * random.next()),
					growth: 1 + 0.5 * random.next(),
					count: 1 + random.below(15),
					gap: random.below(4),
					...(random.below(4) === 0 ? { toSize: true } : random.below(3) === 0 ? { squeeze: true } : {}),
					...(random.below(3) === 0 ? { halved: true } : {})
				}));
				// Walls in runs of edges, some of them without.
				let wall = -1;
				const wallOf = Int32Array.from({ length: given.edges.length / 2 }, () => {
					if (random.next() < 0.1) wall = random.below(walls.length + 1) - 1;
					return wall;
				});
				const scales = Float64Array.from({ length: given.edges.length }, (_, i) => 1 + 0.5 * sin(0.3 * given.edges[i]!));
				const input = {
					walls,
					wallOf,
					statements: walls.map((_, k) => k),
					...(random.below(3) === 0 ? { scales } : {})
				};
				try {
					const fill = finish(fillBehindLayers(given, input, 1000, (rest) => fillTriangles(rest, { size: length, growth: 1.3 })));
					checkFill(given, fill);
				} catch (error) {
					if (!(error instanceof FillError)) throw new Error(`seed ${seed}: ${(error as Error).message}`, { cause: error });
					// What cannot be filled with layers cannot be filled without.
					expect(() => finish(fillTriangles(given, { size: length, growth: 1.3 })), error.message).toThrow(FillError);
				}
			}
		});

	it('never make a cell of a scaled Jacobian below 0.3', () => {
		const random = numbers(7);
		for (let k = 0; k < 20; k++) {
			const given = domains['a coast with clustered nodes']!(random);
			const wallOf = new Int32Array(given.edges.length / 2);
			const { x, y, quads } = finish(growLayers(given, { walls: [{ first: 0.02, growth: 1.2, count: 10, gap: 2 }], wallOf }));
			const [px, py] = [
				[...given.x, ...x],
				[...given.y, ...y]
			] as [number[], number[]];
			for (let q = 0; q < quads.length; q += 4)
				for (let c = 0; c < 4; c++) {
					const [b, a, d] = [quads[q + ((c + 3) % 4)]!, quads[q + c]!, quads[q + ((c + 1) % 4)]!];
					const cross = 2 * triangleArea(px, py, a, d, b);
					const sine = cross / Math.hypot(px[d]! - px[a]!, py[d]! - py[a]!) / Math.hypot(px[b]! - px[a]!, py[b]! - py[a]!);
					expect(sine).toBeGreaterThan(0.3 - 1e-9);
				}
		}
	});
});

describe('first heights that vary along a side of a structured region', () => {
	const columns = (layers: string) => {
		const { mesh, findings } = run(`rectangle a = (0, 0) to (10, 4)
region r bounded by a
size 0.5
fill r structured
${layers}`);
		expect(findings.filter((f) => f.severity === 'error')).toEqual([]);
		return Array.from({ length: 21 }, (_, k) =>
			Array.from(mesh.x, (v, i) => (Math.abs(v - k / 2) < 1e-6 ? mesh.y[i]! : NaN))
				.filter((v) => !Number.isNaN(v))
				.sort((a, b) => a - b)
		);
	};

	it('go over into one another from line to line, each growing as asked', () => {
		columns('layers on a.bottom first 0.02 at (0, 0), 0.1 at (10, 0) growth 1.3 count 8').forEach((heights, k) => {
			expect(heights[1]).toBeCloseTo(0.02 * 5 ** (k / 20), 9);
			expect((heights[2]! - heights[1]!) / heights[1]!).toBeGreaterThan(1.2);
			expect((heights[2]! - heights[1]!) / heights[1]!).toBeLessThan(1.4);
		});
	});

	it('hold at places between its ends, from either side', () => {
		for (const [side, wall] of [
			['bottom', 0],
			['top', 4]
		] as const)
			columns(
				`layers on a.${side} first 0.02 at (0, ${wall}), 0.08 at (4, ${wall}), 0.03 at (10, ${wall}) growth 1.25 count 8`
			).forEach((heights, k) => {
				const x = k / 2;
				const wanted = x < 4 ? 0.02 * 4 ** (x / 4) : 0.08 * (3 / 8) ** ((x - 4) / 6);
				const up = wall === 0 ? heights : heights.map((y) => 4 - y).reverse();
				expect(up[1]! / wanted).toBeCloseTo(1, 9);
				for (let j = 1; j < 6; j++) {
					const ratio = (up[j + 1]! - up[j]!) / (up[j]! - up[j - 1]!);
					expect(ratio).toBeGreaterThan(1);
					expect(ratio).toBeLessThan(1.45);
				}
			});
	});

	it('are kept square to the wall where it is curved and the lines lean', () => {
		const result = run(`arc wall = (0, 0) to (10, 0) around (5, -12) clockwise
line right = (10, 0) to (12, 6)
line over = (12, 6) to (2, 6)
line left = (2, 6) to (0, 0)
region r bounded by wall, right, over, left
size 0.5
layers on wall first 0.02 at (0, 0), 0.08 at (5, 1), 0.04 at (10, 0) growth 1.2 count 10
fill r structured`);
		expect(faults(result)).toEqual([]);
		expect(result.walls).toHaveLength(1);
		const [{ min, max }] = result.walls as unknown as [{ min: number; max: number }];
		expect(min).toBeGreaterThan(0.98);
		expect(max).toBeLessThan(1.02);
	});
});
