/** One line of docs/benchmarks.md: a ratio of two times taken in turn in the same run. */
export interface Ratio {
	what: string;
	against: string;
	/** Median of the pairs, with the lowest and the highest. */
	median: number;
	low: number;
	high: number;
	wanted: string;
	note: string;
}

export function time(run: () => void): number {
	const start = performance.now();
	run();
	return performance.now() - start;
}

/** Times two runs in turn, after one of each. */
export function pairs(count: number, a: () => void, b: () => void): Pick<Ratio, 'median' | 'low' | 'high'> {
	a();
	b();
	return summarised(Array.from({ length: count }, () => time(a) / time(b)));
}

/** The median of ratios, with the lowest and the highest. */
export function summarised(ratios: readonly number[]): Pick<Ratio, 'median' | 'low' | 'high'> {
	const sorted = [...ratios].sort((p, q) => p - q);
	return { median: sorted[(sorted.length - 1) >> 1]!, low: sorted[0]!, high: sorted.at(-1)! };
}
