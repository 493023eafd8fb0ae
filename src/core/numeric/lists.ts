import { keepHiddenClass } from './hidden-class.ts';
import { pooledOf } from './pooled.ts';

/** A list of doubles that grows, in one array. */
export class Float64List {
	length = 0;
	private items: Float64Array;

	/** @param room for how many there is room at first */
	constructor(room = 1024) {
		this.items = new Float64Array(Math.max(1, room));
	}

	push(value: number): void {
		if (this.length === this.items.length) {
			const larger = new Float64Array(2 * this.length);
			larger.set(this.items);
			this.items = larger;
		}
		this.items[this.length++] = value;
	}

	/** What it holds, as a list for good. */
	copied(): Float64Array {
		return pooledOf(this.items, this.length);
	}

	/** What it holds, as an array of that length; the list is given away with it. */
	taken(): Float64Array {
		return this.length === this.items.length ? this.items : this.items.slice(0, this.length);
	}
}

/** A list of whole numbers from 0 to 2³² − 1 that grows, in one array. */
export class Uint32List {
	length = 0;
	private items: Uint32Array;

	/** @param room for how many there is room at first */
	constructor(room = 1024) {
		this.items = new Uint32Array(Math.max(1, room));
	}

	push(value: number): void {
		if (this.length === this.items.length) {
			const larger = new Uint32Array(2 * this.length);
			larger.set(this.items);
			this.items = larger;
		}
		this.items[this.length++] = value;
	}

	/** Four at once. */
	push4(a: number, b: number, c: number, d: number): void {
		const at = this.length;
		if (at + 4 > this.items.length) {
			for (const value of [a, b, c, d]) this.push(value);
			return;
		}
		const { items } = this;
		items[at] = a;
		items[at + 1] = b;
		items[at + 2] = c;
		items[at + 3] = d;
		this.length = at + 4;
	}

	/** What it holds, as an array of that length; the list is given away with it. */
	taken(): Uint32Array {
		return this.length === this.items.length ? this.items : this.items.slice(0, this.length);
	}
}

/** One array after the other. */
export function concatenated<A extends Float64Array | Uint32Array>(a: A, b: A): A {
	const out = new (a.constructor as new (length: number) => A)(a.length + b.length);
	out.set(a);
	out.set(b, a.length);
	return out;
}

/** Adds a value to the list that a map has under a key. */
export function addTo<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
	const list = lists.get(key);
	if (list) list.push(value);
	else lists.set(key, [value]);
}

/** The numbers from 0 to below a count. */
export function numbersBelow(count: number): Int32Array {
	const numbers = new Int32Array(count);
	for (let k = 0; k < count; k++) numbers[k] = k;
	return numbers;
}

keepHiddenClass(new Float64List(1));
keepHiddenClass(new Uint32List(1));
