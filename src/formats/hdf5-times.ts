/** Signature and version of an object header, and the flag that says that it holds times. */
const signature = [0x4f, 0x48, 0x44, 0x52, 2];
const holdsTimes = 0x20;
const holdsPhases = 0x10;

/**
 * Sets the times in all object headers of an HDF5 file to zero, in place, so that equal content is equal byte for byte
 * (HDF5 file format specification 3.0, IV.A.1.b, version 2 headers). A header is known by its checksum.
 */
export function forgetTimes(bytes: Uint8Array): void {
	const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
	for (let at = bytes.indexOf(signature[0]!); at >= 0; at = bytes.indexOf(signature[0]!, at + 1)) {
		if (bytes[at + 1] !== signature[1] || !signature.every((byte, k) => bytes[at + k] === byte)) continue;
		const flags = bytes[at + 5]!;
		if (!(flags & holdsTimes)) continue;
		// After the times: the phase change of attributes, then the length of the messages in 1, 2, 4 or 8 bytes.
		const lengthAt = at + 6 + 16 + (flags & holdsPhases ? 4 : 0);
		const width = 1 << (flags & 3);
		if (lengthAt + width > bytes.length) continue;
		const length =
			width === 1 ? view.getUint8(lengthAt) : width === 2 ? view.getUint16(lengthAt, true) : view.getUint32(lengthAt, true);
		const end = lengthAt + width + length;
		if (end + 4 > bytes.length || view.getUint32(end, true) !== lookup3(bytes, at, end)) continue;
		bytes.fill(0, at + 6, at + 22);
		view.setUint32(end, lookup3(bytes, at, end), true);
	}
}

/** The checksum of HDF5's metadata: Jenkins' lookup3, `hashlittle` (B. Jenkins 2006), from `from` to `to`. */
function lookup3(bytes: Uint8Array, from: number, to: number): number {
	let length = to - from;
	let a = (0xdeadbeef + length) | 0;
	let [b, c] = [a, a];
	const word = (at: number, count: number): number => {
		let value = 0;
		for (let k = 0; k < count; k++) value |= bytes[at + k]! << (8 * k);
		return value;
	};
	const turn = (v: number, by: number) => (v << by) | (v >>> (32 - by));
	let at = from;
	for (; length > 12; length -= 12, at += 12) {
		a = (a + word(at, 4)) | 0;
		b = (b + word(at + 4, 4)) | 0;
		c = (c + word(at + 8, 4)) | 0;
		a = ((a - c) ^ turn(c, 4)) | 0;
		c = (c + b) | 0;
		b = ((b - a) ^ turn(a, 6)) | 0;
		a = (a + c) | 0;
		c = ((c - b) ^ turn(b, 8)) | 0;
		b = (b + a) | 0;
		a = ((a - c) ^ turn(c, 16)) | 0;
		c = (c + b) | 0;
		b = ((b - a) ^ turn(a, 19)) | 0;
		a = (a + c) | 0;
		c = ((c - b) ^ turn(b, 4)) | 0;
		b = (b + a) | 0;
	}
	if (length === 0) return c >>> 0;
	a = (a + word(at, Math.min(4, length))) | 0;
	b = (b + word(at + 4, Math.max(0, Math.min(4, length - 4)))) | 0;
	c = (c + word(at + 8, Math.max(0, length - 8))) | 0;
	c = ((c ^ b) - turn(b, 14)) | 0;
	a = ((a ^ c) - turn(c, 11)) | 0;
	b = ((b ^ a) - turn(a, 25)) | 0;
	c = ((c ^ b) - turn(b, 16)) | 0;
	a = ((a ^ c) - turn(c, 4)) | 0;
	b = ((b ^ a) - turn(a, 14)) | 0;
	c = ((c ^ b) - turn(b, 24)) | 0;
	return c >>> 0;
}
