/** What views that may be open offer to commands. */
export type OfferName = 'layers' | 'chain' | 'worst' | 'frame' | 'fit';

/** Actions of views, by name: a view offers one while it is open, and a command runs it. */
export class Offers {
	private readonly actions = new Map<OfferName, () => void>();

	/** Offers an action; the function returned takes it back. */
	add(name: OfferName, action: () => void): () => void {
		this.actions.set(name, action);
		return () => {
			if (this.actions.get(name) === action) this.actions.delete(name);
		};
	}

	/** Runs an action; returns false where no open view offers it. */
	run(name: OfferName): boolean {
		this.actions.get(name)?.();
		return this.actions.has(name);
	}
}
