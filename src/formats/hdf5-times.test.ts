import h5wasm from 'h5wasm';
import { afterEach, expect, it, vi } from 'vitest';
import { forgetTimes } from './hdf5-times.ts';

afterEach(() => void vi.useRealTimers());

/** A small file made at a time of day. */
async function made(seconds: number): Promise<Uint8Array> {
	const { FS } = await h5wasm.ready;
	vi.useFakeTimers({ now: 1000 * seconds, toFake: ['Date'] });
	const file = new h5wasm.File('/made.h5', 'w', { track_order: true });
	const group = file.create_group('walls', true);
	group.create_attribute('name', 'OHDR\u0002 in a name', [], 'S33');
	group.create_dataset({ name: 'x', data: Float64Array.of(1, 2, 3), shape: [3], dtype: '<d' });
	for (let k = 0; k < 40; k++) group.create_dataset({ name: `n${k}`, data: Int32Array.of(k), shape: [1], dtype: '<i' });
	file.close();
	return FS.readFile('/made.h5') as Uint8Array;
}

it('files of equal content made at different times become equal, and can still be read', async () => {
	const [one, other] = [await made(1_000_000_000), await made(2_000_000_000)];
	expect(Buffer.compare(one, other)).not.toBe(0);
	forgetTimes(one);
	forgetTimes(other);
	expect(Buffer.compare(one, other)).toBe(0);
	const { FS } = await h5wasm.ready;
	FS.writeFile('/read.h5', one);
	const file = new h5wasm.File('/read.h5', 'r');
	expect((file.get('walls/x') as { value: unknown } | null)?.value).toEqual(Float64Array.of(1, 2, 3));
	expect((file.get('walls/n39') as { value: unknown } | null)?.value).toEqual(Int32Array.of(39));
	file.close();
});
