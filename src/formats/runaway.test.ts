import { describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { readGeometryFile } from './geometry-file.ts';
import { readCaseTable } from './study.ts';

const read = (text: string) => readGeometryFile(new TextEncoder().encode(text));
const errors = (text: string) =>
	finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }))
		.findings.filter((f) => f.severity === 'error')
		.map((f) => f.message);
const isSentence = (text: string) => {
	expect(text).toMatch(/\w+ \w+ \w+/);
	expect(text).not.toMatch(/call stack|undefined|NaN|is not a function|out of bounds|Invalid array/i);
};
const dxf = (entities: string, blocks = '') => {
	const lines = (pairs: string) => pairs.trim().split(/\s+/).join('\n');
	const section = (name: string, body: string) => (body ? `0\nSECTION\n2\n${name}\n${lines(body)}\n0\nENDSEC\n` : '');
	return `${section('BLOCKS', blocks)}${section('ENTITIES', entities)}0\nEOF\n`;
};

describe('a file that would never end', () => {
	it('by an angle beyond 1e6 is read without it', () => {
		const file = read(dxf('0 ARC 8 a 10 0 20 0 40 1 50 0 51 1e300 0 LINE 8 a 10 0 20 0 11 1 21 1'));
		expect('drawing' in file && file.drawing.curves.length).toBe(1);
		expect('drawing' in file && file.drawing.skipped.join()).toContain('ARC that cannot be drawn (an angle beyond 1e6)');
	});

	it('by blocks in blocks, or rows and columns of them, gets a sentence', () => {
		const nested = Array.from(
			{ length: 9 },
			(_, k) =>
				`0 BLOCK 8 0 2 b${k} 10 0 20 0 ${k === 0 ? '0 LINE 8 a 10 0 20 0 11 1 21 1' : `0 INSERT 2 b${k - 1} 10 0 20 0 `.repeat(10)} 0 ENDBLK`
		).join(' ');
		for (const text of [
			dxf('0 INSERT 2 b8 10 0 20 0', nested),
			dxf('0 INSERT 2 b0 10 0 20 0 70 1000 71 1000 44 1 45 1', nested)
		]) {
			const file = read(text);
			expect('error' in file).toBe(true);
			if ('error' in file) isSentence(file.error);
		}
	});

	it('by uses of uses gets a sentence', () => {
		const levels = Array.from(
			{ length: 6 },
			(_, k) => `<g id="g${k}">${k === 0 ? '<rect width="1" height="1"/>' : `<use href="#g${k - 1}"/>`.repeat(20)}</g>`
		).join('');
		const file = read(`<svg viewBox="0 0 10 10"><defs>${levels}</defs><use href="#g5"/></svg>`);
		expect('error' in file).toBe(true);
		if ('error' in file) isSentence(file.error);
		const itself = read(
			'<svg viewBox="0 0 10 10"><g id="a"><rect width="1" height="1"/><use href="#a"/><use href="#a"/></g></svg>'
		);
		if ('error' in itself) isSentence(itself.error);
	});
});

describe('a file that comes to too much', () => {
	const spline = (degree: number, points: number, y: (k: number) => number) =>
		dxf(
			`0 SPLINE 8 a 70 8 71 ${degree} ${Array.from({ length: points + degree + 1 }, (_, k) => `40 ${k}`).join(' ')} ${Array.from({ length: points }, (_, k) => `10 ${k} 20 ${y(k)}`).join(' ')}`
		);
	it.each([
		['outlines', '0 0\n1 0\n\n'.repeat(50_001), /^line 150001: more than 50000 outlines in one file .*split the file$/],
		['columns', `${'1 '.repeat(101)}\n`, /^line 1 has 101 columns, and 100 are the most/],
		['a line', `1 2\n${'1'.repeat(10_001)}\n`, /^line 2 has 10001 characters, and 10000 are the most/],
		['an SVG path', `<svg viewBox="0 0 9 9"><path d="M0 0${'L1 1L0 2'.repeat(210_000)}z"/></svg>`, /more than 1200000 numbers/],
		[
			'SVG lists of points',
			`<svg viewBox="0 0 9 9">${`<polygon points="${'0,0 1,1 '.repeat(160_000)}"/>`.repeat(2)}</svg>`,
			/more than 1200000 numbers/
		],
		['points of splines', spline(3, 150_001, () => 0), /more than 150000 points in all/],
		['points of splines of a high degree', spline(5, 30_001, () => 0), /more than 150000 points in all/],
		['splines that turn too often', spline(3, 40_000, (k) => (k % 2) * 100), /more than 6000 full turns of one spline/]
	])('is refused in a sentence: %s', (_, text, sentence) => {
		const file = read(text);
		expect('error' in file ? file.error : '').toMatch(sentence);
	});

	it('does not start with twenty thousand rings of splines', () => {
		const ring = (k: number) => {
			const [x, y] = [3 * (k % 150), 3 * Math.floor(k / 150)];
			return `<path d="M${x + 1} ${y}c0 .55-.45 1-1 1s-1-.45-1-1 .45-1 1-1 1 .45 1 1z"/>`;
		};
		const file = read(`<svg viewBox="0 0 500 500">${Array.from({ length: 20_000 }, (_, k) => ring(k)).join('')}</svg>`);
		expect('drawing' in file && file.drawing.curves.length).toBe(20_000);
	});

	it('is refused in a sentence: columns of a table of cases', () => {
		const header = ['case', ...Array.from({ length: 5000 }, (_, k) => `a${k}`)].join(',');
		expect(() => readCaseTable(`${header}\n1\n`)).toThrow(/characters, and 20000 are the most/);
		expect(readCaseTable('case,a\none,1\n')).toEqual({ columns: ['case', 'a'], rows: [{ case: 'one', a: '1' }] });
	});

	it('by a spline of too high a degree is read without it', () => {
		const text = spline(5, 10_001, () => 0).replace('0\nSPLINE', '0\nLINE\n8\na\n10\n0\n20\n0\n11\n1\n21\n1\n0\nSPLINE');
		const file = read(text);
		expect('drawing' in file && file.drawing.curves.length).toBe(1);
		expect('drawing' in file && file.drawing.skipped.join()).toContain('at most 10000 control points');
	});
});

