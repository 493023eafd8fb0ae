import { describe, expect, it } from 'vitest';
import { finish } from '../../numeric/work.ts';
import { Pipeline, type Result } from '../../pipeline.ts';
import { applyEdits } from '../../text/edit.ts';
import { blocksInAC } from './blocks.test-support.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const errors = (result: Result) => result.findings.filter((f) => f.severity === 'error').map((f) => f.message);
const worst = (result: Result) => result.quality.of('scaledJacobian').min;

describe('the corners of a structured region', () => {
	it('are chosen by how good the block is, also where one of them hardly turns', () => {
		// Between the upper side of a body with a sharp tail and a far arc: at the tail the outline goes nearly straight on.
		const text = `
			point nose = (-3, 0)
			point tail = (0, 0)
			spline body = nose to (-1.5, 0.6) to tail
			line wake = tail to (4, -0.6)
			line outlet = (4, -0.6) to (4, 5)
			line roof = (4, 5) to (-3, 5)
			line front = (-3, 5) to nose
			region r bounded by body, wake, outlet, roof, front
			size 0.4
			fill r structured`;
		const result = run(text);
		expect(errors(result)).toEqual([]);
		expect(worst(result)).toBeGreaterThan(0.5);
	});

	it('stay three where the region is a triangle', () => {
		const result = run('polygon t = around (0, 0) sides 3 radius 3\nregion r bounded by t\nsize 0.5\nfill r structured');
		expect(errors(result)).toEqual([]);
		expect(worst(result)).toBeGreaterThan(0.6);
	});

	it('that are named badly are told, with the better ones to take', () => {
		const text =
			'polyline p = (0, 0) to (6, 0) to (6, 3) to (3, 4.2) to (0, 3) closed\nregion r bounded by p\nsize 0.5\nfill r structured corners (0, 0), (6, 0), (3, 4.2), (0, 3)';
		const result = run(text);
		const advice = result.findings.find((f) => f.code === 'better-corners');
		expect(advice?.message).toContain('scaled Jacobian');
		const mended = finish(new Pipeline(() => 0).run({ text: applyEdits(result.recipe.text, advice!.mend!.edits), files: {} }));
		expect(errors(mended)).toEqual([]);
		expect(mended.findings.filter((f) => f.code === 'better-corners')).toEqual([]);
		expect(worst(mended)).toBeGreaterThan(worst(result) + 0.1);
	});
});

describe('an outline that turns back', () => {
	it.each([
		['an L', '(0, 0) to (6, 0) to (6, 2) to (2, 2) to (2, 5) to (0, 5)', 2],
		['a T', '(0, 3) to (0, 4.5) to (7, 4.5) to (7, 3) to (4.5, 3) to (4.5, 0) to (2.5, 0) to (2.5, 3)', 3],
		['two steps', '(0, 0) to (8, 0) to (8, 1) to (5, 1) to (5, 2.5) to (2, 2.5) to (2, 4) to (0, 4)', 3]
	])('is cut into blocks by a click: %s', (_, outline, blocks) => {
		const result = run(`polyline p = ${outline} closed\nregion r bounded by p\nsize 0.25\nfill r structured`);
		const advice = result.findings.find((f) => f.code === 're-entrant');
		expect(advice?.mend).toBeDefined();
		const mended = finish(new Pipeline(() => 0).run({ text: applyEdits(result.recipe.text, advice!.mend!.edits), files: {} }));
		expect(errors(mended)).toEqual([]);
		expect(mended.regions).toHaveLength(blocks);
		expect(worst(mended)).toBeGreaterThan(0.999);
	});
});

describe('heights square to a wall', () => {
	it('are met on a smooth profile whose cuts lean, in an O of blocks, and reported', () => {
		const cuts = 6;
		const lines: string[] = [];
		const place = (k: number, rx: number, ry: number, lean = 0) =>
			`(${rx}*cos(${(360 * k) / cuts + lean} deg), ${ry}*sin(${(360 * k) / cuts + lean} deg))`;
		lines.push('ellipse body = around (0, 0) radii 1, 0.5', 'circle far = around (0, 0) radius 6');
		for (let k = 0; k < cuts; k++) {
			lines.push(`line cut${k} = ${place(k, 1, 0.5)} to ${place(k, 6, 6, 20)}`);
			lines.push(`divide cut${k} into 30 first 0.004 at body`);
			lines.push(
				`region b${k} at (${(3 * Math.cos((2 * Math.PI * (k + 0.5)) / cuts + 0.2)).toFixed(4)}, ${(3 * Math.sin((2 * Math.PI * (k + 0.5)) / cuts + 0.2)).toFixed(4)})`
			);
		}
		lines.push('divide body into 24', `fill ${Array.from({ length: cuts }, (_, k) => `b${k}`).join(', ')} structured`);
		const result = run(lines.join('\n'));
		expect(errors(result)).toEqual([]);
		expect(result.walls).toHaveLength(cuts);
		for (const { min, mean, max, meanLean } of result.walls) {
			expect(mean).toBeCloseTo(1, 2);
			expect(min).toBeGreaterThan(0.98);
			expect(max).toBeLessThan(1.02);
			expect(meanLean).toBeLessThan(15);
		}
		expect(result.findings.filter((f) => f.code === 'wall-height')).toEqual([]);
	});

	it.each([
		['as filled', ''],
		['smoothed as one', ' smooth 40']
	])('are met in a C around a profile, its lines square to it, %s', (_, smoothing) => {
		const result = run(blocksInAC() + smoothing);
		expect(errors(result)).toEqual([]);
		expect(result.walls).toHaveLength(4);
		for (const { min, mean, max, meanLean } of result.walls) {
			expect(mean).toBeCloseTo(1, 2);
			expect(min).toBeGreaterThan(0.98);
			expect(max).toBeLessThan(1.025);
			expect(meanLean).toBeLessThan(3);
		}
	});
});
