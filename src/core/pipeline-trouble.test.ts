import { afterEach, describe, expect, it, vi } from 'vitest';
import { finish } from './numeric/work.ts';
import { Pipeline } from './pipeline.ts';
import { DivideStage } from './stages/divide-stage.ts';
import { MeshStage } from './stages/mesh-stage.ts';
import { ShapeStage } from './stages/shape-stage.ts';
import { WallStage } from './stages/wall-stage.ts';
import * as triangles from './fill/triangles/fill-triangles.ts';

const box = `recipe 1
rectangle box = (0, 0) to (10, 10)
region r at (1, 1)
fill r triangles
size 2
`;
const run = (text: string, pipeline = new Pipeline(() => 0)) => finish(pipeline.run({ text, files: {} }));
const errors = (text: string) => run(text).findings.filter((f) => f.severity === 'error');
const isSentence = (message: string) =>
	expect(message).not.toMatch(/NaN|undefined|Infinity|\[object|Cannot read|is not a|at \w+ \(/);

afterEach(() => vi.restoreAllMocks());

describe('what numbers do not hold', () => {
	it.each([
		'scale box by 1e-200',
		'scale box by 1e160',
		'far f = box around box by 1e155',
		'far f = box around box by 1e300',
		'circle c = around (0, 0) radius 1e300',
		'circle c = around (1e200, 0) radius 1e-200',
		'circle c = around (0, 0) radius 1e-200',
		'line l = (1e308, 1e308) to (-1e308, -1e308)',
		'move box by (1e300, 0)',
		'repeat b = box by (1e306, 0) count 200',
		'node (1e200, 0)',
		'point p = (1e31, 0)'
	])('is an error at its statement, and the rest is there: %s', (statement) => {
		const text = box + statement;
		const { findings, model } = run(text);
		const [error] = findings.filter((f) => f.severity === 'error');
		expect(text.slice(error!.span!.from, error!.span!.to)).toMatch(/1e/);
		expect(error!.code).toBe('value');
		isSentence(error!.message);
		expect(model.curves.length).toBeGreaterThan(3);
	});

	it('a thousand and a half lines to one point leave a sentence and no exception', () => {
		const lines = Array.from(
			{ length: 1450 },
			(_, k) => `line l${k} = (20, 20) to (${20 + 3 * Math.cos(k / 230)}, ${20 + 3 * Math.sin(k / 230)})`
		);
		const { findings } = run(`${box}${lines.join('\n')}\n`);
		expect(findings.map((f) => f.code)).not.toContain('internal');
		findings.forEach((f) => isSentence(f.message));
	});
});

describe('a stage that fails', () => {
	const broken = () => {
		throw new TypeError("Cannot read properties of undefined (reading 'piece')");
	};
	function* brokenLater(): Generator<number, never, void> {
		yield 0;
		return broken();
	}

	it.each([
		['shape', ShapeStage.prototype, 'the drawing failed', 0, false],
		['divide', DivideStage.prototype, 'the division of the pieces failed', 4, false],
		['mesh', MeshStage.prototype, 'the mesh failed', 4, false],
		['walls', WallStage.prototype, 'the figures of walls failed', 4, true]
	] as const)('leaves what the others give, and one finding that says so: %s', (_, prototype, words, pieces, hasMesh) => {
		const pipeline = new Pipeline(() => 0);
		const once = vi
			.spyOn(prototype as unknown as { run: () => unknown }, 'run')
			.mockImplementationOnce(hasMesh ? broken : brokenLater);
		const { findings, arrangement, mesh, model } = run(box, pipeline);
		expect(once).toHaveBeenCalled();
		const failed = findings.filter((f) => f.code === 'internal');
		expect(failed.map((f) => f.message)).toEqual([expect.stringContaining(words)]);
		isSentence(failed[0]!.message);
		expect(model.curves).toHaveLength(4);
		expect(arrangement.pieces).toHaveLength(pieces);
		expect(mesh.triangles.length > 0).toBe(hasMesh);
		// The next run is whole again.
		const next = run(box, pipeline);
		expect(next.findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(next.mesh.triangles.length).toBeGreaterThan(0);
	});

	it('at one region takes no other along, and is at its statement', () => {
		const two = box.replace('size 2', 'rectangle other = (20, 0) to (30, 10)\nregion s at (21, 1)\nfill s triangles\nsize 2');
		vi.spyOn(triangles, 'fillTriangles').mockImplementationOnce(broken);
		const { findings, mesh, unfilled } = run(two);
		const [error] = findings.filter((f) => f.severity === 'error');
		expect(error).toMatchObject({ code: 'internal', message: expect.stringContaining('region “r” could not be filled') });
		expect(two.slice(error!.span!.from, error!.span!.to)).toBe('fill r triangles');
		expect(unfilled).toEqual(['r']);
		expect(new Set(mesh.triangleRegion)).toEqual(new Set([1]));
	});

	it('at one statement leaves what the others say', () => {
		const [error] = errors(`${box}let a = constructor(1)\nlet b = toString(2)`);
		expect(error!.message).toContain('there is no function “constructor”');
		expect(errors(`${box}deliver deck "constructor"`)[0]!.message).toContain('no file “constructor”');
		expect(errors('recipe 1e999')[0]!.message).toBe('this program reads “recipe 1”, not version “1e999”');
	});
});

it('names that are long or many are compared with a bounded number of others', () => {
	const long = (k: number) => `name_that_is_rather_long_for_a_point_of_a_drawing_${String(k).padStart(5, '0')}`;
	const points = Array.from({ length: 3000 }, (_, k) => `point ${long(k)} = (${k}, 0)`);
	const uses = Array.from({ length: 3000 }, (_, k) => `line l${k} = ${long(k).replace('drawing', 'drawnig')} to (0, 1)`);
	const found = errors(`recipe 1\n${points.join('\n')}\n${uses.join('\n')}\nlet x = ${'y'.repeat(100_000)}`);
	expect(found).toHaveLength(3001);
	expect(found[0]!.message).toContain('did you mean');
	expect(Math.max(...found.map((f) => f.message.length))).toBeLessThan(1001);
});
