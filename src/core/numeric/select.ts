/** Reorders order[first … last] so that the item at k is the one that sorting by key would put there (Hoare 1961). */
export function select(order: Int32Array, first: number, last: number, k: number, key: Float64Array): void {
	while (last > first) {
		const pivot = key[order[(first + last) >> 1]!]!;
		let [i, j] = [first, last];
		while (i <= j) {
			while (key[order[i]!]! < pivot) i++;
			while (key[order[j]!]! > pivot) j--;
			if (i > j) break;
			const swapped = order[i]!;
			order[i++] = order[j]!;
			order[j--] = swapped;
		}
		if (k <= j) last = j;
		else if (k >= i) first = i;
		else return;
	}
}
