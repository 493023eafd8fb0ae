import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { pieceNames } from '../domain/references.ts';
import { evaluateRecipe } from '../recipe/model/evaluate.ts';
import { parseRecipe } from '../recipe/language/parse.ts';
import { ShapeStage } from '../stages/shape-stage.ts';
import { Report } from '../findings/report.ts';
import { ruleIn, sizeField } from './size-field.ts';
import { countAlong, evenlyPlaced, positionsAlong } from './size-along.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const errors = (result: Result) => result.findings.filter((f) => f.severity === 'error').map((f) => f.message);
const division = (result: Result, name: string) => result.divisions.pieces[pieceNames(result.arrangement).indexOf(name)]!;
const plate = 'rectangle b = (0, 0) to (100, 50)\nregion r at (1, 1)\nfill r triangles\nsize 5 growth 1.2\n';

/** Angles in degrees, edge lengths with their middles. */
function elements({ mesh: { x, y, triangles } }: Result) {
	let smallest = 180;
	const edges: { x: number; y: number; length: number }[] = [];
	for (let t = 0; t < triangles.length; t += 3)
		for (let k = 0; k < 3; k++) {
			const [a, b, c] = [triangles[t + k]!, triangles[t + ((k + 1) % 3)]!, triangles[t + ((k + 2) % 3)]!];
			const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[a]!, y[c]! - y[a]!];
			smallest = Math.min(smallest, (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI);
			edges.push({ x: (x[a]! + x[b]!) / 2, y: (y[a]! + y[b]!) / 2, length: Math.hypot(ux, uy) });
		}
	return { smallest, edges };
}

describe('a size of its own', () => {
	/** Mean length of the edges whose middles lie where `inside` says. */
	const mean = (result: Result, inside: (x: number, y: number) => boolean) => {
		const edges = elements(result).edges.filter(({ x, y }) => inside(x, y));
		expect(edges.length).toBeGreaterThan(20);
		return edges.reduce((sum, e) => sum + e.length, 0) / edges.length;
	};

	it('holds inside a polygon that is no curve of the drawing', () => {
		const result = run(`${plate}size 1 inside polyline (40, 15) to (60, 15) to (50, 35)`);
		expect(errors(result)).toEqual([]);
		expect(mean(result, (x, y) => Math.abs(x - 50) < 4 && Math.abs(y - 20) < 4)).toBeLessThan(1.15);
		expect(mean(result, (x) => x > 90)).toBeGreaterThan(3.5);
		expect(errors(run(`${plate}size 1 inside polyline (40, 15) to (60, 15)`))[0]).toMatch(/at least three corners, found 2/);
	});

	it('holds near a line that is no curve of the drawing', () => {
		const result = run(`${plate}size 1 near polyline (20, 25) to (50, 25) to (80, 40) within 3`);
		expect(errors(result)).toEqual([]);
		expect(mean(result, (x, y) => x > 25 && x < 45 && Math.abs(y - 25) < 3)).toBeLessThan(1.15);
		expect(result.zoneOutlines[0]).toEqual(Float64Array.of(20, 25, 50, 25, 80, 40));
	});
});

describe('positions along a piece', () => {
	it('put the same share of ∫ ds/h between neighbours', () => {
		fc.assert(
			fc.property(
				fc.array(fc.double({ min: 0.1, max: 4, noNaN: true }), { minLength: 2, maxLength: 20 }),
				fc.integer({ min: 1, max: 60 }),
				(list, count) => {
					const sizes = evenlyPlaced(Float64Array.from(list));
					const at = positionsAlong(sizes, count);
					expect(at[0]).toBe(0);
					expect(at[count]).toBe(1);
					// h runs straight between places: the integral of 1/h by the midpoint of many strips.
					const n = list.length - 1;
					const density = (t: number) => {
						const k = Math.min(n - 1, Math.floor(t * n));
						const f = t * n - k;
						return 1 / ((1 - f) * list[k]! + f * list[k + 1]!);
					};
					const integral = (a: number, b: number) => {
						let sum = 0;
						for (let i = 0; i < 200; i++) sum += (density(a + ((i + 0.5) / 200) * (b - a)) * (b - a)) / 200;
						return sum;
					};
					const share = countAlong(sizes, 1) / count;
					for (let k = 0; k < count; k++) expect(integral(at[k]!, at[k + 1]!) / share).toBeCloseTo(1, 1);
				}
			)
		);
	});

	it('grow away from a fine neighbour by no more than the growth rate', () => {
		const result = run(`${plate}divide b.left into 100`);
		const { x } = division(result, 'b.bottom');
		const cells = Array.from(x.slice(1), (v, k) => v - x[k]!);
		expect(cells[0]).toBeLessThan(0.75);
		for (let k = 1; k < cells.length; k++) expect(cells[k]! / cells[k - 1]!).toBeLessThan(1.3);
		expect(Math.max(...cells)).toBeGreaterThan(4);
	});
});

