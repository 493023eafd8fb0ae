import * as Comlink from 'comlink';
import type { FileTable } from '../../api/schemas.ts';
import type { StudyCase } from '../../core/study/cases.ts';
import type { CaseFigures } from '../../formats/study.ts';
import { fetchFile } from '../api/client.ts';
import type { MeshWorker } from '../desk/mesh.worker.ts';
import { newMeshWorker } from '../desk/new-worker.ts';

/** What came of a case at the desk. */
export interface CaseOutcome {
	ok: boolean;
	message: string;
	figures: CaseFigures | null;
	/** A small picture of the mesh, as SVG; empty where there is none. */
	picture: string;
	milliseconds: number;
}

/** Runs the cases of a study in a worker of its own, one after the other; what is done stays done when it is stopped. */
export class StudyRunner {
	/** By the name of the case. */
	done = $state.raw<ReadonlyMap<string, CaseOutcome>>(new Map());
	running = $state(false);
	problem = $state('');
	private worker: Worker | undefined;
	private turn = 0;

	constructor(
		readonly cases: readonly StudyCase[],
		private readonly text: string,
		private readonly files: FileTable
	) {}

	get failed(): number {
		let count = 0;
		for (const { ok } of this.done.values()) if (!ok) count++;
		return count;
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
			let gathered = new Map(this.done);
			for (const one of this.cases) {
				if (gathered.has(one.name)) continue;
				const since = performance.now();
				const outcome = await remote.runCase(this.text, this.files, { settings: { ...one.settings }, refine: one.refine });
				if (turn !== this.turn) return;
				gathered.set(one.name, { ...outcome, milliseconds: performance.now() - since });
				// The table is shown anew a few times a second, however fast the cases come.
				if (performance.now() - told < 150) continue;
				told = performance.now();
				this.done = gathered;
				gathered = new Map(gathered);
			}
			this.done = gathered;
		} catch (error) {
			if (turn === this.turn) this.problem = (error as Error).message;
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
