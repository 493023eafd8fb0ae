// Builds the application (build/) and the command with the server's workers (dist/), each with the licences of what is shipped.
import { writeFileSync } from 'node:fs';
import { build } from 'vite';
import { buildNode } from './build-node.mjs';
import { forgetPackages, licences, notePackages } from './licences.mjs';

forgetPackages();
const { metafile } = await buildNode();
notePackages(Object.keys(metafile.inputs));
await build({ logLevel: 'warn' });
for (const file of ['build/client/licences.txt', 'dist/licences.txt']) writeFileSync(file, licences());
