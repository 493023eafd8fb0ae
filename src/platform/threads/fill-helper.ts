import { parentPort } from 'node:worker_threads';
import * as Comlink from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { Pipeline } from '../../core/pipeline.ts';
import { buffersOf, Filler, type RemoteFiller } from '../../core/stages/helpers.ts';

const clock = () => performance.now();
const pipeline = new Pipeline(clock);
const filler = new Filler(
	(source, regions) => pipeline.someFills(source, regions),
	() => new Promise((resume) => setImmediate(resume)),
	clock
);
const api: Omit<RemoteFiller, 'end'> = {
	async fill(source, names, regions) {
		const fills = await filler.fill(source, names, regions);
		return fills && Comlink.transfer(fills, buffersOf(fills));
	},
	stop: () => filler.stop()
};

Comlink.expose(api, nodeEndpoint(parentPort!));
