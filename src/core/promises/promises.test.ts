import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { checkPromises, type PromiseCheck } from './check.ts';
import { meshOnDrawing } from './mesh-on-drawing.ts';
import { randomRecipe } from './random-recipe.test-support.ts';
import { promiseMeasures } from './table.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\nunits mm\n${text}\n`, files: {} }));
const box = 'rectangle b = (0, 0) to (30, 20)\nregion r bounded by b\nsize 2';
const of = (result: Result, asks: PromiseCheck['asks']) => result.promises.filter((p) => p.asks === asks);
const missed = (result: Result) => result.promises.filter(({ isKept }) => !isKept).map(({ asks }) => asks);
const codes = (result: Result) => result.findings.map(({ code }) => code).filter((code) => code !== 'unlabelled');

describe('what is asked of divisions is measured on the mesh', () => {
	it.each([
		['into 7', 'count', 7],
		['by size 2.5', 'division size', 12],
		['into 10 first 0.5 at b.left', 'first cell', 0.5],
		['into 10 bias 4 toward both', 'bias', 4],
		['into 10 growth 1.3 toward b.left', 'cell growth', 1.3],
		['first 0.2 last 2 at b.left', 'last cell', 2],
		['last 3 first 0.3 at both', 'first cell', 0.3],
		['first 0.2 growth 1.2 largest 1.5 at b.left', 'largest cell', 1.5],
		['positions 0.1, 0.5 from b.left', 'positions', 0.1]
	] as const)('divide b.bottom %s', (clause, asks, asked) => {
		const result = run(`${box}\ndivide b.bottom ${clause}\nfill r triangles`);
		const [check, ...more] = of(result, asks);
		expect(more).toEqual([]);
		expect(check).toMatchObject({ asked, isKept: true });
		if (asks !== 'largest cell') expect(check!.got).toBeCloseTo(asked, 6);
	});

	it('of a spacing that a later statement overrules nothing is left', () => {
		const result = run(`${box}\ndivide b.bottom into 10 bias 4 toward both\ndivide b.bottom into 6\nfill r triangles`);
		expect(of(result, 'count')).toMatchObject([{ asked: 6, got: 6 }]);
		expect(of(result, 'bias')).toMatchObject([{ asked: 4, isKept: true }]);
	});

	it('a count that two typed numbers do not allow is said, with what came', () => {
		const result = run(`${box}\ndivide b.bottom by size 3\ndivide b.top by size 0.5\nfill r structured`);
		expect(of(result, 'division size')).toMatchObject([
			{ asked: 10, got: 60, isKept: false },
			{ asked: 60, got: 60, isKept: true }
		]);
		expect(codes(result)).toContain('not-as-asked');
	});

	it('a first cell at a curve is measured square to that curve, however deep it bends', () => {
		const result = run(`circle c = around (0, 0) radius 5
circle o = around (0, 0) radius 20
line w = (3, 4) to (18, 8)
region r bounded by o, c
region h bounded by c
size 2
divide w into 12 first 0.3 at c
fill h none
fill r triangles`);
		const [check] = of(result, 'first cell');
		const { x, y } = result.mesh;
		const distances = [...x.keys()].map((n) => Math.hypot(x[n]!, y[n]!) - 5).filter((d) => Math.abs(d - check!.got) < 1e-6);
		expect(distances.length).toBeGreaterThan(0);
		expect(check!.got).toBeCloseTo(0.3, 1);
	});
});

