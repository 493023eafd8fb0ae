import { ElementShapes } from './quality/element-shapes.ts';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readCoordinates } from '../formats/coordinates.ts';
import { finish } from './numeric/work.ts';
import { elementCount, groupEdges, isBoundary } from './mesh/mesh.ts';
import { Pipeline } from './pipeline.ts';
import { applyEdits } from './text/edit.ts';
import { histogram, measures } from './quality/quality.ts';

const demo = (name: string) => readFileSync(`demo/${name}.tessellon`, 'utf8');
const files = { 'throat-wall.csv': readCoordinates(readFileSync('demo/throat-wall.csv')) };
const run = (text: string, pipeline = new Pipeline(() => 0)) => finish(pipeline.run({ text, files }));

describe('the pipeline', () => {
	it('meshes every demo without a finding', () => {
		for (const name of ['venturi', 'cold-plate', 'relief-valve', 'splitter-elbow', 'gasket-groove']) {
			const result = run(demo(name));
			expect(result.findings).toEqual([]);
			expect(elementCount(result.mesh)).toBeGreaterThan(900);
		}
	});

	it('gives the same arrays for the same recipe', () => {
		expect(run(demo('cold-plate')).mesh).toEqual(run(demo('cold-plate')).mesh);
	});

	it('fills again only the regions that an edit touches', () => {
		const pipeline = new Pipeline(() => 0);
		expect(run(demo('venturi'), pipeline).refilled).toEqual(['approach', 'meter', 'recovery']);
		expect(run(demo('venturi').replace('divide throat into 90', 'divide throat into 91'), pipeline).refilled).toEqual(['meter']);
		expect(
			run(
				demo('venturi').replace('divide throat into 90', 'divide throat into 91').replace('title "Venturi tube"', 'title "V"'),
				pipeline
			).refilled
		).toEqual([]);
	});

	it('fills two blocks of twenty again when a count of a mesh of 100 000 cells changes', () => {
		const columns = 10;
		const text = (third: number) => {
			const at = (i: number, j: number) => `(${10 * i}, ${12 * j})`;
			const lines: string[] = [];
			const blocks: string[] = [];
			for (let i = 0; i < columns; i++) {
				for (let j = 0; j <= 2; j++) lines.push(`line h${i}_${j} = ${at(i, j)} to ${at(i + 1, j)}`);
				lines.push(`divide h${i}_0 into ${i === 2 ? third : 100} bias 3 toward both`);
				for (let j = 0; j < 2; j++) {
					lines.push(`region b${i}_${j} at (${10 * i + 5}, ${12 * j + 6})`);
					blocks.push(`b${i}_${j}`);
				}
			}
			for (let i = 0; i <= columns; i++)
				for (let j = 0; j < 2; j++) lines.push(`line v${i}_${j} = ${at(i, j)} to ${at(i, j + 1)}`);
			return `recipe 1\n${lines.join('\n')}\ndivide v0_0, v0_1 into 50\nfill ${blocks.join(', ')} structured\n`;
		};
		const pipeline = new Pipeline(() => 0);
		const before = run(text(100), pipeline);
		expect(before.refilled).toHaveLength(20);
		expect(elementCount(before.mesh)).toBe(100_000);
		const after = run(text(101), pipeline);
		expect(after.refilled).toEqual(['b2_0', 'b2_1']);
		expect(elementCount(after.mesh)).toBe(100_100);
	});

	it('makes no more elements than it may without a question, and forgets nothing by it', () => {
		const pipeline = new Pipeline(() => 0);
		const text = (size: number) =>
			`recipe 1\nrectangle a = (0, 0) to (10, 10)\nrectangle b = (10, 0) to (20, 10)\nregion r at (1, 1)\nregion s at (15, 1)\nfill r triangles size ${size}\nfill s structured\nsize 1\ndivide a.right into 10\ndivide b.bottom into 10`;
		const go = (size: number, askAbove: number) => finish(pipeline.run({ text: text(size), files: {}, askAbove }));
		expect(go(1, 2000).held).toBeUndefined();
		const held = go(0.1, 2000);
		expect(held.held).toBeGreaterThan(5000);
		expect(held.held).toBe(held.predicted);
		expect(elementCount(held.mesh)).toBe(0);
		expect(held.refilled).toEqual([]);
		// The size of before is still known, and what is agreed to is made.
		expect(go(1, 2000).refilled).toEqual([]);
		const made = go(0.1, 50_000);
		expect(made.held).toBeUndefined();
		expect(elementCount(made.mesh) / held.held!).toBeCloseTo(1, 0);
		// What is refused in any case is no question either.
		const refused = go(0.0001, 50_000);
		expect(refused.held).toBeUndefined();
		expect(refused.findings.map((f) => f.code)).toContain('too-many');
		expect(elementCount(go(0.1, 50_000).mesh)).toBe(elementCount(made.mesh));
		// What is there already is no question.
		expect(go(0.1, 2000).held).toBeUndefined();
	});

	it('gives the same result with and without a past', () => {
		const pipeline = new Pipeline(() => 0);
		run(demo('venturi'), pipeline);
		const edited = demo('venturi').replace('let rows = 24', 'let rows = 31');
		expect(run(edited, pipeline).mesh).toEqual(run(edited).mesh);
	});

	it('can be stopped, and goes on soundly afterwards', () => {
		const pipeline = new Pipeline(() => 0);
		const work = pipeline.run({ text: demo('cold-plate'), files });
		for (let k = 0; k < 3; k++) work.next();
		work.return(undefined as never);
		expect(run(demo('cold-plate'), pipeline).mesh).toEqual(run(demo('cold-plate')).mesh);
	});

	it('yields everything that the sound statements define', () => {
		const result = run(`${demo('cold-plate')}\nfrobnicate\nline x = a to b\nfill nowhere triangles\n`);
		expect(elementCount(result.mesh)).toBe(elementCount(run(demo('cold-plate')).mesh));
		expect(result.findings.map((f) => f.code).sort()).toEqual(['syntax', 'unknown-region', 'value']);
	});

	it('survives any single line being damaged', () => {
		const lines = demo('venturi').split('\n');
		for (let k = 0; k < lines.length; k++) {
			const broken = [...lines.slice(0, k), `${lines[k]} ) oops`, ...lines.slice(k + 1)].join('\n');
			const result = run(broken);
			if (lines[k]!.replace(/#.*/, '').trim() !== '' && !lines[k]!.includes('#'))
				expect(result.findings.some((f) => f.severity === 'error')).toBe(true);
		}
	});

	it('takes an empty recipe as an empty sheet', () => {
		const result = run('');
		expect(elementCount(result.mesh)).toBe(0);
		expect(result.findings.map((f) => f.code)).toEqual(['no-header']);
	});
});

describe('findings', () => {
	const box = 'recipe 1\nrectangle box = (0, 0) to (4, 3)\n';
	const of = (text: string, code: string) => run(text).findings.find((f) => f.code === code);

	it('have mends that settle them', () => {
		let text = box;
		for (const code of ['unnamed-face', 'no-fill', 'no-size']) {
			const finding = of(text, code)!;
			text = applyEdits(text, finding.mend!.edits);
			expect(of(text, code)).toBeUndefined();
		}
		expect(elementCount(run(text).mesh)).toBeGreaterThan(100);
	});

	it('show open ends and what stays open', () => {
		const text =
			'recipe 1\nline a = (0, 0) to (4, 0)\nline b = (4, 0) to (4, 3)\nline c = (4, 3) to (0.1, 0)\nregion r bounded by a, b, c\n';
		expect(run('recipe 1\nline a = (0, 0) to (4, 0)').findings.filter((f) => f.code === 'open-end')).toHaveLength(2);
		expect(of(text, 'open-end')).toMatchObject({ at: { x: 0, y: 0 } });
		expect(
			of('recipe 1\nline a = (0, 0) to (4, 0)\nline b = (4, 0) to (4, 3)\nregion r bounded by a, b', 'region-open')!.message
		).toMatch(/a, b do not close around a region; the outline is open at \(0, 0\)/);
	});

	it('tell a region that matches several faces, and one that is none', () => {
		expect(of(`${box}line cut = (2, 0) to (2, 3)\nregion r bounded by box, cut`, 'region-ambiguous')!.message).toMatch(
			/bound 2 separate faces/
		);
		expect(of(`${box}region r at (9, 9)`, 'region-open')!.message).toMatch(/no closed outline lies around \(9, 9\)/);
		expect(of(`${box}region r at (1, 1)\nregion s at (2, 2)`, 'region-twice')!.message).toMatch(
			/same part of the domain as region “r”/
		);
	});

	it('count what is in no group, and what is in two', () => {
		const text = `${box}region r at (1, 1)\nfill r triangles size 1\ngroup a = box.left, box.top as wall\ngroup b = box.left as wall`;
		expect(
			run(text)
				.findings.filter((f) => f.code === 'unlabelled')
				.map((f) => f.message.match(/“(.*?)”/)![1])
		).toEqual(['box.bottom', 'box.right']);
		expect(of(text, 'two-groups')!.message).toMatch(/“box.left” is in the groups “a” and “b”/);
	});

	it('refuse a size that would take too many elements before making any', () => {
		expect(of(`${box}region r at (1, 1)\ndivide box into 4\nfill r triangles size 0.0001`, 'too-many')!.message).toMatch(
			/the sizes asked would take about .* triangles, above the limit/
		);
	});

	it('say where chords of coarse curves cross', () => {
		const text =
			'recipe 1\ncircle big = around (0, 0) radius 10\ncircle small = around (0, 0) radius 9.5\nregion ring bounded by big\ndivide big into 3\ndivide small into 40\nfill ring triangles size 2';
		expect(of(text, 'chords-cross')!.message).toMatch(/region “ring” could not be filled: the straight edge from .* crosses/);
	});

	it('name the place where a block folds and stays folded', () => {
		const text =
			'recipe 1\npolyline p = (0, 0) to (10, 0) to (10, 10) to (9, 1) to (1, 1) to (0, 10) closed\nregion r bounded by p\nfill r structured corners (0, 0), (10, 0), (10, 10), (0, 10)\nsize 1';
		const found = of(text, 'folded')!;
		expect(found.message).toMatch(/fold over at \(.*\), and smoothing does not cure it; choose other corners/);
		expect(found.at).toBeDefined();
	});
});

describe('groups and quality', () => {
	it('hold the edges of their pieces, the mesh on the left', () => {
		const { mesh } = run(
			'rectangle box = (0, 0) to (4, 3)\nregion r at (1, 1)\ndivide box into 5\nfill r triangles\ngroup top = box.top as wall'
		);
		const edges = groupEdges(mesh, mesh.groups.filter(isBoundary)[0]!);
		expect(edges).toHaveLength(5);
		for (const e of edges) expect(mesh.x[mesh.edges[2 * e]!]! - mesh.x[mesh.edges[2 * e + 1]!]!).toBeGreaterThan(0);
	});

	const measure = (key: string, ...corners: [number, number][]) => {
		const elements = new ElementShapes();
		const [x, y] = [0, 1].map((axis) => Float64Array.from(corners, (c) => c[axis]!)) as [Float64Array, Float64Array];
		elements.take(x, y, Uint32Array.from(corners.keys()), corners.length, 0, 1);
		const values = new Float64Array(1);
		measures.find((m) => m.key === key)!.take(elements, values);
		return values[0]!;
	};

	it('measures have their known values', () => {
		const equilateral: [number, number][] = [
			[0, 0],
			[1, 0],
			[0.5, Math.sqrt(3) / 2]
		];
		const oblong: [number, number][] = [
			[0, 0],
			[4, 0],
			[4, 1],
			[0, 1]
		];
		const right: [number, number][] = [
			[0, 0],
			[1, 0],
			[0, 1]
		];
		expect(measure('minimumAngle', ...equilateral)).toBeCloseTo(60, 12);
		expect(measure('aspectRatio', ...equilateral)).toBeCloseTo(1, 12);
		expect(measure('scaledJacobian', ...equilateral)).toBeCloseTo(1, 12);
		expect(measure('skewness', ...equilateral)).toBeCloseTo(0, 12);
		expect(measure('maximumAngle', ...right)).toBeCloseTo(90, 12);
		// (90 − 60)/(180 − 60) = 1/4 both ways.
		expect(measure('skewness', ...right)).toBeCloseTo(0.25, 12);
		expect(measure('aspectRatio', ...oblong)).toBe(4);
		expect(measure('scaledJacobian', ...oblong)).toBe(1);
		expect(measure('skewness', ...oblong)).toBe(0);
		// A dart: one corner turned in.
		expect(measure('scaledJacobian', [0, 0], [2, 0], [0.5, 0.5], [0, 2])).toBeLessThan(0);
		expect(measure('maximumAngle', [0, 0], [2, 0], [0.5, 0.5], [0, 2])).toBeGreaterThan(180);
	});

	it('the histogram counts every element once, those outside the range in the outer bins', () => {
		const aspect = measures.find((m) => m.key === 'aspectRatio')!;
		expect([...histogram(Float32Array.of(1, 1.5, 9.9, 400, Infinity), aspect, 9)]).toEqual([2, 0, 0, 0, 0, 0, 0, 0, 3]);
	});
});
