import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import { applyEdits } from '../../text/edit.ts';
import { mendsOf } from '../../text/finding.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const found = (text: string, code: string) => run(text).findings.filter((f) => f.code === code);

describe('an angle without a unit', () => {
	it.each([
		'rectangle r = around (0, 0) size 4, 2 turned 30',
		'line l = (0, 0) to (1, 0)\nturn l by 45 about (0, 0)',
		'ellipse e = around (0, 0) radii 2, 1 from 0 to 180',
		'let a = 30\nrectangle r = around (0, 0) size 4, 2 turned a',
		'let n = 3\nrectangle r = around (0, 0) size 4, 2 turned -360/n'
	])('is an error, and made degrees or radians by a click: %s', (text) => {
		const [error] = found(text, 'value');
		expect(error?.message).toContain('an angle needs its unit');
		for (const [k, unit] of ['deg', 'rad'].entries()) {
			const { edits } = mendsOf(error!)[k]!;
			const mended = applyEdits(`recipe 1\n${text}`, edits);
			expect(mended).toContain(unit);
			expect(
				found(mended.replace('recipe 1\n', ''), 'value')
					.map((f) => f.message)
					.join()
			).not.toContain('needs its unit');
			expect(found(mended.replace('recipe 1\n', ''), 'syntax')).toEqual([]);
		}
	});

	it.each(['30 deg', '100 rad', '(360/3) deg', '0', 'atan(1)', '2*(30 deg)'])('is none where it is clear: %s', (angle) => {
		expect(run(`rectangle r = around (0, 0) size 4, 2 turned ${angle}`).findings.filter((f) => f.severity === 'error')).toEqual(
			[]
		);
	});

	it.each(['sin(30)', 'cos(-45)', 'tan(1)'])('is told in %s, and not where numbers are worked out', (call) => {
		const [doubt] = found(`let a = ${call}`, 'bare-angle');
		expect(doubt?.message).toContain('radians');
		expect(
			found(
				applyEdits(
					`let a = ${call}`,
					doubt!.mend!.edits.map((e) => ({ ...e, from: e.from - 9, to: e.to - 9 }))
				),
				'bare-angle'
			)
		).toEqual([]);
		expect(
			found(`let t = 30\nlet a = ${call.replace(/-?\d+/, 't')}\nlet b = sin(pi/3) + cos(0) + sin(20 deg)`, 'bare-angle')
		).toEqual([]);
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

	it.each(['structured', 'triangles halved'])('of %s cells is said to be left out', (fill) => {
		expect(found(text(fill), 'lost-node')[0]).toMatchObject({ severity: 'warning', at: { x: 1.03, y: 1.01 } });
	});

	it('of triangles stands in the mesh', () => {
		const { mesh, findings } = run(text('triangles'));
		expect(findings.filter((f) => f.code === 'lost-node')).toEqual([]);
		expect([...mesh.x].some((x, k) => x === 1.03 && mesh.y[k] === 1.01)).toBe(true);
	});
});
