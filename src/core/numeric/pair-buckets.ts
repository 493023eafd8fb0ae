import { keepHiddenClass } from './hidden-class.ts';
import { lengthened } from './lengthened.ts';

/** Items numbered from 0 on, found again by pairs of whole numbers. */
export class PairBuckets {
	count = 0;
	private a: Int32Array;
	private b: Int32Array;
	/** The item before in the same bucket, −1 at its end; by bucket the last item. */
	private before: Int32Array;
	private last: Int32Array;

	/** @param room for how many items there is room at first */
	constructor(room: number) {
		const size = Math.max(16, room);
		[this.a, this.b, this.before] = [new Int32Array(size), new Int32Array(size), new Int32Array(size)];
		let buckets = 32;
		while (buckets < 2 * size) buckets *= 2;
		this.last = new Int32Array(buckets).fill(-1);
	}

	/** Adds an item under a pair; returns its number. */
	add(a: number, b: number): number {
		if (this.count === this.a.length) this.grow();
		const item = this.count++;
		this.a[item] = a;
		this.b[item] = b;
		this.put(item);
		return item;
	}

	/** The item last added under a pair, or −1. */
	newest(a: number, b: number): number {
		return this.same(this.last[this.bucket(a, b)]!, a, b);
	}

	/** The item added under the same pair before one, or −1. */
	older(item: number): number {
		return this.same(this.before[item]!, this.a[item]!, this.b[item]!);
	}

	private same(item: number, a: number, b: number): number {
		while (item >= 0 && (this.a[item] !== a || this.b[item] !== b)) item = this.before[item]!;
		return item;
	}

	private bucket(a: number, b: number): number {
		let hash = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b);
		hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d);
		return (hash ^ (hash >>> 13)) & (this.last.length - 1);
	}

	private put(item: number): void {
		const bucket = this.bucket(this.a[item]!, this.b[item]!);
		this.before[item] = this.last[bucket]!;
		this.last[bucket] = item;
	}

	private grow(): void {
		const size = 2 * this.a.length;
		[this.a, this.b, this.before] = [lengthened(this.a, size), lengthened(this.b, size), lengthened(this.before, size)];
		this.last = new Int32Array(2 * this.last.length).fill(-1);
		for (let item = 0; item < this.count; item++) this.put(item);
	}
}

keepHiddenClass(new PairBuckets(1));
