/** Doubles in one stock, and the most that a list takes from it. */
const stockLength = 1 << 15;
const longest = stockLength >> 4;

let stock = new Float64Array(0);
let next = 0;

const none = new Float64Array(0);

/**
 * A list of zeros. A list of its own costs an engine more than a thousand steps, as its memory is asked for, counted and given
 * back by itself; where every piece of a drawing has ten of them, that is most of what they cost. So short ones are parts of
 * a larger one, which stays as long as one of them does: for what is kept, and for nothing that is handed over to another
 * thread by its buffer.
 */
export function pooled(length: number): Float64Array {
	if (length === 0) return none;
	// What is no length would spoil the stock for all that come after.
	if (!(length > 0)) throw new RangeError(`a list has no length of ${length}`);
	if (length > longest) return new Float64Array(length);
	if (next + length > stock.length) {
		stock = new Float64Array(stockLength);
		next = 0;
	}
	next += length;
	return stock.subarray(next - length, next);
}

/** Such a list of some numbers, or of the first of them. */
export function pooledOf(numbers: ArrayLike<number>, length = numbers.length): Float64Array {
	const list = pooled(length);
	for (let k = 0; k < length; k++) list[k] = numbers[k]!;
	return list;
}
