import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import type { CoordinateFiles, ResultField } from '../recipe/model/model.ts';

const plate = 'recipe 1\nrectangle b = (0, 0) to (10, 6)\nregion r bounded by b\nsize 2 growth 1.3\nfill r triangles\n';
const run = (text: string, files: CoordinateFiles = {}): Result =>
	finish(new Pipeline(() => 0).run({ text: plate + text, files }));
const messages = (result: Result) => result.findings.filter((f) => f.severity !== 'warning').map((f) => f.message);

/** A front along a circle, 0 inside and 1 outside. */
const front = (x: number, y: number) => 0.5 + 0.5 * Math.tanh(4 * (Math.hypot(x - 5, y - 3) - 2));

/** A result as a mesh file beside the recipe. */
const resultFile = (result: ResultField): CoordinateFiles => ({
	'run.vtu': { drawing: { curves: [], points: [], skipped: [], result } }
});

const valuesOn = ({ mesh: { x, y, triangles } }: Result, of: (x: number, y: number) => number): ResultField => ({
	x,
	y,
	triangles,
	fields: new Map([
		['temperature', x.map((px, k) => of(px, y[k]!))],
		['wall distance', y.slice()]
	])
});

/** How far the values at the middles of triangles are missed, at most. */
function missed({ mesh: { x, y, triangles } }: Result): number {
	let most = 0;
	for (let t = 0; t < triangles.length; t += 3) {
		const three = [...triangles.subarray(t, t + 3)];
		const mean = (of: (p: number) => number) => three.reduce((sum, p) => sum + of(p), 0) / 3;
		most = Math.max(
			most,
			Math.abs(
				front(
					mean((p) => x[p]!),
					mean((p) => y[p]!)
				) - mean((p) => front(x[p]!, y[p]!))
			)
		);
	}
	return most;
}

describe('sizes from a result', () => {
	it('become fine where the field curves, and in a few rounds miss it by about what was asked, and by far less than one size would', () => {
		let result = run('');
		const first = missed(result);
		for (let round = 0; round < 4; round++)
			result = run('size from "run.vtu" field temperature error 0.01', resultFile(valuesOn(result, front)));
		expect(messages(result)).toEqual([]);
		expect(first).toBeGreaterThan(0.05);
		expect(missed(result)).toBeLessThan(0.015);
		// As many elements of one size miss it by twice as much.
		const even = run('size 0.2 inside box (-1, -1) to (11, 7)');
		expect(even.mesh.triangles.length).toBeGreaterThan(0.95 * result.mesh.triangles.length);
		expect(missed(even)).toBeGreaterThan(1.4 * missed(result));
		expect(result.quality.of('scaledJacobian').min).toBeGreaterThan(0.4);
	});

	it('stay between the least and the most that are asked, and grow no faster than the rest', () => {
		const files = resultFile(valuesOn(run('size 0.3 inside box (-1, -1) to (11, 7)'), front));
		const count = (text: string) => run(text, files).mesh.triangles.length / 3;
		const free = count('size from "run.vtu" error 0.002 field temperature');
		expect(count('size from "run.vtu" field temperature least 0.4 error 0.002')).toBeLessThan(free / 2);
		expect(count('size from "run.vtu" field temperature error 0.5 most 0.5')).toBeGreaterThan(count('') * 2);
	});

	it('are read from rows of x, y and a value, too', () => {
		const [x, y]: [number[], number[]] = [[], []];
		for (let i = 0; i <= 40; i++) for (let j = 0; j <= 24; j++) [x[x.length], y[y.length]] = [i / 4, j / 4];
		const columns = [x, y, x.map((px, k) => front(px, y[k]!))].map((list) => Float64Array.from(list));
		const files = { 'run.csv': { outlines: [{ x: columns[0]!, y: columns[1]!, columns }] } };
		const result = run('size from "run.csv" error 0.01', files);
		expect(messages(result)).toEqual([]);
		expect(result.mesh.triangles.length).toBeGreaterThan(3 * run('').mesh.triangles.length);
	});

	it.each([
		['size from "run.vtu" error 0.01', 'say which'],
		['size from "run.vtu" field temprature error 0.01', 'did you mean “temperature”'],
		['size from "run.vtu" field temperature error 2', 'share of the field'],
		['size from "run.vtu" field temperature', '“error”'],
		['size from "run.vtu" field temperature error 0.1 least 3 most 1', 'above the most'],
		['size from "other.vtu" error 0.1', 'no file “other.vtu”'],
		['size from "rows.csv" error 0.1', 'holds no values']
	])('are told what is wrong: %s', (text, sentence) => {
		const files = {
			...resultFile(valuesOn(run(''), front)),
			'rows.csv': { outlines: [{ x: Float64Array.of(0, 1), y: Float64Array.of(0, 1) }] }
		};
		expect(messages(run(text, files)).join(' ')).toContain(sentence);
	});
});
