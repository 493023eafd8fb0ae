import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { applyEdits } from '../text/edit.ts';
import type { CoordinateFiles } from '../recipe/model/model.ts';
import { keepNames } from '../domain/lasting.ts';

const run = (text: string, files: CoordinateFiles = {}): Result => finish(new Pipeline(() => 0).run({ text, files }));
const of = (result: Result, code: string) => result.findings.filter((f) => f.code === code);
/** The recipe after the mend of its first finding of a kind. */
const mended = (text: string, code: string, files: CoordinateFiles = {}) => {
	const [finding] = of(run(text, files), code);
	if (!finding?.mend) throw new Error(`no mend for ${code}`);
	const after = applyEdits(text, finding.mend.edits);
	expect(of(run(after, files), code)).toHaveLength(of(run(text, files), code).length - 1);
	return after;
};

describe('ends that all but meet', () => {
	it('are joined at the other one’s place, by its name where it has one', () => {
		const text = 'point p = (10, 0)\nline a = (0, 0) to p\nline b = (10.004, 0) to (10, 8)';
		expect(of(run(text), 'near-ends')[0]!.message).toContain('0.004 away from “b”');
		expect(mended(text, 'near-ends')).toContain('line b = p to (10, 8)');
	});

	it('are joined to the end of a curve from a file by a function of it', () => {
		const files = { 'w.csv': { outlines: [{ x: Float64Array.of(0, 5, 10), y: Float64Array.of(0, 2, 0) }] } };
		expect(mended('polyline w = from "w.csv"\nline b = (10.01, 0) to (10, 8)', 'near-ends', files)).toContain(
			'line b = end(w) to (10, 8)'
		);
	});

	it('are no open ends; far ones are', () => {
		const result = run('line a = (0, 0) to (10, 0)\nline b = (13, 0) to (13, 8)');
		expect(of(result, 'near-ends')).toEqual([]);
		expect(of(result, 'open-end')).toHaveLength(4);
	});
});

describe('an outline that crosses itself', () => {
	const rows = [
		[0, 0],
		[10, 0],
		[10, 6],
		[4, 9],
		[5, -3],
		[0, 6]
	];
	const files = {
		'w.csv': {
			outlines: [
				{
					x: Float64Array.from(rows, (r) => r[0]!),
					y: Float64Array.from(rows, (r) => r[1]!),
					lines: Uint32Array.of(2, 3, 4, 5, 6, 7)
				}
			]
		}
	};

	it('is told with the lines of its file, and mended by leaving out the point that does it', () => {
		const text = 'polyline w = from "w.csv" closed';
		const [finding] = of(run(text, files), 'self-crossing');
		expect(finding!.message).toMatch(/crosses itself at \(.*\) \(lines 2–3 and \d–\d of its file\)/);
		const after = applyEdits(text, finding!.mend!.edits);
		expect(after).toContain('without 6');
		expect(of(run(after, files), 'self-crossing')).toEqual([]);
	});

	it('that is written out loses the point in the text', () => {
		const text = 'polyline w = (0, 0) to (10, 0) to (10, 6) to (4, 9) to (5, -3) to (0, 6) closed';
		expect(applyEdits(text, of(run(text), 'self-crossing')[0]!.mend!.edits)).toBe(
			'polyline w = (0, 0) to (10, 0) to (10, 6) to (4, 9) to (0, 6) closed'
		);
	});

	it('or runs out and back has a spur, whose tip goes', () => {
		const text = 'polyline w = (0, 0) to (10, 0) to (10, 4) to (10, 9) to (10, 4) to (0, 4) closed';
		const after = mended(text, 'spur');
		expect(after).toContain('(10, 4) to (10, 4)');
	});
});

describe('curves that lie on one another', () => {
	it('wholly are doubled, and the later one goes', () => {
		const text = 'line a = (0, 0) to (10, 0)\nline b = (10, 0) to (0, 0)';
		expect(mended(text, 'doubled')).toBe('line a = (0, 0) to (10, 0)\n');
	});

	it('for a part of the way are told', () => {
		expect(of(run('line a = (0, 0) to (10, 0)\nline b = (5, 0) to (15, 0)'), 'overlap')[0]!.message).toContain('“b” lies on “a”');
	});

	it('as sides of two rectangles are as they should be', () => {
		const result = run('rectangle a = (0, 0) to (10, 5)\nrectangle b = (10, 0) to (20, 5)');
		expect([...of(result, 'doubled'), ...of(result, 'overlap')]).toEqual([]);
	});
});

