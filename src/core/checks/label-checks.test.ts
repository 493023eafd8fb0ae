import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { applyEdits } from '../text/edit.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const box =
	'rectangle box = (0, 0) to (40, 20)\nline vane = (10, 10) to (30, 10)\nregion r at (1, 1)\nsize 4\nfill r triangles\n';
const found = (text: string) => run(text).findings.filter((f) => !['unlabelled', 'open-end', 'inner-edge'].includes(f.code));
const codes = (text: string) => found(text).map((f) => f.code);

describe('what a solver would not see', () => {
	it('is a group inside a region, which a mend makes a two-sided wall', () => {
		const text = `recipe 1\n${box}group wall = vane as no_slip_wall`;
		const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
		const finding = result.findings.find((f) => f.code === 'group-inside')!;
		expect(finding.message).toMatch(/“vane” of the group “wall” lies inside a region, so a solver sees no boundary there/);
		expect(finding.at).toEqual({ x: 20, y: 10 });
		const mended = applyEdits(text, finding.mend!.edits);
		expect(mended).toContain('baffle wall = vane as no_slip_wall');
		expect(finish(new Pipeline(() => 0).run({ text: mended, files: {} })).findings.map((f) => f.code)).not.toContain(
			'group-inside'
		);
		// A line between two regions may be an interface.
		const parted = box.replace('(10, 10) to (30, 10)', '(20, 0) to (20, 20)').replace('fill r', 'region s at (39, 1)\nfill r, s');
		expect(codes(`${parted}group contact = vane`)).toEqual([]);
	});

	it('is a group without an edge, a wall of one side, and a piece in two groups', () => {
		expect(
			codes(
				`${box.replace('fill r triangles', 'region s at (50, 5)\nrectangle far_box = (45, 0) to (55, 10)\nfill r triangles\nfill s none')}group g = far_box`
			)
		).toContain('group-empty');
		expect(codes(`${box}baffle w = box.left, vane`)).toEqual(['wall-outside']);
		expect(codes(`${box}group a = box.left\ngroup b = box.left`)).toEqual(['two-groups']);
		expect(codes(`${box}baffle w = vane sides a, b`)).toEqual([]);
		expect(codes(`${box}baffle w = vane sides a, b\nbaffle v = vane`)).toEqual(['two-groups']);
	});
});

describe('kinds that do not fit', () => {
	it('are an axis in a planar frame or off its axis, and a bent plane of symmetry', () => {
		expect(codes(`${box}group a = box.bottom as axis`)).toEqual(['axis-planar']);
		const round = `frame axisymmetric about x\n${box}`;
		expect(codes(`${round}group a = box.bottom as axis`)).toEqual([]);
		const off = found(`${round}group a = box.bottom, box.left as axis`)[0]!;
		expect(off.code).toBe('axis-off');
		expect(off.message).toMatch(/it is off the x axis/);
		expect(codes(`${box}group s = box.bottom, box.left as symmetry`)).toEqual(['symmetry-bent']);
		expect(codes(`${box}group s = box.bottom as symmetry`)).toEqual([]);
	});
});

describe('what is missing', () => {
	it('is a material where others have one, a node at a point, and a group that owns a corner', () => {
		const two = `${box}rectangle more = (40, 0) to (60, 20)\nregion s at (50, 5)\nfill s triangles\n`;
		expect(codes(two)).toEqual([]);
		const [material] = found(`${two}group fluid = region r`);
		expect(material!.message).toMatch(/the region “s” is of no material, while others are/);
		const [point] = found(`point p = (33, 3)\n${box}group probe = points p`);
		expect(point).toMatchObject({ code: 'point-no-node', severity: 'error' });
		expect(point!.mend!.edits[0]!.insert).toContain('node p');
		expect(codes(`${box}group a = box.left\ngroup b = box.top\nowner of (0, 20) = b`)).toEqual([]);
		expect(found(`${box}group a = box.left\nowner of (0, 20) = a`)[0]!.message).toMatch(/no groups meet at/);
		expect(found(`${box}group a = box.left\ngroup b = box.top\ngroup c = box.right\nowner of (0, 20) = c`)[0]!.message).toMatch(
			/“c” does not meet others .*“a” and “b” do/
		);
		expect(found(`${box}group a = box.left\nowner of (0, 20) = d`)[0]!.message).toMatch(
			/no group of pieces or points is named “d”/
		);
	});
});
