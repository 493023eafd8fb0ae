import { zlibSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { MeshFileError } from './mesh-file.ts';
import { ReadingBudget } from './reading-budget.ts';
import { readMeshFile } from './read-file.ts';

describe('a reading budget', () => {
	it('unpacks what the head of an array says, and neither more nor less', () => {
		const bytes = Uint8Array.from({ length: 200_000 }, (_, k) => k % 251);
		const packed = zlibSync(bytes);
		expect(new ReadingBudget(packed.length).inflated(packed, bytes.length)).toEqual(bytes);
		expect(() => new ReadingBudget(packed.length).inflated(packed, bytes.length - 1)).toThrow(/holds more than it says/);
		expect(() => new ReadingBudget(packed.length).inflated(packed, bytes.length + 1)).toThrow(/holds less than it says/);
	});

	it('refuses lengths that are none, and more than a file of its size comes to', () => {
		const budget = new ReadingBudget(1000);
		for (const length of [-1, 0.5, NaN, 2 ** 60]) expect(() => budget.take(length)).toThrow(/no whole number from 0/);
		budget.take(49_000_000);
		expect(() => budget.take(2_000_000)).toThrow(/more than 400 MB when it is read/);
	});
});

/** A VTK XML grid of four points whose places are packed: blocks of zeros, of which the head says how many and how long. */
function packedGrid(blocks: number, blockBytes: number): Uint8Array {
	const zeros = zlibSync(new Uint8Array(blockBytes), { level: 9 });
	const head = new Uint32Array([blocks, blockBytes, 0, ...new Array<number>(blocks).fill(zeros.length)]);
	const base64 = (...parts: Uint8Array[]) => Buffer.concat(parts).toString('base64');
	const body = base64(...new Array<Uint8Array>(blocks).fill(zeros));
	const array = (name: string, type: string, text: string) =>
		`<DataArray type="${type}" Name="${name}" format="ascii">${text}</DataArray>`;
	const text = `<VTKFile type="UnstructuredGrid" version="1.0" byte_order="LittleEndian" header_type="UInt32" compressor="vtkZLibDataCompressor"><UnstructuredGrid><Piece NumberOfPoints="4" NumberOfCells="1"><Points><DataArray type="Float64" NumberOfComponents="3" format="binary">${base64(new Uint8Array(head.buffer))}${body}</DataArray></Points><Cells>${array('connectivity', 'Int32', '0 1 2 3')}${array('offsets', 'Int32', '4')}${array('types', 'UInt8', '9')}</Cells></Piece></UnstructuredGrid></VTKFile>`;
	return new TextEncoder().encode(text);
}

describe('a mesh that is small on disk and large when it is unpacked', () => {
	it('is refused by what its head says, before it is unpacked', async () => {
		const before = process.memoryUsage().arrayBuffers;
		// 100 blocks of 10 MB in a file of 1.4 MB, for four points.
		await expect(readMeshFile(packedGrid(100, 10_000_000))).rejects.toThrow(MeshFileError);
		await expect(readMeshFile(packedGrid(100, 10_000_000))).rejects.toThrow(/\w+ \w+ \w+/);
		expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(200e6);
	});

	it('is read where the counts agree', async () => {
		// Four points at one place: the element is there, and is flat.
		await expect(readMeshFile(packedGrid(1, 96))).resolves.toMatchObject({ x: new Float64Array(4) });
	});
});
