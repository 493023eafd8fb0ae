import * as Comlink from 'comlink';
import type { FileTable } from '../../api/schemas.ts';
import type { StudyCase } from '../../core/study/cases.ts';
import { fetchFile } from '../api/client.ts';
import type { MeshWorker } from '../desk/mesh.worker.ts';
import type { CaseOutcome } from './case-outcome.ts';
import { newMeshWorker } from '../desk/new-worker.ts';
import { sentenceOf } from '../../core/text/user-error.ts';

/** So many pictures are kept at most: each can take a megabyte. */
const mostPictures = 400;

/** Runs the cases of a study in a worker of its own, one after the other; what is done stays done when it is stopped. */
export class StudyRunner {
	/** By the name of the case. */
	done = $state.raw<Readonly<Record<string, CaseOutcome>>>({});
	running = $state(false);
	problem = $state('');
	private worker: Worker | undefined;
	private turn = 0;
	private pictures = 0;

	constructor(
		readonly cases: readonly StudyCase[],
		private readonly text: string,
		private readonly files: FileTable
	) {}

	get count(): number {
		return Object.keys(this.done).length;
	}

	get failed(): number {
		return Object.values(this.done).filter(({ ok }) => !ok).length;
	}

	/** Goes on with the cases that are not done. */
	async go(): Promise<void> {
		if (this.running) return;
		this.running = true;
		this.problem = '';
		const turn = ++this.turn;
		try {
			this.worker ??= newMeshWorker();
			const { worker } = this;
			const remote = Comlink.wrap<MeshWorker>(worker);
			for (const hash of Object.values(this.files))
				if (!(await remote.hasFile(hash))) await remote.putFile(hash, await fetchFile(hash));
			let told = performance.now();
			let gathered = { ...this.done };
			for (const one of this.cases) {
				if (Object.hasOwn(gathered, one.name)) continue;
				const since = performance.now();
				const outcome = await remote.runCase(this.text, this.files, { settings: { ...one.settings }, refine: one.refine });
				if (turn !== this.turn) return;
				const own = { ...outcome, milliseconds: performance.now() - since };
				if (own.picture !== '' && ++this.pictures > mostPictures) own.picture = '';
				gathered[one.name] = own;
				// The table is shown anew a few times a second, however fast the cases come.
				if (performance.now() - told < 150) continue;
				told = performance.now();
				this.done = gathered;
				gathered = { ...gathered };
			}
			this.done = gathered;
		} catch (error) {
			if (turn === this.turn) this.problem = sentenceOf(error, 'the study');
		} finally {
			if (turn === this.turn) this.running = false;
		}
	}

	/** Stops at once; the case that was under way is begun anew when it goes on. */
	stop(): void {
		this.turn++;
		this.running = false;
		this.worker?.terminate();
		this.worker = undefined;
	}
}
