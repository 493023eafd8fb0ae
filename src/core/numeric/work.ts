/**
 * Long work as a generator: it yields now and then, so that whoever drives it can show how far it
 * is (0 to 1), let other work in, or stop it by not asking for more.
 */
export type Work<T> = Generator<number, T, void>;

/** Runs work to its end at once. */
export function finish<T>(work: Work<T>): T {
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
	}
}

/** Short work that is done in one step. */
export function* atOnce<T>(make: () => T): Work<T> {
	yield 0;
	return make();
}

/** Calls a function for one stretch of a count after the other, and lets whoever drives it in between them. */
export function* inStretches(count: number, size: number, run: (from: number, to: number) => void): Work<void> {
	for (let from = 0; from < count; from += size) {
		const to = Math.min(count, from + size);
		run(from, to);
		yield to / count;
	}
}

/** Runs a part of the work, its progress mapped to [from, to]. */
export function* part<T>(work: Work<T>, from: number, to: number): Work<T> {
	try {
		for (;;) {
			const step = work.next();
			if (step.done) return step.value;
			yield from + (to - from) * step.value;
		}
	} finally {
		giveUp(work);
	}
}

/** Stops work for good, so that all that is under way in it can be ended; nothing happens where it is done. */
export function giveUp<T>(work: Work<T>): void {
	work.return(undefined as T);
}
