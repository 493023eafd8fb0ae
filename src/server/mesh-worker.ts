import { parentPort } from 'node:worker_threads';
import { Pipeline } from '../core/pipeline.ts';
import { readGeometryFile } from '../formats/geometry-file.ts';
import { deliver, formatByEnding } from '../formats/delivery.ts';
import { drawPicture } from '../formats/picture.ts';
import { report } from '../formats/report.ts';
import type { MeshAnswer, MeshTask } from './pool.ts';

const port = parentPort!;
const send = (answer: MeshAnswer) => port.postMessage(answer);

/** A worker thread does one task after another; the pool ends the thread to stop a task. */
port.on('message', (task: MeshTask) => {
	work(task).then(
		(output) => send({ kind: 'done', output }),
		(error: Error) => send({ kind: 'failed', message: error.message })
	);
});

/** A picture of more elements than this shows no more than one of the outlines. */
const mostPictured = 200_000;

async function work(task: MeshTask): Promise<Uint8Array> {
	const files = Object.fromEntries(Object.entries(task.files).map(([name, bytes]) => [name, readGeometryFile(bytes)]));
	const limit = task.output === 'picture' ? { askAbove: mostPictured } : {};
	const run = new Pipeline(() => performance.now()).run({ text: task.text, files, ...limit });
	let step = run.next();
	while (!step.done) {
		send({ kind: 'progress', progress: step.value });
		step = run.next();
	}
	const result = step.value;
	if (task.output === 'picture') return new TextEncoder().encode(drawPicture(result));
	if (task.output === 'report') return new TextEncoder().encode(JSON.stringify(report(result)));
	return deliver(result, formatByEnding(task.output)!);
}
