#!/usr/bin/env node
import { existsSync } from 'node:fs';

const built = new URL('../dist/tessellon.js', import.meta.url);
if (existsSync(built)) await import(built.href);
else {
	process.stderr.write('tessellon: the command is not built yet; run `npm start` or `npm test` once\n');
	process.exitCode = 2;
}
