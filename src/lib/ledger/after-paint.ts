/** Does something once after the next picture of the page, however often it is asked for until then. */
export class AfterPaint {
	private frame = 0;
	private timer: ReturnType<typeof setTimeout> | undefined;

	constructor(private readonly deed: () => void) {}

	/** Whether it is still to be done. */
	get waits(): boolean {
		return this.frame !== 0 || this.timer !== undefined;
	}

	soon(): void {
		if (this.waits) return;
		this.frame = requestAnimationFrame(() => {
			this.frame = 0;
			// A task of its own comes after the picture of this frame.
			this.timer = setTimeout(() => this.now());
		});
	}

	/** Does it at once, if it is still to be done. */
	now(): void {
		if (!this.waits) return;
		cancelAnimationFrame(this.frame);
		clearTimeout(this.timer);
		this.frame = 0;
		this.timer = undefined;
		this.deed();
	}
}
