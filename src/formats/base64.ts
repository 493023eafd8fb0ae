/** Bytes in base64, in slices that keep the argument list of `fromCharCode` short. */
export function toBase64(bytes: Uint8Array): string {
	const parts: string[] = [];
	const slice = 3 * 8192;
	for (let at = 0; at < bytes.length; at += slice) parts.push(btoa(String.fromCharCode(...bytes.subarray(at, at + slice))));
	return parts.join('');
}