describe('a recipe that comes to too much', () => {
	const zigzag = (count: number, over = 100) =>
		Array.from({ length: count }, (_, k) => `(${k}, ${(k * 7919) % over})`).join(' to ');
	it.each([
		['statements', 'point p = (1, 2)\n'.repeat(50_001), /a recipe has 50000 statements at most/],
		['a statement', `polyline p = ${'(0, 1) to '.repeat(100_001)}(1, 1)`, /a statement has 1000000 characters at most/],
		[
			'curves',
			'circle c = around (0, 0) radius 1\nrepeat a = c by (3, 0) count 1000\nrepeat b = a by (0, 3) count 101',
			/more than 100000 curves/
		],
		[
			'corners',
			`polyline p = ${zigzag(50_000, 2)}\n${[1, 2, 3, 4].map((k) => `repeat q${k} = p by (0, ${200 * k}) count 2`).join('\n')}`,
			/more than 200000 corners/
		],
		['splines that turn too often', `spline s = ${zigzag(35_000, 2)}`, /more than 6000 full turns of one spline/],
		['a spline of a high degree', `bspline s = ${zigzag(10_001)} degree 5`, /at most 10000 control points/]
	])('is refused in a sentence: %s', (_, text, sentence) => {
		const found = errors(text);
		expect(found.join('\n')).toMatch(sentence);
		found.forEach(isSentence);
	});

	it('by curves that lie on one another leaves out those that there are too many of', () => {
		const text = `line l = (0, 0) to (10, 0)\n${[1, 2, 3, 4].map((k) => `repeat a${k} = l by (${k}e-3, 0) count 2500`).join('\n')}\nrectangle r = (20, 0) to (30, 10)\nregion q at (21, 1)\nsize 5\nfill q triangles`;
		const result = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
		expect(
			result.findings.some((f) => /more often than can be worked out/.test(f.message) || /curves vanish/.test(f.message))
		).toBe(true);
		// What meets nothing stays.
		expect(result.mesh.triangles.length).toBeGreaterThan(0);
	});
});

describe('a recipe that would never end', () => {
	it.each([
		[
			'forty doubled mirrors',
			`line l0 = (1, 0) to (2, 1)\n${Array.from({ length: 40 }, (_, k) => `mirror m${k} = ${['l0', ...Array.from({ length: k }, (_, j) => `m${j}`)].join(', ')} across (${3 ** k}, 0) to (${3 ** k}, 1)`).join('\n')}`
		],
		[
			'repeats of repeats',
			`circle c = around (0, 0) radius 0.1\nrepeat a = c by (1, 0) count 1000\nrepeat b = a by (0, 1) count 1000\nrepeat d = b by (0, 3000) count 1000`
		],
		['brackets in brackets', `let a = ${'('.repeat(5000)}1${')'.repeat(5000)}`],
		['signs before signs', `let a = ${'-'.repeat(20_000)}1`],
		['a sum of fifty thousand terms', `let a = 1${' + 1'.repeat(50_000)}`]
	])('gets a sentence: %s', (_, text) => {
		const found = errors(text);
		expect(found.length).toBeGreaterThan(0);
		found.forEach(isSentence);
	});

	it('by sizes far too fine gets a sentence before anything is made', () => {
		for (const where of ['near r.bottom', 'inside box (1, 1) to (2, 2)']) {
			const [first] = errors(
				`rectangle r = (0, 0) to (10, 10)\nregion q at (5, 5)\nsize 1\nsize 1e-9 ${where}\nfill q triangles`
			);
			isSentence(first!);
			expect(first).toMatch(/use larger sizes/);
		}
	});

	it('by names that are each defined only later is told in a time that grows with them', () => {
		const count = 4000;
		const text = Array.from({ length: count }, (_, k) => `let v${k} = v${k + 1}`).join('\n');
		const found = errors(`${text}\nlet v${count} = 3`);
		expect(found).toHaveLength(count);
		expect(found[0]).toContain('defined only later, on line 3');
	});
});
