// Builds when the sources are newer than the build, and serves on 127.0.0.1 unless HOST says otherwise.
import { execFileSync } from 'node:child_process';
import { isStale } from './stale.mjs';

if (isStale()) execFileSync('node', ['scripts/build.mjs'], { stdio: 'inherit' });
process.env.HOST ??= '127.0.0.1';
process.env.PORT ??= '4710';
process.env.BODY_SIZE_LIMIT ??= '24M';
await import('../build/index.js');
console.log(`Tessellon: http://${process.env.HOST}:${process.env.PORT}`);
