/** Of the interface to WebAssembly what is used here, the same in a browser and in Node. */
declare const WebAssembly: {
	Module: new (bytes: Uint8Array<ArrayBuffer>) => object;
	Memory: new (pages: { initial: number }) => { buffer: ArrayBuffer };
	Instance: new (module: object, imports: object) => { exports: object };
};

const pageBytes = 65536;

/** What vectors may read or write past the end of a list. */
const margin = 16;

/**
 * Arithmetic in WebAssembly, compiled from AssemblyScript (`*.as.ts?bytes`), with lists of numbers in its memory. It does what the
 * same loop in TypeScript would, bit for bit.
 *
 * @param module its bytes; compiled once
 * @param lengths how many numbers are in each list, all 0 at first
 * @returns its functions, the lists, and the address of each, for a function
 */
export function arithmetic<Functions>(
	module: Uint8Array<ArrayBuffer>,
	lengths: readonly number[]
): { functions: Functions; lists: Float64Array[]; at: number[] } {
	let compiled = modules.get(module);
	if (!compiled) modules.set(module, (compiled = new WebAssembly.Module(module)));
	const at: number[] = [];
	// Nothing of a program's own lies in its first page.
	let end = margin;
	for (const length of lengths) {
		at.push(end);
		end += 8 * length + margin;
	}
	const memory = new WebAssembly.Memory({ initial: Math.ceil(end / pageBytes) });
	const { exports } = new WebAssembly.Instance(compiled, { env: { memory } });
	return {
		functions: exports as Functions,
		lists: lengths.map((length, k) => new Float64Array(memory.buffer, at[k], length)),
		at
	};
}

const modules = new WeakMap<object, object>();
