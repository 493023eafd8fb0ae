import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import { applyEdits } from '../../text/edit.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const found = (text: string, code: string) => run(text).findings.filter((f) => f.code === code);

describe('an angle without a unit', () => {
	it.each([
		'rectangle r = around (0, 0) size 4, 2 turned 30',
		'line l = (0, 0) to (1, 0)\nturn l by 45 around (0, 0)',
		'ellipse e = around (0, 0) radii 2, 1 from 0 to 180'
	])('above a full turn is doubted, and made degrees by a click: %s', (text) => {
		const [doubt] = found(text, 'bare-angle');
		expect(doubt?.message).toContain('radians');
		const mended = applyEdits(`recipe 1\n${text}`, doubt!.mend!.edits);
		expect(mended).toMatch(/(30|45|180) deg/);
		expect(found(mended.replace('recipe 1\n', ''), 'bare-angle')).toEqual([]);
	});

	it.each(['30 deg', '0.5', '100 rad', '2*pi'])('is not doubted where it is clear: %s', (angle) => {
		expect(found(`rectangle r = around (0, 0) size 4, 2 turned ${angle}`, 'bare-angle')).toEqual([]);
	});
});

describe('an axisymmetric section', () => {
	it('whose axis is off by rounding lies on it exactly', () => {
		const result = run(`
			frame axisymmetric about x
			line axis_line = (0, 5.6e-17) to (4, -3e-17)
			line out = (4, -3e-17) to (4, 1)
			line wall = (4, 1) to (0, 1)
			line in = (0, 1) to (0, 5.6e-17)
			region r at (2, 0.5)
			size 0.5
			fill r structured`);
		const onAxis = [...result.mesh.y].filter((y) => Math.abs(y) < 1e-6);
		expect(onAxis.length).toBeGreaterThan(5);
		expect(onAxis.every((y) => y === 0)).toBe(true);
	});
});

describe('a node inside a region', () => {
	const text = (fill: string) => `
		rectangle box = (0, 0) to (4, 3)
		region r bounded by box
		node (1.03, 1.01)
		size 0.5
		fill r ${fill}`;

	it.each(['structured', 'triangles right'])('of %s cells is said to be left out', (fill) => {
		expect(found(text(fill), 'lost-node')[0]).toMatchObject({ severity: 'warning', at: { x: 1.03, y: 1.01 } });
	});

	it('of triangles stands in the mesh', () => {
		const { mesh, findings } = run(text('triangles'));
		expect(findings.filter((f) => f.code === 'lost-node')).toEqual([]);
		expect([...mesh.x].some((x, k) => x === 1.03 && mesh.y[k] === 1.01)).toBe(true);
	});
});
