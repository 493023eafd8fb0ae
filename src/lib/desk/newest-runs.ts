/**
 * Runs that follow what is typed or dragged: one at a time, and of those that wait only the newest. A
 * run that goes on is let finish for a while, so that something comes out though there is always a
 * newer one; after that the newer one takes over.
 */
export class NewestRuns {
	private newest = 0;
	/** Runs up to this one are not wanted any more. */
	private stopped = 0;
	private running: { until: number; ended: Promise<unknown> } | undefined;

	/**
	 * @param grace how long a run is let go on though a newer one waits, in milliseconds
	 * @param now a clock, in milliseconds
	 */
	constructor(
		private readonly grace: number,
		private readonly now: () => number
	) {}

	/**
	 * Starts a run when its turn comes; undefined when a newer one came first, or it was stopped.
	 *
	 * @param prepare what must be done before
	 * @param start starts the run of a number, and with it overtakes any that goes on; gives undefined when overtaken
	 */
	async run<T>(
		prepare: () => Promise<void>,
		start: (id: number) => Promise<T | undefined>
	): Promise<{ id: number; result: T } | undefined> {
		const id = ++this.newest;
		await prepare();
		while (id === this.newest && this.running && this.running.until > this.now()) {
			const { until, ended } = this.running;
			const patience = new Promise((resume) => setTimeout(resume, until - this.now()));
			await Promise.race([ended.catch(() => {}), patience]);
		}
		if (id !== this.newest) return undefined;
		const ended = start(id);
		const running = { until: this.now() + this.grace, ended };
		this.running = running;
		try {
			const result = await ended;
			return result !== undefined && id > this.stopped ? { id, result } : undefined;
		} finally {
			if (this.running === running) this.running = undefined;
		}
	}

	isNewest(id: number): boolean {
		return id === this.newest;
	}

	/** Nothing that was asked for so far is wanted. */
	stop(): void {
		this.stopped = this.newest++;
	}
}
