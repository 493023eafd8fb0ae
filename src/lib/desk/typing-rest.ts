/** How long typing rests before it is a revision, in milliseconds. */
const typingRest = 500;
/** How long a drag may stand still before it is saved all the same, in milliseconds. */
const heldRest = 60_000;

/** The label of what was typed into the recipe. */
export const typedLabel = 'Edit the recipe';

/** Turns what is typed or dragged into revisions: one when it rests, however many keys or movements there were. */
export class TypingRest {
	private timer: ReturnType<typeof setTimeout> | undefined;

	/** @param save saves what was typed so far, under a label */
	constructor(private readonly save: (label: string) => void) {}

	/** Something was typed; or moved and is `held`, so that one movement is one step of undo. */
	touch(held: boolean): void {
		clearTimeout(this.timer);
		this.timer = setTimeout(() => this.finish(), held ? heldRest : typingRest);
	}

	/** Saves what was typed, if anything waits. */
	finish(label = typedLabel): void {
		if (this.timer === undefined) return;
		clearTimeout(this.timer);
		this.timer = undefined;
		this.save(label);
	}

	get waits(): boolean {
		return this.timer !== undefined;
	}
}
