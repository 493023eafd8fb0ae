import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { pieceNames } from '../domain/references.ts';
import { positions, reversePositions, spacingFigures, type BiasEnd } from './spacing.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text, files: {} }));
const division = (text: string, name: string) => {
	const result = run(text);
	return result.divisions.pieces[pieceNames(result.arrangement).indexOf(name)]!;
};
const complaint = (text: string) =>
	run(text)
		.findings.filter((f) => f.severity === 'error')
		.map((f) => f.message)
		.join('\n');
const sizes = (at: Float64Array) => Array.from({ length: at.length - 1 }, (_, k) => at[k + 1]! - at[k]!);

describe('spacing', () => {
	it('even: cells of 1/n', () => {
		expect([...positions(4, { law: 'even' })]).toEqual([0, 0.25, 0.5, 0.75, 1]);
	});

	it('geometric: the ratio of neighbours is R^(1/(n−1)), the last cell R times the first', () => {
		const cells = sizes(positions(5, { law: 'geometric', number: { bias: 16 }, end: 'start' }));
		for (let k = 0; k < 4; k++) expect(cells[k + 1]! / cells[k]!).toBeCloseTo(2, 12);
		// 1 + 2 + 4 + 8 + 16 = 31.
		expect(cells[0]).toBeCloseTo(1 / 31, 14);
	});

	it('geometric toward both ends and toward the middle, odd and even counts', () => {
		const ratio = (count: number, end: BiasEnd) =>
			sizes(positions(count, { law: 'geometric', number: { bias: 4 }, end })).map((s, _, all) =>
				Number((s / Math.min(...all)).toFixed(9))
			);
		expect(ratio(6, 'both')).toEqual([1, 2, 4, 4, 2, 1]);
		expect(ratio(5, 'both')).toEqual([1, 2, 4, 2, 1]);
		expect(ratio(6, 'middle')).toEqual([4, 2, 1, 1, 2, 4]);
		expect(ratio(5, 'middle')).toEqual([4, 2, 1, 2, 4]);
	});

	it('sums to one and keeps its ratio for any count and bias', () => {
		fc.assert(
			fc.property(
				fc.integer({ min: 2, max: 10000 }),
				fc.double({ min: 1, max: 1e8, noNaN: true }),
				fc.constantFrom<BiasEnd>('start', 'end', 'both', 'middle'),
				(count, bias, end) => {
					const at = positions(count, { law: 'geometric', number: { bias }, end });
					expect(at[0]).toBe(0);
					expect(at[count]).toBe(1);
					const cells = sizes(at);
					expect(Math.min(...cells)).toBeGreaterThan(0);
					if (count <= 3 && end !== 'start' && end !== 'end') return;
					expect(Math.max(...cells) / Math.min(...cells) / bias).toBeCloseTo(1, 4);
				}
			)
		);
	});

	it('mirrored is the spacing toward the other end', () => {
		const [a, b] = [
			positions(7, { law: 'geometric', number: { bias: 9 }, end: 'start' }),
			positions(7, { law: 'geometric', number: { bias: 9 }, end: 'end' })
		];
		reversePositions(a).forEach((v, k) => expect(v).toBeCloseTo(b[k]!, 15));
	});

	it('refuses a count that is none', () => {
		expect(() => positions(0, { law: 'even' })).toThrow(/whole number from 1, found 0/);
	});

	it('gives the figures that the ledger shows', () => {
		const figures = spacingFigures(positions(3, { law: 'geometric', number: { bias: 4 }, end: 'start' }), 7);
		expect(figures.first).toBeCloseTo(1, 12);
		expect(figures.last).toBeCloseTo(4, 12);
		expect(figures.ratio).toBeCloseTo(2, 12);
	});
});

const duct = (drawn: string, more: string) => `recipe 1
point a = (0, 0)
point b = (0, 30)
point c = (48, 30)
point d = (48, 0)
${drawn}
region r bounded by inlet, pipe, outlet, axis
${more}
fill r structured`;
const drawn = 'line inlet = a to b\nline pipe = b to c\nline outlet = c to d\nline axis = d to a';

