import { existsSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import type { Pipeline } from '../../core/pipeline.ts';
import { giveUp, type Work } from '../../core/numeric/work.ts';
import { type RemoteFiller, ThreadHelpers } from '../../core/stages/helpers.ts';

/** More threads than this share no run. */
const most = 3;

/** The script of a helper, beside the bundle that this stands in. */
const besideThis = fileURLToPath(new URL('./fill-helper.js', import.meta.url));

/**
 * Threads that fill regions for this one, one for each processor but its own; undefined where there is no other, or no script.
 *
 * @param script the bundled helper
 */
export function fillHelpers(script = besideThis, count = Math.min(most, availableParallelism() - 1)): ThreadHelpers | undefined {
	return count > 0 && existsSync(script) ? new ThreadHelpers(count, () => startHelper(script)) : undefined;
}

function startHelper(script: string): RemoteFiller {
	const worker = new Worker(script);
	const ended = new Promise<never>((_, reject) => {
		worker.once('error', reject);
		worker.once('exit', () => reject(new Error('the thread has ended')));
	});
	// A rejection that nobody awaits must not end the process.
	ended.catch(() => {});
	const remote = Comlink.wrap<Omit<RemoteFiller, 'end'>>(nodeEndpoint(worker));
	return {
		fill: (source, names, regions) => Promise.race([remote.fill(source, names, regions), ended]),
		stop: () => remote.stop(),
		end: () => void worker.terminate()
	};
}

/** How long a run goes on before it lets the process take signals and messages, in milliseconds. */
const listenInterval = 50;

/** Runs the work of a pipeline to its end, waits for its helpers where it has to, and reports how far it is. */
export async function finishShared<T>(
	pipeline: Pipeline,
	work: Work<T>,
	onProgress: (progress: number) => void = () => {}
): Promise<T> {
	let since = performance.now();
	try {
		for (;;) {
			const step = work.next();
			if (step.done) return step.value;
			onProgress(step.value);
			if (pipeline.waiting) await pipeline.waiting;
			else if (performance.now() - since < listenInterval) continue;
			else await new Promise((resume) => setImmediate(resume));
			since = performance.now();
		}
	} finally {
		giveUp(work);
	}
}
