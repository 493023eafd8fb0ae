import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline, type Result } from '../../core/pipeline.ts';
import { readGeometryFile } from '../../formats/geometry-file.ts';
import { Packer, Unpacker } from './snapshot.ts';

const files = { 'throat-wall.csv': readGeometryFile(readFileSync('demo/throat-wall.csv')) };
const demo = (name: string) => readFileSync(`demo/${name}.tessellon`, 'utf8');

/** What the desk has of a result, as it was in the worker. */
function expected({ quality, ...rest }: Result, key: string) {
	return { ...rest, model: { ...rest.model, findings: [] }, measure: { key, taken: quality.of(key) } };
}

/** All typed arrays in a value. */
function arraysIn(value: unknown, seen = new Set<unknown>()): ArrayBufferView[] {
	if (typeof value !== 'object' || value === null || seen.has(value)) return [];
	seen.add(value);
	if (ArrayBuffer.isView(value)) return [value];
	const items =
		value instanceof Map ? [...value.keys(), ...value.values()] : value instanceof Set ? [...value] : Object.values(value);
	return items.flatMap((item) => arraysIn(item, seen));
}

describe('a snapshot of a result', () => {
	it('holds no list that is part of a larger stock, all of which would cross with it', () => {
		for (const name of ['venturi', 'cold-plate', 'relief-valve']) {
			const { snapshot } = new Packer().pack(finish(new Pipeline(() => 0).run({ text: demo(name), files })), 'minimumAngle');
			const arrays = arraysIn(snapshot);
			expect(arrays.length).toBeGreaterThan(20);
			expect(arrays.filter(({ buffer, byteLength }) => buffer.byteLength > byteLength)).toEqual([]);
		}
	});

	it.each(['venturi', 'cold-plate', 'relief-valve', 'splitter-elbow', 'gasket-groove'])('gives back all of %s', (name) => {
		const result = finish(new Pipeline(() => 0).run({ text: demo(name), files }));
		const { snapshot, transfer } = new Packer().pack(result, 'minimumAngle');
		const there = new Unpacker().unpack(structuredClone(snapshot, { transfer }));
		expect(there).toEqual(expected(result, 'minimumAngle'));
	});

	it('leaves out the drawing and the mesh where only a label changes, and both come together again', () => {
		const pipeline = new Pipeline(() => 0);
		const packer = new Packer();
		const unpacker = new Unpacker();
		const cross = (text: string) => {
			const result = finish(pipeline.run({ text, files }));
			const { snapshot, transfer } = packer.pack(result, 'scaledJacobian');
			const there = unpacker.unpack(structuredClone(snapshot, { transfer }));
			expect(there).toEqual(expected(result, 'scaledJacobian'));
			return snapshot;
		};
		const text = demo('venturi');
		cross(text);
		const relabelled = cross(text.replace('as inflow', 'as outflow'));
		expect(relabelled.arrangement).toBeUndefined();
		expect(relabelled.mesh.arrays).toBeUndefined();
		const coarser = cross(text.replace(/let rows\s*= \d+/, 'let rows = 10'));
		expect(coarser.arrangement).toBeUndefined();
		expect(coarser.mesh.arrays).toBeDefined();
	});
});