describe('layers act on regions in rows', () => {
	const layers = 'first 0.1 growth 1.2 count 5';
	it.each([
		['one side', `layers on b.bottom ${layers}`],
		['two that meet', `layers on b.top, b.right ${layers}`],
		['all sides', `layers on b.bottom, b.right, b.top, b.left ${layers}`],
		['beside a count', `layers on b.bottom ${layers}\ndivide b.left into 12`]
	])('%s', (_, statements) => {
		for (const fill of ['structured', 'triangles halved']) {
			const result = run(`${box}\n${statements}\nfill r ${fill}`);
			// Where a count leaves few rows for the rest, these are larger than the size; the layers are whole.
			expect(
				missed(result).filter((asks) => asks !== 'size'),
				fill
			).toEqual([]);
			expect(of(result, 'first height')[0]!.got).toBeCloseTo(0.1, 9);
		}
	});

	it('around a hole, at the wall of a ring that is not centred, too', () => {
		const result = run(`ellipse c = around (4, 0) radii 10, 3
circle o = around (0, 0) radius 40
region r bounded by o, c
region h bounded by c
size 4
layers on c ${layers}
fill h none
fill r structured`);
		expect(of(result, 'first height')).toMatchObject([{ isKept: true }]);
	});

	it('a first row asked of a ring is as high as asked all around, square to the curve', () => {
		const result = run(`ellipse c = around (0, 0) radii 10, 3
circle o = around (0, 0) radius 40
region r bounded by o, c
region h bounded by c
size 4
fill h none
fill r structured into 40 first 0.01 at c`);
		expect(of(result, 'first row')).toMatchObject([{ asked: 0.01, isKept: true }]);
		expect(of(result, 'rows across')).toMatchObject([{ asked: 40, got: 40, isKept: true }]);
	});
});

describe('zones act in rows', () => {
	it.each([
		['near', 'size 0.5 near b.bottom within 2', 'structured'],
		['near', 'size 0.5 near b.bottom within 2', 'triangles halved'],
		['box', 'size 0.4 inside box (14, 9) to (16, 11)', 'structured'],
		['point', 'size 0.4 at (7, 7)', 'structured'],
		['box', 'size 0.4 inside box (14, 9) to (16, 11)', 'quads']
	])('%s: %s, %s', (_, zone, fill) => {
		const result = run(`${box}\n${zone}\nfill r ${fill}`);
		expect(missed(result)).toEqual([]);
		expect(of(result, 'size')).toHaveLength(2);
	});

	it('a passage between walls has as many rows across as are asked', () => {
		const result = run('rectangle b = (0, 0) to (40, 3)\nregion r bounded by b\nsize 3\nsize by gap 6\nfill r structured');
		expect(result.divisions.pieces.map(({ count }) => count)).toContain(6);
	});

	it('edges that a typed count keeps long in a zone are said', () => {
		const result = run(`${box}\ndivide b.bottom into 8\nsize 0.5 inside box (5, 0) to (25, 5)\nfill r triangles`);
		expect(missed(result)).toEqual(['size']);
		expect(codes(result)).toContain('size-missed');
	});
});

describe('labels', () => {
	test('edges of groups, elements of materials, nodes, pairs and two sides are counted', () => {
		const result = run(`${box}
line v = (10, 10) to (20, 10)
node (5, 5)
group west = b.left as inflow
group steel = region r
baffle fin = v as wall
periodic b.bottom with b.top
fill r triangles`);
		expect(missed(result)).toEqual([]);
		expect(result.promises.map(({ asks }) => asks)).toEqual(
			expect.arrayContaining(['edges', 'elements', 'node', 'two sides', 'periodic'])
		);
	});

	test('a mesh whose group lost an edge does not pass', () => {
		const result = run(`${box}\ngroup west = b.left as inflow\nfill r triangles`);
		const groups = result.mesh.groups.map((g) => (g.members === 'edges' ? { ...g, pieces: [] } : g));
		const checks = checkPromises({ ...result, mesh: { ...result.mesh, groups } });
		expect(checks.filter(({ asks }) => asks === 'edges')).toMatchObject([{ isKept: false, asked: 10, got: 0 }]);
	});
});

