import * as Comlink from 'comlink';
import type { FileTable, StudyResult } from '../../api/schemas.ts';
import type { StudyCase } from '../../core/study/cases.ts';
import type { CaseFigures } from '../../formats/study.ts';
import type { StudyManifest } from '../../formats/study-page.ts';
import { fetchFile } from '../api/client.ts';
import type { MeshWorker } from '../desk/mesh.worker.ts';
import type { CaseOutcome } from './case-outcome.ts';
import { newMeshWorker } from '../desk/new-worker.ts';
import { sentenceOf } from '../../core/text/user-error.ts';

/** So many pictures are held at most: each can take a megabyte. */
const mostPictures = 400;
/** Results are kept with the project in groups of this size, and at least after this time, in milliseconds. */
const [keptAtOnce, keptWithin] = [50, 1000];
/** A picture that takes more characters than this is not kept with the project. */
const longestPicture = 150_000;

/** Where results of cases are kept beyond the page. */
export interface StudyKeeper {
	/** What is kept of the very recipe that is run. */
	load(): Promise<StudyResult[]>;
	keep(results: StudyResult[]): Promise<void>;
}

type Runs = Pick<MeshWorker, 'runCase' | 'deliverStudy' | 'hasFile' | 'putFile'>;

const keyOf = ({ settings, refine }: Pick<StudyCase, 'settings' | 'refine'>) =>
	JSON.stringify([Object.entries(settings).sort(), refine]);

/**
 * Runs the cases of a study in a worker of its own, one after the other; what is done stays done when it is stopped, and is kept
 * with the project. A case is known by its number and its values.
 */
export class StudyRunner {
	/** By the number of the case. */
	done = $state.raw<readonly (CaseOutcome | undefined)[]>([]);
	running = $state(false);
	/** While files are made: of how many cases they are. */
	delivered = $state<number | undefined>();
	problem = $state('');
	private worker: Worker | undefined;
	private turn = 0;
	private pictures = 0;
	private unkept: StudyResult[] = [];

	constructor(
		readonly cases: readonly StudyCase[],
		private readonly text: string,
		private readonly files: FileTable,
		private readonly keeper: StudyKeeper,
		private readonly startWorker: () => { worker: Worker; runs: Comlink.Remote<Runs> } = () => {
			const worker = newMeshWorker();
			return { worker, runs: Comlink.wrap<MeshWorker>(worker) };
		}
	) {}

	get count(): number {
		return this.done.filter(Boolean).length;
	}

	get failed(): number {
		return this.done.filter((outcome) => outcome?.ok === false).length;
	}

	/** Takes up what came of cases before. */
	async load(): Promise<void> {
		try {
			const stored = Object.fromEntries((await this.keeper.load()).map((result) => [keyOf(result), result]));
			const done = [...this.done];
			for (const one of this.cases) {
				const result = stored[keyOf(one)];
				if (!result || done[one.number]) continue;
				const { ok, message, figures, picture } = result;
				done[one.number] = { ok, message, figures: figures as CaseFigures | null, picture };
				if (picture !== '') this.pictures++;
			}
			this.done = done;
		} catch (error) {
			this.problem = `What came of cases before could not be loaded: ${sentenceOf(error, 'loading it')}.`;
		}
	}

	/** Goes on with the cases that are not done. */
	async go(): Promise<void> {
		if (this.running) return;
		this.running = true;
		this.problem = '';
		const turn = ++this.turn;
		try {
			const runs = await this.start();
			let shown = performance.now();
			let gathered = [...this.done];
			for (const one of this.cases) {
				if (gathered[one.number]) continue;
				const since = performance.now();
				const { settings, refine } = one;
				const outcome = await runs.runCase(this.text, this.files, { settings: { ...settings }, refine });
				if (turn !== this.turn) return;
				const isPictured = outcome.picture !== '' && ++this.pictures <= mostPictures;
				gathered[one.number] = {
					...outcome,
					picture: isPictured ? outcome.picture : '',
					milliseconds: performance.now() - since
				};
				this.unkept.push({
					...{ settings, refine, ok: outcome.ok, message: outcome.message, figures: outcome.figures },
					picture: isPictured && outcome.picture.length <= longestPicture ? outcome.picture : ''
				});
				// The table is shown anew a few times a second, however fast the cases come.
				const now = performance.now();
				if (this.unkept.length >= keptAtOnce || now - shown > keptWithin) await this.keep();
				if (now - shown < 150) continue;
				shown = now;
				this.done = gathered;
				gathered = [...gathered];
			}
			this.done = gathered;
		} catch (error) {
			if (turn === this.turn) this.problem = sentenceOf(error, 'the study');
		} finally {
			await this.keep();
			if (turn === this.turn) {
				this.running = false;
				this.end();
			}
		}
	}

	/** Runs all cases for what the recipe delivers of each; undefined where it was stopped or failed. */
	async deliver(manifest: StudyManifest): Promise<{ archive: Blob; failed: number } | undefined> {
		if (this.running) return undefined;
		this.running = true;
		this.problem = '';
		const turn = ++this.turn;
		try {
			const runs = await this.start();
			const onProgress = Comlink.proxy((done: number) => {
				if (turn === this.turn) this.delivered = done;
			});
			this.delivered = 0;
			const made = await runs.deliverStudy(this.text, this.files, manifest, onProgress);
			return turn === this.turn ? made : undefined;
		} catch (error) {
			if (turn === this.turn) this.problem = sentenceOf(error, 'the files of the study');
			return undefined;
		} finally {
			if (turn === this.turn) {
				this.running = false;
				this.delivered = undefined;
				this.end();
			}
		}
	}

	/** Starts a worker that has the files of the recipe. */
	private async start(): Promise<Comlink.Remote<Runs>> {
		const { worker, runs } = this.startWorker();
		this.worker = worker;
		for (const hash of Object.values(this.files))
			if (!(await runs.hasFile(hash))) await runs.putFile(hash, await fetchFile(hash));
		return runs;
	}

	/** Stops at once; the case that was under way is begun anew when it goes on. */
	stop(): void {
		this.turn++;
		this.running = false;
		this.delivered = undefined;
		this.end();
		void this.keep();
	}

	/** Ends the worker: the next run starts another. */
	private end(): void {
		this.worker?.terminate();
		this.worker = undefined;
	}

	/** Keeps what came of cases since the last time; where that fails, it is tried again with the next. */
	private async keep(): Promise<void> {
		const results = this.unkept.splice(0);
		if (results.length === 0) return;
		try {
			await this.keeper.keep(results);
		} catch (error) {
			this.unkept.unshift(...results);
			this.problem = `What came of the cases stays on this page alone, as it could not be kept: ${sentenceOf(error, 'keeping it')}.`;
		}
	}
}