describe('growth', () => {
	const graded = (growth: number, fill: string) =>
		run(
			`rectangle b = (0, 0) to (60, 60)\nregion r bounded by b\nsize 30 growth ${growth}\nsize 0.2 near b.left within 0.2\nfill r ${fill}`
		);

	it.each(['triangles', 'quads'])('of %s is 1.5 at most, and a finding says so; more never makes more elements', (fill) => {
		const counts = [1.2, 1.5, 2, 3].map((growth) => {
			const { mesh, findings } = graded(growth, fill);
			expect(findings.some((f) => f.code === 'growth-limit')).toBe(growth > 1.5);
			return mesh.triangles.length / 3 + mesh.quads.length / 4;
		});
		expect(counts).toEqual(counts.toSorted((a, b) => b - a));
	});

	it('of blocks alone is as asked', () => {
		const { mesh, findings } = graded(2, 'structured');
		expect(findings.some((f) => f.code === 'growth-limit')).toBe(false);
		expect(mesh.quads.length).toBeLessThan(graded(1.5, 'structured').mesh.quads.length);
	});
});

describe('zones', () => {
	it('have their size inside, and grow into the size around', () => {
		const result = run(`${plate}size 0.5 inside circle around (60, 20) radius 5`);
		const { smallest, edges } = elements(result);
		expect(smallest).toBeGreaterThanOrEqual(30);
		const wanted = (x: number, y: number) => Math.min(5, 0.5 + 0.2 * Math.max(0, Math.hypot(x - 60, y - 20) - 5));
		const ratios = edges.map((e) => e.length / wanted(e.x, e.y));
		const near = ratios.filter((r) => r > 0.6 && r < 1.6).length / ratios.length;
		expect(near).toBeGreaterThan(0.98);
	});

	it('are near curves and points, in boxes, in closed curves that are no part of the domain, and behind a body', () => {
		const finest = (zone: string, inside: (x: number, y: number) => boolean) => {
			const result = run(`point p = (80, 40)\ncircle c = around (30, 25) radius 4\n${plate}${zone}`);
			expect(errors(result)).toEqual([]);
			const { edges } = elements(result);
			const found = edges.filter((e) => inside(e.x, e.y));
			expect(found.length).toBeGreaterThan(10);
			expect(found.reduce((s, e) => s + e.length, 0) / found.length).toBeLessThan(1.2);
			return result;
		};
		finest('size 0.8 near c within 2', (x, y) => Math.hypot(x - 30, y - 25) < 6);
		finest('size 0.8 near p within 3', (x, y) => Math.hypot(x - 80, y - 40) < 3);
		finest('size 0.8 at p', (x, y) => Math.hypot(x - 80, y - 40) < 1);
		finest('size 0.8 inside box (60, 10) to (75, 20)', (x, y) => x > 60 && x < 75 && y > 10 && y < 20);
		finest('size 0.8 behind c length 30 widening 4 deg', (x, y) => x > 36 && x < 62 && Math.abs(y - 25) < 3);
		const shaped = finest(
			'guide circle g = around (60, 25) radius 4\nsize 0.8 inside g',
			(x, y) => Math.hypot(x - 60, y - 25) < 3.5
		);
		expect(pieceNames(shaped.arrangement)).not.toContain('g');
		finest(
			'guide line g = (60, 20) to (70, 30)\nsize 0.8 near g within 2',
			(x, y) => Math.abs(x - y - 40) < 2 && x > 60 && x < 70
		);
		finest('size 0.8 at p, (20, 40)', (x, y) => Math.hypot(x - 20, y - 40) < 1);
	});

	it.each([0.05, 0.3, 2])('of a point are what it asks for, %s', (size) => {
		let [sum, count] = [0, 0];
		for (let k = 1; k <= 10; k++) {
			const [px, py] = [20 + 60 * ((k * 0.618034) % 1), 12 + 26 * ((k * 0.414214) % 1)];
			const result = run(`${plate}size ${size} at (${px}, ${py})`);
			expect(errors(result)).toEqual([]);
			for (const edge of elements(result).edges)
				if (Math.hypot(edge.x - px, edge.y - py) < size) [sum, count] = [sum + edge.length / size, count + 1];
		}
		expect(count).toBeGreaterThan(60);
		expect(sum / count).toBeGreaterThan(0.92);
		expect(sum / count).toBeLessThan(1.08);
	});

	/** The field of a drawing of two squares with a size of 1 and a zone. */
	const fieldOf = (zone: string) => {
		const text = `recipe 1\nrectangle a = (0, 0) to (9, 9)\nrectangle b = (90, 0) to (99, 9)\nregion r at (1, 1)\nsize 1\n${zone}`;
		const report = new Report([], []);
		return sizeField(finish(new ShapeStage().run(evaluateRecipe(parseRecipe(text), {}), report)), 1, 1.2, report);
	};

	it('near a line have a size all over only where they hold within a distance, around each line', () => {
		const plateaus = (zone: string) => fieldOf(zone).plateaus;
		expect(plateaus('size 0.1 near a.left, b.right')).toEqual([]);
		expect(plateaus('size 0.1 near a.left, b.right within 0.5').map(({ box }) => box)).toEqual([
			[-0.5, -0.5, 0.5, 9.5],
			[98.5, -0.5, 99.5, 9.5]
		]);
	});

	it('are left out of the rule of a region where there is no zone, as they then say nothing that its size does not', () => {
		for (const zone of ['', 'size by turn 30', 'size by gap 3']) {
			const field = fieldOf(zone);
			expect([field.at(1, 1), field.at(5, -40)]).toEqual([1, 1]);
			expect(ruleIn(field, 0.5, 1.2)).toEqual({ size: 0.5, growth: 1.2 });
		}
		expect(ruleIn(fieldOf('size 0.1 near a.left'), 0.5, 1.2).field!.at(0, 4)).toBe(0.1);
	});

	it('of curvature and of gaps divide the pieces', () => {
		const round = run(`circle c = around (30, 25) radius 2\n${plate}size by turn 40`);
		expect(division(round, 'c').count).toBe(40);
		const narrow = run(`circle c = around (50, 25) radius 24\n${plate}size by gap 4`);
		// One wide at its narrowest: four elements across, at the circle and at the wall.
		expect(division(narrow, 'b.top').figures.smallest).toBeLessThan(0.3);
		expect(elements(narrow).smallest).toBeGreaterThan(28);
	});

	it('grow through the region, from one outline to another: an obstacle near a wall makes the wall finer', () => {
		const near = run(
			'rectangle b = (0, 0) to (40, 20)\ncircle c = around (20, 1.4) radius 1\nregion r at (1, 10)\ndivide c into 100\nsize 3 growth 1.2\nfill r triangles'
		);
		expect(errors(near)).toEqual([]);
		const wall = division(near, 'b.bottom');
		// The cells of the circle are 2π/100, and the wall is 0.4 away: 0.063 + 0.2 · 0.4, and away from there ever more.
		expect(wall.figures.smallest).toBeLessThan(0.15);
		expect(wall.figures.largest).toBeGreaterThan(2.5);
		expect(elements(near).smallest).toBeGreaterThan(30);
		// The far wall does not know of it.
		expect(division(near, 'b.top').count).toBe(13);
	});

	it('fit into a gap without being told, but not into one that is a mistake', () => {
		const beside = (gap: number) =>
			run(
				`rectangle b = (0, 0) to (40, 20)\ncircle c = around (20, ${gap + 4}) radius 4\nregion r at (0.1, 19)\nsize 2 growth 1.2\nfill r triangles`
			);
		const narrow = beside(0.5);
		expect(errors(narrow)).toEqual([]);
		// About 1.2 times the gap at its narrowest, as the count has it.
		expect(division(narrow, 'b.bottom').figures.smallest).toBeLessThan(0.7);
		expect(elements(narrow).smallest).toBeGreaterThan(30);
		// A gap of a thousandth takes a fiftieth of the size, and not two thousand times as many elements.
		const mistake = beside(0.001);
		expect(division(mistake, 'b.bottom').figures.smallest).toBeGreaterThan(0.035);
		expect(mistake.mesh.triangles.length / 3).toBeLessThan(10 * (narrow.mesh.triangles.length / 3));
	});

	it('fit into a gap wherever it lies between the places that are looked at', () => {
		const tip = (x: number, gap: number) => `polyline t = (${x}, ${gap}) to (${x + 1.5}, 9) to (${x - 1.5}, 9) closed`;
		const hole = (x: number, gap: number) => `circle t = around (${x}, ${gap + 3}) radius 3`;
		fc.assert(
			fc.property(
				fc.double({ min: 18, max: 22, noNaN: true }),
				fc.double({ min: 0.12, max: 0.8, noNaN: true }),
				fc.double({ min: 1.05, max: 1.4, noNaN: true }),
				fc.constantFrom(tip, hole),
				(x, gap, growth, beside) => {
					const result = run(
						`rectangle b = (0, 0) to (40, 20)\n${beside(x, gap)}\nregion r at (0.1, 19)\nsize 2 growth ${growth}\nfill r triangles`
					);
					expect(division(result, 'b.bottom').figures.smallest).toBeLessThan(1.4 * 1.1 * gap);
				}
			),
			{ numRuns: 60 }
		);
	});

	it('do not grow through what is not meshed', () => {
		const apart = run(
			'rectangle b = (0, 0) to (40, 20)\nrectangle other = (0, -20) to (40, -0.1)\nregion r at (1, 10)\nregion s at (1, -10)\ndivide other.top into 400\nsize 3 growth 1.2\nfill r triangles\nfill s triangles'
		);
		expect(division(apart, 'b.bottom').count).toBe(13);
	});

	it('of gaps are seen between two pieces that meet, as long as they open by less than 30°', () => {
		const lens = (height: number) =>
			run(
				`arc over = (0, 0) to (40, 0) through (20, ${height})\narc under = (0, 0) to (40, 0) through (20, ${-height})\nregion r at (20, 0)\nsize 4\nsize by gap 4\nfill r triangles`
			);
		// Two wide in the middle, and opening by 11° at the tips: four elements across, all the way.
		const flat = lens(1);
		expect(errors(flat)).toEqual([]);
		const { edges } = elements(flat);
		const middle = edges.filter((e) => Math.abs(e.x - 20) < 3);
		expect(middle.reduce((s, e) => s + e.length, 0) / middle.length).toBeLessThan(0.6);
		// Ten wide, opening by 100°: the size of the region is finer than a fourth of it nowhere.
		expect(division(lens(10), 'over').figures.smallest).toBeGreaterThan(1.5);
	});

	it('that cannot be say so and change nothing else', () => {
		const said = (zone: string) => {
			const result = run(`line l = (10, 10) to (20, 10)\n${plate}${zone}`);
			expect(result.regions).toHaveLength(1);
			return errors(result).join('\n');
		};
		expect(said('size 0 inside circle around (0, 0) radius 5')).toMatch(/above zero, found 0/);
		expect(said('size -1 near l')).toMatch(/above zero/);
		expect(said('size 1 inside l')).toMatch(/“l” is open; a zone is the inside of a closed curve/);
		expect(said('size 1 near nowhere')).toMatch(/no curve is named “nowhere”/);
		expect(said('size by gap 0.5')).toMatch(/0\.5 elements across a gap do not work/);
		expect(said('size 0.0001 inside circle around (50, 20) radius 15')).toMatch(/above the limit of 8000000; use larger sizes/);
	});

	it('fill again only what they touch: the same field keeps the fill', () => {
		const pipeline = new Pipeline(() => 0);
		const text = `recipe 1\n${plate}size 0.5 inside circle around (60, 20) radius 5\n`;
		const go = (t: string) => finish(pipeline.run({ text: t, files: {} }));
		expect(go(text).refilled).toEqual(['r']);
		expect(go(`${text}group wall = b as wall\n`).refilled).toEqual([]);
		expect(go(text.replace('radius 5', 'radius 6')).refilled).toEqual(['r']);
	});

	it('that follow a parameter are filled anew, though their statement stays the same', () => {
		const pipeline = new Pipeline(() => 0);
		const go = (h: string, r: string) =>
			finish(
				pipeline.run({
					text: `recipe 1\nlet h = ${h}\nlet r = ${r}\n${plate}size h inside circle around (4, 4) radius r\n`,
					files: {}
				})
			);
		const wide = go('0.5', '20');
		expect(go('0.5', '20').refilled).toEqual([]);
		expect(go('0.6', '20').refilled).toEqual(['r']);
		expect(go('0.6', '20.5').refilled).toEqual(['r']);
		expect(go('0.5', '20').mesh.triangles).toEqual(wide.mesh.triangles);
	});
});

describe('the prediction', () => {
	it('is near the number of triangles that come out', () => {
		for (const zone of ['', 'size 0.5 inside circle around (60, 20) radius 5', 'size 1 near b.left within 3']) {
			const result = run(`${plate}${zone}`);
			const made = result.mesh.triangles.length / 3;
			expect(result.predicted / made).toBeGreaterThan(0.7);
			expect(result.predicted / made).toBeLessThan(1.4);
		}
	});
});
