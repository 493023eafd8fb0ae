import { createServer } from 'node:http';
import { resolve } from 'node:path';
import { UserError } from '../core/text/user-error.ts';
import { hostGuard, isLocalAddress } from './host-guard.ts';
import { programFolder } from './program-folder.ts';

/** Where the server listens and keeps its data; what is absent comes from the environment. */
export interface ServeOptions {
	host?: string;
	port?: string;
	/** The folder of the database and the files. */
	data?: string;
}

/** What the built application exports. */
interface Application {
	handler: Parameters<typeof createServer>[1] & {};
}

/**
 * Serves the built application. Resolves when the server listens; it then runs until a signal ends it.
 *
 * @throws UserError where the address cannot be used, or where other machines would come in without a secret
 */
export async function serve({ host, port, data }: ServeOptions = {}): Promise<void> {
	const HOST = (process.env.HOST = host ?? process.env.HOST ?? '127.0.0.1');
	const PORT = (process.env.PORT = port ?? process.env.PORT ?? '4710');
	process.env.BODY_SIZE_LIMIT ??= '24M';
	if (data !== undefined) process.env.TESSELLON_DATA = resolve(data);
	refuseOpenDoor(HOST);
	const number = Number(PORT);
	if (!(Number.isInteger(number) && number > 0 && number < 65536))
		throw new UserError(`port ${PORT} is no port; it is a whole number from 1 to 65535`);
	endInTime();

	const { handler } = (await import(`${programFolder}/build/handler.js`)) as Application;
	const server = createServer((request, response) => {
		// The name under which this server is addressed is checked before files are given out.
		if (!hostGuard(request, response)) handler(request, response);
	});
	await new Promise<void>((listening, failed) => {
		server.once('error', (error: NodeJS.ErrnoException) => failed(addressError(error, HOST, PORT)));
		server.listen(number, HOST, listening);
	});
	for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => server.close());
	console.log(`Tessellon: http://${HOST.includes(':') ? `[${HOST}]` : HOST}:${PORT}`);
}

function refuseOpenDoor(host: string): void {
	if (isLocalAddress(host) || process.env.TESSELLON_TOKEN || process.env.TESSELLON_OPEN === 'yes') return;
	throw new UserError(
		`HOST=${host} lets other machines in, and there is no login; set TESSELLON_TOKEN to a secret that opens it (http://…/?token=SECRET), or TESSELLON_OPEN=yes to let everybody read and change everything`
	);
}

function addressError(error: NodeJS.ErrnoException, host: string, port: string): Error {
	switch (error.code) {
		case 'EADDRINUSE':
			return new UserError(`port ${port} of ${host} is in use; is it running already? Choose another port`);
		case 'EADDRNOTAVAIL':
		case 'ENOTFOUND':
			return new UserError(`${host} is no address of this machine`);
		case 'EACCES':
			return new UserError(`port ${port} needs rights that this user has not; take one above 1023`);
		default:
			return error;
	}
}

/** Ends the process 1.5 s after a signal, whatever still runs. */
function endInTime(): void {
	for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => setTimeout(() => process.exit(0), 1500).unref());
}
