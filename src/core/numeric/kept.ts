/**
 * Remembers what was made of an object and a number, as long as the object lives and until another number is asked for.
 * What is made must follow from the two alone.
 *
 * @example const flattened = kept((piece: Piece, tolerance) => flatten(piece, tolerance));
 */
export function kept<O extends object, T>(make: (of: O, number: number) => T): (of: O, number: number) => T {
	const known = new WeakMap<O, { number: number; value: T }>();
	return (of, number) => {
		const last = known.get(of);
		if (last?.number === number) return last.value;
		const value = make(of, number);
		known.set(of, { number, value });
		return value;
	};
}
