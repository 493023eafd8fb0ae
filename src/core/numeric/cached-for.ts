/** What was made of an object for a number. */
interface CacheEntry {
	maker: number;
	number: number;
	value: unknown;
	/** What something else made of the same object. */
	next: CacheEntry | undefined;
}

/** What was made of objects, by all that makes something: a collector looks through one table for it, and not through one for each. */
const cached = new WeakMap<object, CacheEntry>();
let makers = 0;

/**
 * Remembers what was made of an object and a number, as long as the object lives and until another number is asked for.
 * What is made must follow from the two alone.
 *
 * @example const flattened = kept((piece: Piece, tolerance) => flatten(piece, tolerance));
 */
export function cachedFor<O extends object, T>(make: (of: O, number: number) => T): (of: O, number: number) => T {
	const maker = makers++;
	return (of, number) => {
		let last = cached.get(of);
		while (last && last.maker !== maker) last = last.next;
		if (last?.number === number) return last.value as T;
		const value = make(of, number);
		if (last) [last.number, last.value] = [number, value];
		// Making it may have made something else of the object.
		else cached.set(of, { maker, number, value, next: cached.get(of) });
		return value;
	};
}
