/** A typed array of a larger length with the items of a shorter one, zeros after them. */
export function lengthened<T extends Float64Array | Int32Array | Uint8Array>(array: T, length: number): T {
	const copy = new (array.constructor as new (n: number) => T)(length);
	copy.set(array as never);
	return copy;
}
