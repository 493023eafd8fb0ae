// Builds the application (build/) and the command with the server's worker (dist/).
import { build } from 'vite';
import { buildNode } from './build-node.mjs';

await buildNode();
await build({ logLevel: 'warn' });
