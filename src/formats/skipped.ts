import { isUserError } from '../core/text/user-error.ts';

/** What of a drawing is not read, counted by what it is. */
export class Skipped {
	private readonly counts = new Map<string, number>();
	/** Why the first of each kind could not be drawn: the reasons of the others may be as many as they are. */
	private readonly reasons = new Map<string, string>();

	add(what: string): void {
		this.set(what, (this.counts.get(what) ?? 0) + 1);
	}

	/** Sets a count that was taken in another way. */
	set(what: string, count: number): void {
		this.counts.set(what, count);
	}

	/**
	 * Counts a shape that could not be drawn: what our own geometry refuses says why.
	 *
	 * @param otherwise what is said of an error that is no sentence, such as one of a library
	 */
	refused(kind: string, error: unknown, otherwise: string): void {
		if (!isUserError(error)) return this.add(`${kind} ${otherwise}`);
		const reason = this.reasons.get(kind) ?? error.message;
		this.reasons.set(kind, reason);
		this.add(`${kind} that cannot be drawn (${reason})`);
	}

	/** Each kind with its count, in the order in which they were met. */
	list(): string[] {
		return [...this.counts].map(([what, count]) => `${count} ${what}`);
	}
}
