// Builds when the sources are newer than the build, and serves on 127.0.0.1 unless HOST says otherwise.
import { execFileSync } from 'node:child_process';
import { createServer } from 'node:http';
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
	if (error.code === 'EADDRNOTAVAIL' || error.code === 'ENOTFOUND') stop(`${HOST} is no address of this machine`);
	if (error.code === 'EACCES') stop(`port ${PORT} needs rights that this user has not; take one above 1023`);
	if (error.code === 'ERR_SOCKET_BAD_PORT') stop(`PORT is ${PORT}; it is a whole number from 1 to 65535`);
	console.error(error);
	process.exit(1);
});
// Whatever runs, the server is gone two seconds after it is asked to go, or when whoever started it for a file has gone.
for (const signal of ['SIGTERM', 'SIGINT']) process.on(signal, () => setTimeout(() => process.exit(0), 1500).unref());
if (process.channel) {
	process.on('disconnect', () => process.exit(1));
	process.channel.unref();
}

try {
	const { handler } = await import('../build/handler.js');
	const { hostGuard } = await import('../dist/host-guard.js');
	const server = createServer((request, response) => {
		// Files of the page are given out before anything else looks at the name under which this server is asked.
		if (!hostGuard(request, response)) handler(request, response);
	});
	server.listen(Number(PORT), HOST, () => console.log(`Tessellon: http://${HOST}:${PORT}`));
	for (const signal of ['SIGTERM', 'SIGINT']) process.on(signal, () => server.close());
} catch (error) {
	// What is no sentence is for whoever mends the program.
	if (error.name !== 'UserError') console.error(error);
	stop(error.name === 'UserError' ? error.message : 'it failed before it could answer; please report the lines above');
}
