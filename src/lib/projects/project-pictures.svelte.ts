/** A picture that does not come is asked for again a few times: the server may be busy, or its database held by another program. */
const mostTries = 3;
/** The time before it is asked for again, in milliseconds. */
const againAfter = 4000;

/** Which pictures of projects have come, by project and revision. */
export class ProjectPictures {
	private readonly states = $state<Record<string, 'come' | 'missing'>>({});
	private readonly tries = $state<Record<string, number>>({});

	/** @param later calls back after a time in milliseconds */
	constructor(private readonly later: (call: () => void, milliseconds: number) => void = setTimeout) {}

	/** What is known of a picture; undefined while it is on its way. */
	stateOf(key: string): 'come' | 'missing' | undefined {
		return this.states[key];
	}

	/** How often it did not come: part of its address, so that the browser asks for it anew. */
	triesOf(key: string): number {
		return this.tries[key] ?? 0;
	}

	came(key: string): void {
		this.states[key] = 'come';
	}

	missed(key: string): void {
		const tries = this.triesOf(key) + 1;
		if (tries < mostTries) this.later(() => (this.tries[key] = tries), againAfter);
		else this.states[key] = 'missing';
	}
}
