import type { IncomingMessage, ServerResponse } from 'node:http';
import { isIP } from 'node:net';

/** Whether an address to listen on is of this machine alone. */
export const isLocalAddress = (host: string): boolean =>
	host === 'localhost' || host === '::1' || (isIP(host) === 4 && host.startsWith('127.'));

const isLoopback = (host: string): boolean => isLocalAddress(host) || host.endsWith('.localhost');

/** The name in a `Host` header, without its port and brackets. */
const nameOf = (host: string) =>
	isIP(host) === 6
		? host
		: host
				.replace(/:\d+$/, '')
				.replace(/^\[|\]$/g, '')
				.toLowerCase();

/** What the environment says of the names under which this server may be asked. */
const fromEnvironment = () => ({
	listening: process.env.HOST ?? '127.0.0.1',
	known: (process.env.TESSELLON_HOSTS ?? '')
		.split(',')
		.map((h) => h.trim().toLowerCase())
		.filter(Boolean)
});

/**
 * Whether this server answers under a `Host` name. A page of another site may make its own name point here and then read
 * everything: names that are not this server's are refused. An address always means the same machine.
 */
export function isKnownHost(host: string | null, { listening, known: names } = fromEnvironment()): boolean {
	if (host === null) return false;
	const name = nameOf(host);
	if (isLoopback(name) || names.includes(name) || name === listening.toLowerCase()) return true;
	return isIP(name) !== 0 && !isLoopback(listening);
}

export const unknownHostSentence =
	'this server does not answer under that name; open it by its address, or list the name in TESSELLON_HOSTS';

/** Refuses a request under a name that is not this server's, whatever it asks for. Gives whether it did. */
export function hostGuard({ headers }: IncomingMessage, response: ServerResponse): boolean {
	if (isKnownHost(headers.host ?? null)) return false;
	response.writeHead(421, { 'content-type': 'application/problem+json', 'x-content-type-options': 'nosniff' });
	response.end(JSON.stringify({ type: 'about:blank', title: 'Unknown host', status: 421, detail: unknownHostSentence }));
	return true;
}
