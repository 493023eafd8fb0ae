import { buildNode } from '../scripts/build-node.mjs';

/** Bundles the command and the server's worker once, before the unit tests that run them. */
export default async function setup(): Promise<void> {
	await buildNode();
}
