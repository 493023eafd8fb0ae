/** The content of a file, taken into the program when it is built. */
declare module '*?bytes' {
	const bytes: Uint8Array<ArrayBuffer>;
	export default bytes;
}
