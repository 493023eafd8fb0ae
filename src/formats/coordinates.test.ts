import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coordinateFileLimit, readCoordinates } from './coordinates.ts';

const read = (text: string) => readCoordinates(new TextEncoder().encode(text));
const points = (text: string) => {
	const file = read(text);
	if ('error' in file) throw new Error(file.error);
	if ('drawing' in file) throw new Error('coordinates were taken for a drawing');
	return file.outlines.map((o) => [...o.x].map((x, i) => [x, o.y[i]]));
};
const error = (text: string) => {
	const file = read(text);
	return 'error' in file ? file.error : 'no error';
};

describe('coordinate text', () => {
	it('may separate its columns by comma, semicolon, tab or blanks', () => {
		for (const separator of [',', ', ', ';', '\t', '  ', ' ; '])
			expect(points(`1.5${separator}2\n-3e2${separator}.5\n`)).toEqual([
				[
					[1.5, 2],
					[-300, 0.5]
				]
			]);
	});

	it('may use decimal commas wherever commas do not separate', () => {
		for (const separator of [';', '\t', ' '])
			expect(points(`1,5${separator}2\n3,25${separator}-0,5`)).toEqual([
				[
					[1.5, 2],
					[3.25, -0.5]
				]
			]);
	});

	it('may have a header, comments, and columns that are not needed', () => {
		expect(points('x,y,note\n# survey\n1,2,3\n4,5,6 # last\n')).toEqual([
			[
				[1, 2],
				[4, 5]
			]
		]);
		expect(points('\ufeffx;y\r\n1;2\r\n3;4\r\n')).toEqual([
			[
				[1, 2],
				[3, 4]
			]
		]);
	});

	it('starts a new outline at a blank line', () => {
		expect(points('0 0\n1 0\n\n\n5 5\n6 5\n# only a comment\n7 5\n')).toEqual([
			[
				[0, 0],
				[1, 0]
			],
			[
				[5, 5],
				[6, 5],
				[7, 5]
			]
		]);
	});

	it('gives numbers back to the last digit', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.tuple(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.double({ noNaN: true, noDefaultInfinity: true })),
					{ minLength: 2 }
				),
				(rows) => {
					expect(points(rows.map((r) => r.join(',')).join('\n'))[0]).toEqual(
						rows.map(([x, y]) => [Number(String(x)), Number(String(y))])
					);
				}
			)
		);
	});

	it('reports one bad line with its number', () => {
		expect(error('x y\n1 2\n3 four\n5 6')).toBe('line 3: found “four” where the number for y should stand');
		expect(error('1 2\n3\n')).toBe('line 2: found only “3”, and a row needs two numbers, x and y');
		expect(error('1 2\nnan 3')).toBe('line 2: “nan” is no finite number');
		expect(error('1,2\n1e999,3')).toMatch(/^line 2/);
	});

	it('refuses what holds no outline, with a sentence', () => {
		expect(error('')).toMatch(/the file is empty/);
		expect(error('\n\n# nothing\n')).toMatch(/holds no coordinates/);
		expect(error('7\n8\n9\n')).toMatch(/line 1: found only “7”/);
		expect(error('1 2\n')).toMatch(/a single point/);
		expect(readCoordinates(Uint8Array.of(0x89, 0x50, 0, 0))).toMatchObject({ error: expect.stringMatching(/no text file/) });
		expect(readCoordinates(new Uint8Array(coordinateFileLimit + 1))).toMatchObject({
			error: expect.stringMatching(/20 MB, above the limit/)
		});
	});

	it('never throws, whatever the bytes', () => {
		fc.assert(
			fc.property(fc.uint8Array(), (bytes) => {
				const file = readCoordinates(bytes);
				expect('error' in file ? file.error.length : 'outlines' in file && file.outlines.length).toBeGreaterThan(0);
			})
		);
	});
});