test('every kind of promise has a measure, and a wrong mesh is seen: one node moved breaks what it holds', () => {
	expect(Object.keys(promiseMeasures).length).toBeGreaterThan(20);
	const result = run(`${box}\ndivide b.bottom into 10 first 0.5 at b.left\nfill r triangles`);
	const x = result.mesh.x.map((value, n) => (Math.abs(value - 0.5) < 1e-9 && result.mesh.y[n] === 0 ? 0.6 : value));
	expect(x).not.toEqual(result.mesh.x);
	const checks = checkPromises({ ...result, mesh: { ...result.mesh, x } });
	expect(checks.filter(({ asks, isKept }) => asks === 'first cell' && !isKept)).toHaveLength(1);
});

test('a mesh laid on its drawing by its nodes alone gives what the mesh itself gives', () => {
	fc.assert(
		fc.property(fc.integer({ min: 0, max: 1_000_000 }), (seed) => {
			const result = finish(new Pipeline(() => 0).run({ text: randomRecipe(seed), files: {} }));
			const laid = meshOnDrawing(result.mesh, result.arrangement, result.mesh.groups);
			const both = [result.mesh, laid].map((mesh) =>
				checkPromises({ ...result, mesh })
					.filter(({ asks }) => asks !== 'periodic')
					.map(({ what, asked, got, isKept }) => `${what} ${asked} ${got.toPrecision(4)} ${isKept}`)
			);
			expect(both[1]).toEqual(both[0]);
		}),
		{ numRuns: 25 }
	);
});

/** So many random recipes in `npm test`; more in `npm run test:long`. */
const recipes = process.env.LONG ? 2000 : 100;

test('no promise of a random recipe is missed without a finding about its statement or its pieces', () => {
	fc.assert(
		fc.property(fc.integer({ min: 0, max: 1_000_000_000 }), (seed) => {
			const text = randomRecipe(seed);
			const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
			expect(codes(result), text).not.toContain('internal');
			for (const { line, isKept, pieces = [], what } of result.promises) {
				if (isKept) continue;
				const { from, to } = result.recipe.lines[line]!;
				const said = result.findings.some(
					({ code, span, pieces: about = [] }) =>
						code !== 'unlabelled' && ((span && span.from < to && span.to > from) || pieces.some((p) => about.includes(p)))
				);
				expect(said, `${what}\n${text}`).toBe(true);
			}
		}),
		{ numRuns: recipes }
	);
}, 600_000);

describe('chains that close', () => {
	it('are divided as one all around', () => {
		const result = run(`circle c = around (0, 0) radius 10
line a = (-20, 0) to (20, 0)
line b = (0, -20) to (0, 20)
size 3
divide c as one into 40
region r at (3, 3)
fill r triangles`);
		expect(result.findings.filter(({ code }) => code === 'divide')).toEqual([]);
		const { byCurve } = result.arrangement;
		const c = result.model.curvesByName.get('c')![0]!;
		expect(byCurve[c]!.map(({ piece }) => result.divisions.pieces[piece]!.count)).toEqual([10, 10, 10, 10]);
	});
});

test('a label changes no measure of the mesh: what is known is taken, and what labels hold is looked at anew', () => {
	const pipeline = new Pipeline(() => 0);
	const text = `recipe 1\n${box}\ndivide b.left into 9 bias 3 toward both\ngroup west = b.left\nfill r triangles\n`;
	const [before, after] = [text, text.replace('group west = b.left', 'group west = b.left, b.top')].map((t) =>
		finish(pipeline.run({ text: t, files: {} }))
	);
	const plain = (list: readonly PromiseCheck[]) => list.filter(({ asks }) => asks !== 'edges');
	expect(plain(after!.promises)).toEqual(plain(before!.promises));
	expect(of(after!, 'edges')[0]!.asked).toBeGreaterThan(of(before!, 'edges')[0]!.asked);
	expect(finish(new Pipeline(() => 0).run({ text: after!.recipe.text, files: {} })).promises).toEqual(after!.promises);
});
