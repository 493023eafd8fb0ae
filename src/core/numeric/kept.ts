/** What was made of an object for a number. */
interface Made {
	number: number;
	value: unknown;
}

/** What was made of objects, by all that makes something: a collector looks through one table for it, and not through one for each. */
const known = new WeakMap<object, (Made | undefined)[]>();
let makers = 0;

/**
 * Remembers what was made of an object and a number, as long as the object lives and until another number is asked for.
 * What is made must follow from the two alone.
 *
 * @example const flattened = kept((piece: Piece, tolerance) => flatten(piece, tolerance));
 */
export function kept<O extends object, T>(make: (of: O, number: number) => T): (of: O, number: number) => T {
	const maker = makers++;
	return (of, number) => {
		const all = known.get(of);
		const last = all?.[maker];
		if (last?.number === number) return last.value as T;
		const value = make(of, number);
		// Making it may have made something else of the object.
		let own = all ?? known.get(of);
		if (!own) known.set(of, (own = []));
		own[maker] = { number, value };
		return value;
	};
}
