import type { FileTable } from '../../api/schemas.ts';
import type { MeasureResult } from '../../core/quality/quality.ts';
import type { DeskResult } from './snapshot.ts';
import { sentenceOf } from '../../core/text/user-error.ts';

/** What runs recipes for the desk; the mesh worker, or a stand-in. */
export interface Runner {
	run(
		text: string,
		files: FileTable,
		settings: { askAbove: number; measure: string },
		onProgress: (progress: number) => void
	): Promise<{ id: number; result: DeskResult } | undefined>;
	/** One measure of the mesh of a run; undefined when a newer one came. */
	measure(id: number, key: string): Promise<MeasureResult | undefined>;
	stop(): void;
}

/** Work shorter than this shows no progress, in milliseconds. */
const patience = 250;

/** The mesh that follows the text: the newest result, and how far the run is that will give the next. */
export class Meshing {
	/** The newest finished result. */
	result = $state.raw<DeskResult | undefined>();
	/** Set while a run takes longer than a moment. */
	progress = $state<number | undefined>();
	stopped = $state(false);
	/** Why the last run gave nothing. */
	failure = $state('');
	/** More elements than this are made only after a question. */
	askAbove = $state(0);
	measureKey = $state('scaledJacobian');
	/** The run that the result is of. */
	id = 0;
	/** How many elements were agreed to, whatever the limit. */
	private agreed = 0;
	private newest = 0;

	constructor(
		private readonly runner: Runner,
		askAbove: number,
		private readonly now: () => number
	) {
		this.askAbove = askAbove;
	}

	/** Runs a text. While something is dragged, results of what it passed by are shown as well. */
	async run(text: string, files: FileTable): Promise<void> {
		const number = ++this.newest;
		this.stopped = false;
		const started = this.now();
		// Progress comes on its own way, and the last of it may come after the result.
		let hasEnded = false;
		const settings = { askAbove: Math.max(this.askAbove, this.agreed), measure: this.measureKey };
		try {
			const done = await this.runner.run(text, files, settings, (progress) => {
				if (!hasEnded && number === this.newest && this.now() - started > patience) this.progress = progress;
			});
			if (done && done.id >= this.id) {
				this.id = done.id;
				this.failure = '';
				this.result = done.result;
			}
		} catch (error) {
			if (number === this.newest) this.failure = sentenceOf(error, 'the mesh');
		} finally {
			hasEnded = true;
		}
		if (number !== this.newest) return;
		this.progress = undefined;
		// Another measure may have been chosen meanwhile.
		if (this.result && this.result.measure.key !== this.measureKey) await this.look(this.measureKey);
	}

	/** Looks at another measure of the mesh that is there. */
	async look(key: string): Promise<void> {
		this.measureKey = key;
		const { id, result } = this;
		if (!result || result.measure.key === key) return;
		const taken = await this.runner.measure(id, key);
		if (taken && this.id === id && this.measureKey === key) this.result = { ...this.result!, measure: { key, taken } };
	}

	/** So many elements are made without a question from now on. */
	agree(elements: number): void {
		this.agreed = elements;
	}

	setLimit(elements: number): void {
		this.askAbove = elements;
		this.agreed = 0;
	}

	stop(): void {
		this.newest++;
		this.runner.stop();
		this.progress = undefined;
		this.stopped = true;
	}
}
