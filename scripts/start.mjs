// Builds when the sources are newer than the build, and serves on 127.0.0.1 unless HOST says otherwise.
import { execFileSync } from 'node:child_process';
import { isStale } from './stale.mjs';

const stop = (sentence) => {
	console.error(`Tessellon cannot start: ${sentence}`);
	process.exit(1);
};

process.env.HOST ??= '127.0.0.1';
process.env.PORT ??= '4710';
process.env.BODY_SIZE_LIMIT ??= '24M';
const { HOST, PORT } = process.env;

const isLocal = HOST === 'localhost' || HOST === '::1' || HOST.startsWith('127.');
if (!isLocal && !process.env.TESSELLON_TOKEN && process.env.TESSELLON_OPEN !== 'yes')
	stop(
		`HOST=${HOST} lets other machines in, and there is no login; set TESSELLON_TOKEN to a secret that opens it (http://…/?token=SECRET), or TESSELLON_OPEN=yes to let everybody read and change everything`
	);

if (isStale()) execFileSync('node', ['scripts/build.mjs'], { stdio: 'inherit' });

process.on('uncaughtException', (error) => {
	if (error.code === 'EADDRINUSE') stop(`port ${PORT} of ${HOST} is in use; is it running already? Another port goes in PORT`);
	if (error.code === 'EADDRNOTAVAIL') stop(`${HOST} is no address of this machine`);
	if (error.code === 'EACCES') stop(`port ${PORT} needs rights that this user has not; take one above 1023`);
	console.error(error);
	process.exit(1);
});
// Whatever runs, the server is gone two seconds after it is asked to go.
for (const signal of ['SIGTERM', 'SIGINT']) process.on(signal, () => setTimeout(() => process.exit(0), 1500).unref());

try {
	await import('../build/index.js');
} catch (error) {
	stop(error.message);
}
console.log(`Tessellon: http://${HOST}:${PORT}`);
