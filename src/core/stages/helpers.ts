import type { Fill } from '../fill/method.ts';
import { FillError } from '../fill/method.ts';
import { giveUp, type Work } from '../numeric/work.ts';
import type { Settings } from '../recipe/model/evaluate.ts';
import type { CoordinateFile, CoordinateFiles } from '../recipe/model/model.ts';

/** What became of a region, in a form that can be sent from one thread to another. */
export type SentFill = { fill: Fill } | { refused: Pick<FillError, 'code' | 'message' | 'at'> };

export const sentFill = (outcome: Fill | FillError): SentFill => {
	if (!(outcome instanceof FillError)) return { fill: outcome };
	const { code, message, at } = outcome;
	return { refused: { code, message, at } };
};

export const receivedFill = (sent: SentFill): Fill | FillError =>
	'fill' in sent ? sent.fill : new FillError(sent.refused.code, sent.refused.message, sent.refused.at);

/** The large arrays of fills, which can change hands without being copied. */
export const buffersOf = (fills: readonly (readonly [string, SentFill])[]): ArrayBuffer[] => {
	const buffers = new Set<ArrayBuffer>();
	for (const [, sent] of fills) {
		if (!('fill' in sent)) continue;
		const { x, y, triangles, quads } = sent.fill;
		for (const list of [x, y, triangles, quads]) buffers.add(list.buffer as ArrayBuffer);
	}
	return [...buffers];
};

/** What a recipe is filled from. */
export interface FillSource {
	text: string;
	files: CoordinateFiles;
	settings?: Settings;
}

/** Fills of some regions that are made elsewhere. */
export interface RemoteRequest {
	/** By region, once they have come; nothing came of it where it is `failed`. */
	readonly answer: ReadonlyMap<string, Fill | FillError> | 'failed' | undefined;
	/** Fulfilled when there is an answer, whatever it is. */
	readonly answered: Promise<void>;
	/** They are not wanted any more. */
	stop(): void;
}

/** A region to be filled: its name, and how many elements it will have or about so. */
export type RegionRequest = readonly [name: string, expected: number];

/** Other threads that fill regions of a recipe while this one fills others. */
export interface FillHelpers {
	/** How many there are. */
	readonly count: number;
	/** It pays to ask one for regions that take as long to fill as so many triangles. */
	readonly worthwhile: number;
	/** Has one of them fill some regions. */
	ask(helper: number, source: FillSource, regions: readonly RegionRequest[]): RemoteRequest;
}

/** A thread that fills regions, as another one sees it. */
export interface RemoteFiller {
	/**
	 * Fills some regions of a recipe; undefined where it was stopped.
	 *
	 * @param source its files only so far as they were not sent before
	 * @param names all files that stand beside the recipe
	 */
	fill(
		source: FillSource,
		names: readonly string[],
		regions: readonly RegionRequest[]
	): Promise<[string, SentFill][] | undefined>;
	stop(): Promise<void>;
	/** Ends the thread. */
	end(): void;
}

/** Helpers in threads that start when they are first needed, and get every file once. */
export class ThreadHelpers implements FillHelpers {
	private readonly threads: ({ remote: RemoteFiller; sent: Map<string, CoordinateFile> } | undefined)[] = [];

	/** @param start starts a thread; its promises never stay unanswered: they are refused where it ends by itself */
	constructor(
		readonly count: number,
		private readonly start: () => RemoteFiller,
		readonly worthwhile = 100_000
	) {}

	ask(helper: number, { text, files, settings }: FillSource, regions: readonly RegionRequest[]): RemoteRequest {
		const thread = (this.threads[helper] ??= { remote: this.start(), sent: new Map() });
		const unsent = Object.entries(files).filter(([name, file]) => thread.sent.get(name) !== file);
		for (const [name, file] of unsent) thread.sent.set(name, file);
		const source = { text, files: Object.fromEntries(unsent), ...(settings ? { settings } : {}) };
		let answer: RemoteRequest['answer'];
		const answered = thread.remote.fill(source, Object.keys(files), regions).then(
			(fills) => {
				answer = fills ? new Map(fills.map(([name, sent]) => [name, receivedFill(sent)])) : 'failed';
			},
			() => {
				// What the thread knew is gone with it.
				if (this.threads[helper] === thread) this.threads[helper] = undefined;
				thread.remote.end();
				answer = 'failed';
			}
		);
		return {
			get answer() {
				return answer;
			},
			answered,
			stop: () => void thread.remote.stop().catch(() => {})
		};
	}

	/** Ends all threads; they start again where they are needed. */
	end(): void {
		for (const thread of this.threads.splice(0)) thread?.remote.end();
	}
}

/** The other side: fills regions for another thread. */
export class Filler implements Omit<RemoteFiller, 'end'> {
	private readonly files = new Map<string, CoordinateFile>();
	/** The question that is wanted; any other gives up at its next breath. */
	private wanted = 0;
	private asked = 0;

	/**
	 * @param fills makes some regions of a recipe
	 * @param letMessagesIn waits until messages that have come were heard
	 * @param clock milliseconds from any origin
	 */
	constructor(
		private readonly fills: (source: FillSource, regions: readonly RegionRequest[]) => Work<Map<string, Fill | FillError>>,
		private readonly letMessagesIn: () => Promise<void>,
		private readonly clock: () => number
	) {}

	async fill(
		{ text, files, settings }: FillSource,
		names: readonly string[],
		regions: readonly RegionRequest[]
	): Promise<[string, SentFill][] | undefined> {
		const id = ++this.asked;
		this.wanted = id;
		for (const [name, file] of Object.entries(files)) this.files.set(name, file);
		const mentioned = Object.fromEntries(names.map((name) => [name, this.files.get(name)!]));
		const work = this.fills({ text, files: mentioned, ...(settings ? { settings } : {}) }, regions);
		let since = this.clock();
		let step = work.next();
		for (; !step.done; step = work.next()) {
			if (this.clock() - since <= yieldInterval) continue;
			await this.letMessagesIn();
			if (this.wanted !== id) {
				giveUp(work);
				return undefined;
			}
			since = this.clock();
		}
		return Array.from(step.value, ([name, outcome]) => [name, sentFill(outcome)]);
	}

	stop(): Promise<void> {
		this.wanted = 0;
		return Promise.resolve();
	}
}

/** How long a fill goes on before it lets messages in, in milliseconds. */
const yieldInterval = 20;
