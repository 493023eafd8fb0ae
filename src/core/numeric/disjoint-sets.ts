import { keepHiddenClass } from './hidden-class.ts';
import { numbersBelow } from './lists.ts';

/** Sets of the numbers from 0 to below a count, which can be joined: each alone at first (Tarjan 1975, with ways halved as they are gone). */
export class DisjointSets {
	private readonly parent: Int32Array;

	constructor(count: number) {
		this.parent = numbersBelow(count);
	}

	/** The smallest number of the set of one. */
	root(i: number): number {
		const { parent } = this;
		while (parent[i] !== i) i = parent[i] = parent[parent[i]!]!;
		return i;
	}

	join(a: number, b: number): void {
		const [p, q] = [this.root(a), this.root(b)];
		if (p < q) this.parent[q] = p;
		else this.parent[p] = q;
	}
}

keepHiddenClass(new DisjointSets(1));