describe('divisions', () => {
	it('cluster toward a curve whichever way each edge was drawn', () => {
		for (const inlet of ['a to b', 'b to a'])
			for (const outlet of ['c to d', 'd to c']) {
				const text = duct(
					`line inlet = ${inlet}\nline pipe = b to c\nline outlet = ${outlet}\nline axis = d to a`,
					'divide inlet, outlet into 30 bias 12 toward pipe\ndivide pipe into 48'
				);
				for (const name of ['inlet', 'outlet']) {
					const { y } = division(text, name);
					const nearWall = [...y].sort((p, q) => q - p);
					expect(30 - nearWall[1]!).toBeCloseTo((nearWall.at(-2)! - 0) / 12, 10);
				}
			}
	});

	it('are carried across blocks, spacing and all', () => {
		const text = duct(drawn, 'divide inlet into 7 bias 5 toward b\ndivide pipe into 3');
		const outlet = division(text, 'outlet');
		expect(outlet).toMatchObject({ count: 7, source: 'carried', spacing: { law: 'across' } });
		// The outlet runs down, so its small cells, at the pipe, come first.
		expect(outlet.figures.first * 5).toBeCloseTo(outlet.figures.last, 10);
		expect(division(text, 'axis').count).toBe(3);
	});

	it('follow from a size where nothing is said', () => {
		expect(division('line l = (0, 0) to (10, 0)\nsize 3', 'l')).toMatchObject({ count: 3, source: 'derived' });
		expect(division('line l = (0, 0) to (10, 0)\ndivide l by size 2', 'l')).toMatchObject({ count: 5, source: 'derived' });
	});

	it('never cut a circle flat, however large the size', () => {
		expect(division('circle c = around (0, 0) radius 1\nsize 100', 'c').count).toBe(12);
	});

	it('let a later statement about one piece overrule an earlier one, clause by clause', () => {
		const text =
			'line l = (0, 0) to (10, 0)\nline m = (0, 1) to (10, 1)\ndivide l, m into 10 bias 3 toward both\ndivide m into 20';
		expect(division(text, 'l').count).toBe(10);
		expect(division(text, 'm')).toMatchObject({ count: 20, spacing: { law: 'geometric', number: { bias: 3 }, end: 'both' } });
	});

	it('meet a side of several pieces by the sum', () => {
		const text = duct(
			'line inlet = a to b\npolyline pipe = b to (20, 30) to c\nline outlet = c to d\nline axis = d to a\nline post = (20, 30) to (20, 40)',
			'divide axis into 12\ndivide inlet into 4'
		);
		const result = run(text);
		const names = pieceNames(result.arrangement);
		const counts = names.map((n, p) => [n, result.divisions.pieces[p]!.count]);
		expect(counts).toContainEqual(['pipe[1]', 5]);
		expect(counts).toContainEqual(['pipe[2]', 7]);
	});

	it('report a conflict with both sides, and offer the mend', () => {
		const result = run(duct(drawn, 'divide inlet into 7\ndivide outlet into 9'));
		const conflict = result.findings.find((f) => f.code === 'count-conflict')!;
		expect(conflict.message).toMatch(/region “r” have 7 and 9 divisions: “inlet” 7 \(pinned\) against “outlet” 9 \(pinned\)/);
		// What was written last gives way.
		expect(conflict.message).toContain('“inlet” into 9, or “outlet” into 7 would settle it');
		expect(conflict.mend!.edits[0]!.insert).toBe('into 7');
		expect(result.mesh.quads).toHaveLength(0);
	});

	it('take a first cell, a last cell or a growth, and two of them without a count', () => {
		const line = (rest: string) => division(`point p = (0, 0)\nline l = p to (10, 0)\ndivide l ${rest}`, 'l');
		expect(line('into 20 first 0.1 at p').figures.first).toBeCloseTo(0.1, 12);
		expect(line('into 20 last 1 toward p').figures.last).toBeCloseTo(1, 12);
		expect(line('into 20 growth 1.1 toward p').figures.ratio).toBeCloseTo(1.1, 12);
		const both = line('into 20 first 0.1 last 0.9 at p').figures;
		expect([both.first, both.last]).toEqual([expect.closeTo(0.1, 12), expect.closeTo(0.9, 12)]);
		// 0.1 (1.2ⁿ − 1)/0.2 = 10 at n = 16.7.
		expect(line('first 0.1 growth 1.2 at p')).toMatchObject({ count: 17, source: 'pinned' });
		expect(line('first 0.1 growth 1.2 at p').figures.first).toBeCloseTo(0.1, 12);
		expect(line('first 0.1 growth 1.2 at both').figures.last).toBeCloseTo(0.1, 12);
		expect([...line('positions 0.1, 0.5 from p').at]).toEqual([0, 0.1, 0.5, 1]);
	});

	it('follow curvature by divisions per turn or by the error of the chord', () => {
		expect(division('circle c = around (0, 0) radius 5\ndivide c by turn 48', 'c').count).toBe(48);
		// The chord over an angle a of a circle is r (1 − cos a/2) off: 0.01 of 5 takes 2π/√(8·0.002) = 49.7.
		expect(division('circle c = around (0, 0) radius 5\ndivide c by chord 0.01', 'c').count).toBe(50);
	});

	it('run over a chain as if it were one, with nodes on its junctions', () => {
		const text =
			'point a = (0, 0)\nline k = a to (3, 0)\nline l = (3, 0) to (7, 0)\nline m = (20, 0) to (7, 0)\ndivide k, l, m as one into 30 growth 1.1 toward a';
		const result = run(text);
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		const xs = result.divisions.pieces.flatMap((d, p) => [...(p === 2 ? d.x.slice().reverse() : d.x)].slice(p === 0 ? 0 : 1));
		expect(xs).toHaveLength(31);
		const cells = xs.slice(1).map((x, k) => x - xs[k]!);
		for (let k = 1; k < cells.length; k++) {
			expect(cells[k]! / cells[k - 1]!).toBeGreaterThan(1);
			expect(cells[k]! / cells[k - 1]!).toBeLessThan(1.25);
		}
	});

	it('copy another piece, whichever way it runs', () => {
		const text =
			'line a = (0, 0) to (10, 0)\nline b = (10, 5) to (0, 5)\npoint o = (0, 0)\ndivide a into 9 bias 4 toward o\ndivide b like a';
		const [a, b] = [division(text, 'a'), division(text, 'b')];
		expect(b.count).toBe(9);
		for (let k = 0; k <= 9; k++) expect(b.x[9 - k]).toBeCloseTo(a.x[k]!, 12);
	});

	it('pass a spacing across to a side of several pieces', () => {
		const text = duct(
			'line inlet = a to b\npolyline pipe = b to (20, 30) to c\nline outlet = c to d\nline axis = d to a\nline post = (20, 30) to (20, 40)',
			'divide axis into 24 bias 8 toward d\ndivide inlet into 4'
		);
		const result = run(text);
		const names = pieceNames(result.arrangement);
		const [one, two] = ['pipe[1]', 'pipe[2]'].map((n) => result.divisions.pieces[names.indexOf(n)]!);
		const cells = [...sizes(one!.x), ...sizes(two!.x)];
		for (let k = 1; k < cells.length; k++) expect(cells[k]!).toBeLessThan(cells[k - 1]!);
	});

	it('say which number to change when there is no such spacing', () => {
		const line = (rest: string) => complaint(`point p = (0, 0)\nline l = p to (10, 0)\ndivide l ${rest}`);
		expect(line('into 10 first 11 at p')).toMatch(/cannot have a first cell of 11; from .* is possible/);
		expect(line('last 1 growth 1.2 at p')).toMatch(
			/fill at most 6, and what is divided has 10; use a larger last cell or a smaller growth/
		);
		expect(line('into 10 bias 3 growth 1.2 toward p')).toMatch(/room for one of bias and growth/);
		expect(line('positions 0.5, 0.2 from p')).toMatch(/rise between 0 and 1/);
		expect(line('into 3 first 4 last 5 at p')).toMatch(/no smooth spacing|longer than/);
		expect(line('like l')).toMatch(/cannot be like itself/);
		expect(complaint('line a = (0, 0) to (1, 0)\nline b = (5, 0) to (6, 0)\ndivide a, b as one into 9')).toMatch(
			/follow one another/
		);
	});

	it('say why “toward” cannot be met', () => {
		expect(complaint(duct(drawn, 'divide inlet into 4 bias 3 toward outlet'))).toMatch(/“inlet” does not meet “outlet”/);
		expect(
			complaint('rectangle b = (0, 0) to (1, 1)\ncircle c = around (5, 5) radius 1\ndivide b.left into 4 bias 3 toward c')
		).toMatch(/does not meet “c”/);
		expect(
			complaint('line l = (0, 0) to (4, 0)\narc m = (0, 0) to (4, 0) around (2, 0)\ndivide l into 4 bias 3 toward m')
		).toMatch(/both ends of “l” meet “m”/);
		expect(complaint(duct(drawn, 'divide inlets into 4'))).toMatch(/no curve is named “inlets”; did you mean “inlet”/);
		expect(complaint(duct(drawn, 'divide inlet[2] into 4'))).toMatch(/“inlet” has 1 piece; there is no piece 2/);
	});
});

describe('a size so small that counts have no bound', () => {
	it('is refused with a finding, and never taken for a coarse one', () => {
		const text =
			'recipe 1\nrectangle b = (0, 0) to (4, 3)\nregion r at (1, 1)\ndivide b.left size 1e-320\nsize 1\nfill r triangles\n';
		const { findings } = finish(new Pipeline(() => 0).run({ text, files: {} }));
		expect(findings.filter(({ severity }) => severity === 'error').length).toBeGreaterThan(0);
		expect(findings.map(({ code }) => code)).not.toContain('internal');
	});
});
