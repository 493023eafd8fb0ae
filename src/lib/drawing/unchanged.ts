/** Reports whether what a picture is made from is what it was made from last: objects that are the same, texts that are equal. */
export class Unchanged {
	private last: readonly unknown[] | undefined;

	/** Whether all parts are as they were; remembers them. */
	isSame(parts: readonly unknown[]): boolean {
		const { last } = this;
		this.last = parts;
		return last !== undefined && last.length === parts.length && parts.every((part, k) => part === last[k]);
	}

	/** The next picture is to be made whatever it is made from. */
	forget(): void {
		this.last = undefined;
	}
}
