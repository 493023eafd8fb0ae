import { describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { readGeometryFile } from './geometry-file.ts';

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
	it('by an angle out of reach is read without it', () => {
		const file = read(dxf('0 ARC 8 a 10 0 20 0 40 1 50 0 51 1e300 0 LINE 8 a 10 0 20 0 11 1 21 1'));
		expect('drawing' in file && file.drawing.curves.length).toBe(1);
		expect('drawing' in file && file.drawing.skipped.join()).toContain('numbers that do not fit together');
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
		const told = errors(text);
		expect(told.length).toBeGreaterThan(0);
		told.forEach(isSentence);
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
		const told = errors(`${text}\nlet v${count} = 3`);
		expect(told).toHaveLength(count);
		expect(told[0]).toContain('defined only later, on line 3');
	});
});