describe('pieces and corners', () => {
	it('that are far too short are merged', () => {
		const text = 'polyline w = (0, 0) to (100, 0) to (100.05, 0.03) to (100, 50) to (0, 50) closed';
		expect(of(run(text), 'short-piece')[0]!.message).toContain('times shorter than its neighbours');
		mended(text, 'short-piece');
	});

	it('that are too sharp are told with their angle', () => {
		const result = run('polyline w = (0, 0) to (100, 0) to (100, 5) closed\nregion r at (90, 1)\nfill r triangles size 5');
		expect(of(result, 'sharp-corner')[0]!.message).toContain('has 2.86°');
	});
});

describe('an axisymmetric section', () => {
	it('stays on its side of the axis', () => {
		const result = run('frame axisymmetric about x\nrectangle r = (0, -4) to (10, 5)');
		expect(of(result, 'below-axis')[0]!.message).toContain('y ≥ 0');
		expect(of(run('rectangle r = (0, -4) to (10, 5)'), 'below-axis')).toEqual([]);
	});

	it('is put exactly on the axis where it nearly is', () => {
		const text = 'frame axisymmetric about x\npoint a = (0, 0.0001)\nline b = a to (10, 0)\nline c = (10, 0) to (10, 5)';
		expect(mended(text, 'near-axis')).toContain('point a = (0, 0)');
	});
});

describe('curves that bound nothing', () => {
	it('are told once something is closed, and taken away', () => {
		const text = 'rectangle r = (0, 0) to (10, 5)\nline stray = (20, 0) to (30, 0)';
		expect(mended(text, 'bounds-nothing')).not.toContain('stray');
		expect(of(run('line stray = (20, 0) to (30, 0)'), 'bounds-nothing')).toEqual([]);
	});
});

describe('a region that curves cut up', () => {
	const text =
		'rectangle r = (0, 0) to (10, 5)\nregion plate bounded by r\nfill plate triangles size 1\ngroup steel = region plate\n';

	it('stays one region, of several parts', () => {
		const whole = run(text);
		const cut = run(`${text}line k = (5, 0) to (5, 5)\nline m = (0, 2) to (10, 2)`);
		expect(whole.regions.map((r) => r.name)).toEqual(['plate']);
		expect(cut.regions.map((r) => r.name)).toEqual(['plate[1]', 'plate[2]', 'plate[3]', 'plate[4]']);
		expect(cut.mesh.groups[0]!).toMatchObject({ members: 'elements', regions: [0, 1, 2, 3] });
		expect(cut.findings.filter((f) => f.severity === 'error')).toEqual([]);
		expect(new Set(cut.mesh.triangleRegion).size).toBe(4);
	});

	it('leaves holes out, named or not', () => {
		const holed = run(`${text}circle eye = around (3, 2.5) radius 1`);
		expect(holed.regions.map((r) => r.name)).toEqual(['plate']);
		expect(holed.arrangement.faces[holed.regions[0]!.face]!.area).toBeCloseTo(50 - Math.PI, 9);
	});

	it('has a node where one is asked for', () => {
		const { mesh } = run(`${text}node (3.3, 2.2)`);
		expect([...mesh.x].some((x, i) => x === 3.3 && mesh.y[i] === 2.2)).toBe(true);
	});
});

describe('names of pieces', () => {
	const base =
		'line wall = (0, 0) to (10, 0)\nline k = (5, -1) to (5, 1)\ndivide wall[2] into 7\ngroup g = wall[1], wall[2] as wall\n';
	const after = (text: string) => applyEdits(text, keepNames(run(base), run(text)));

	it('follow when a new curve shifts their count', () => {
		const text = `${base}line n = (2, -1) to (2, 1)`;
		expect(after(text)).toContain('divide wall[3] into 7');
		expect(after(text)).toContain('group g = wall[1], wall[2], wall[3] as wall');
	});

	it('become both parts when a piece is cut', () => {
		expect(after(`${base}line n = (8, -1) to (8, 1)`)).toContain('divide wall[2], wall[3] into 7');
	});

	it('stay when nothing shifts, and when the statement itself was edited', () => {
		expect(keepNames(run(base), run(base.replace('(5, 1)', '(5, 2)')))).toEqual([]);
		expect(after(`${base}line n = (2, -1) to (2, 1)`.replace('into 7', 'into 8'))).toContain('divide wall[2] into 8');
	});

	it('go back when the curve goes', () => {
		const three = `${base.replace('wall[2] into', 'wall[3] into')}line n = (2, -1) to (2, 1)`;
		const two = three.replace('\nline n = (2, -1) to (2, 1)', '\n');
		expect(applyEdits(two, keepNames(run(three), run(two)))).toContain('divide wall[2] into 7');
	});
});
