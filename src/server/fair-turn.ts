/** What a turn depends on. */
interface Waiting<T> {
	/** How many tasks of the same owner are at work. */
	running(of: T): number;
	/** When the same owner had a turn last. */
	lastTurn(of: T): number;
	/** In what order they were asked for. */
	order(of: T): number;
}

/**
 * Whose turn it is: of those who have least at work the one that has waited longest for a turn, and of that one what was asked
 * for first. So somebody's tenth job waits for the first of another.
 */
export function fairest<T>(waiting: readonly T[], { running, lastTurn, order }: Waiting<T>): T | undefined {
	const before = (a: T, b: T) => running(a) - running(b) || lastTurn(a) - lastTurn(b) || order(a) - order(b);
	return waiting.reduce<T | undefined>((best, one) => (best === undefined || before(one, best) < 0 ? one : best), undefined);
}
