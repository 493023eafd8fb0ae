import { Unzlib } from 'fflate';
import { MeshFileError } from './mesh-file.ts';

/** What a file may come to at least, whatever its own size, and how many times its own size. */
const [leastBytes, timesOwn] = [400_000_000, 16];
/** Packed bytes are unpacked step by step, so that what grows too large is noticed early. */
const step = 1 << 16;

/**
 * Counts the bytes that reading a file makes, before they are made: a few bytes of a packed file may stand for gigabytes. All
 * methods throw a {@link MeshFileError} beyond the budget.
 */
export class ReadingBudget {
	private remaining: number;
	private readonly budget: number;

	/** @param fileBytes the size of the file */
	constructor(fileBytes: number) {
		this.remaining = this.budget = Math.max(leastBytes, timesOwn * fileBytes);
	}

	/** Allows for `count` values of `bytesEach` bytes. */
	take(count: number, bytesEach = 8): void {
		if (!(Number.isSafeInteger(count) && count >= 0))
			throw new MeshFileError('the file is damaged: the length of an array is no whole number from 0');
		this.remaining -= count * bytesEach;
		if (this.remaining < 0)
			throw new MeshFileError(
				`the file comes to more than ${Math.round(this.budget / 1e6)} MB when it is read, far above what it takes on disk; it is damaged, or the mesh has to be split`
			);
	}

	/**
	 * The bytes that a zlib stream unpacks to.
	 *
	 * @param expected how many there must be, as the head of the array says
	 */
	inflated(packed: Uint8Array, expected: number): Uint8Array {
		this.take(expected, 1);
		const all = new Uint8Array(expected);
		let made = 0;
		const stream = new Unzlib((chunk) => {
			if (made + chunk.length > expected) throw new MeshFileError(`the file is damaged: a packed array holds more than it says`);
			all.set(chunk, made);
			made += chunk.length;
		});
		for (let at = 0; at < packed.length; at += step) stream.push(packed.subarray(at, at + step), at + step >= packed.length);
		if (made < expected) throw new MeshFileError('the file is cut off: a packed array holds less than it says');
		return all;
	}
}
