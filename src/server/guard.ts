import { createHash, timingSafeEqual } from 'node:crypto';
import { isIP } from 'node:net';
import type { Cookies } from '@sveltejs/kit';
import { ProblemError } from './problem.ts';

/** What every answer says: whose frames and scripts a page takes, and that a type is what it says. */
export const securityHeaders: Readonly<Record<string, string>> = {
	'x-content-type-options': 'nosniff',
	'referrer-policy': 'same-origin',
	'cross-origin-opener-policy': 'same-origin',
	'cross-origin-resource-policy': 'same-origin',
	'x-frame-options': 'DENY'
};

const isLoopback = (host: string) =>
	host === 'localhost' || host === '::1' || host.endsWith('.localhost') || (isIP(host) === 4 && host.startsWith('127.'));

/** The name in a `Host` header, without its port and brackets. */
const nameOf = (host: string) =>
	isIP(host) === 6
		? host
		: host
				.replace(/:\d+$/, '')
				.replace(/^\[|\]$/g, '')
				.toLowerCase();

/**
 * Whether a server that listens at `listening` answers under a `Host` name. A page of another site may make its own name
 * point here and then read everything: names that are not this server's are refused. Addresses cannot be made to point elsewhere.
 */
export function isKnownHost(host: string | null, listening: string, known: readonly string[]): boolean {
	if (host === null) return false;
	const name = nameOf(host);
	if (isLoopback(name) || known.includes(name) || name === listening.toLowerCase()) return true;
	return isIP(name) !== 0 && !isLoopback(listening);
}

/** Whether a server listens beyond its own machine. */
export const isPublic = (host: string) => !isLoopback(nameOf(host));

const settings = () => ({
	listening: process.env.HOST ?? '127.0.0.1',
	known: (process.env.TESSELLON_HOSTS ?? '')
		.split(',')
		.map((h) => h.trim().toLowerCase())
		.filter(Boolean),
	token: process.env.TESSELLON_TOKEN ?? ''
});

const digest = (text: string) => createHash('sha256').update(text).digest();
const same = (a: string, b: string) => timingSafeEqual(digest(a), digest(b));

const cookie = 'tessellon_session';

/** Why a request is refused, before anything else is done for it; undefined where it is not. With a token set, `?token=…` once sets the session's cookie. */
export function refusalOf(request: Request, url: URL, cookies: Cookies): Response | undefined {
	const { listening, known, token } = settings();
	if (!isKnownHost(request.headers.get('host'), listening, known))
		return new ProblemError(
			421,
			'Unknown host',
			'this server does not answer under that name; open it by its address, or list the name in TESSELLON_HOSTS'
		).toResponse();
	if (token === '') return undefined;
	const given = url.searchParams.get('token');
	if (given !== null && same(given, token)) {
		cookies.set(cookie, digest(token).toString('hex'), {
			path: '/',
			httpOnly: true,
			sameSite: 'strict',
			secure: url.protocol === 'https:'
		});
		return undefined;
	}
	const held = cookies.get(cookie);
	const bearer = /^Bearer (.+)$/.exec(request.headers.get('authorization') ?? '')?.[1];
	if ((held !== undefined && same(held, digest(token).toString('hex'))) || (bearer !== undefined && same(bearer, token)))
		return undefined;
	return new ProblemError(401, 'Token wanted', 'open the address once with `?token=` and the token of this server').toResponse();
}
