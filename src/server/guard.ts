import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import type { Cookies } from '@sveltejs/kit';
import { isKnownHost, unknownHostSentence } from '../platform/host-guard.ts';
import { ProblemError } from './problem.ts';

/** What every answer says: whose frames and scripts a page takes, and that a type is what it says. */
export const securityHeaders: Readonly<Record<string, string>> = {
	'x-content-type-options': 'nosniff',
	'referrer-policy': 'same-origin',
	'cross-origin-opener-policy': 'same-origin',
	'cross-origin-resource-policy': 'same-origin',
	'x-frame-options': 'DENY'
};

/** What answers of the API say besides: opened by itself, none of them runs a script or loads anything. */
export const apiHeaders: Readonly<Record<string, string>> = {
	...securityHeaders,
	'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'none'; sandbox"
};

/** The header that makes a browser keep an answer as a file. */
export const attachment = (fileName: string): Record<string, string> => ({
	'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(fileName).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`)}`
});

const digest = (text: string) => createHash('sha256').update(text).digest();
const same = (a: string, b: string) => timingSafeEqual(digest(a), digest(b));

const session = 'tessellon_session';
/** Reports scripts of the page that there is a session to be ended; it opens nothing. */
const sessionMark = 'tessellon_guarded';

/**
 * Whether requests come by https. The server itself speaks http: it is https only where a proxy before it does, which is said by
 * ORIGIN or, per request, by the header that PROTOCOL_HEADER names.
 */
export function isSecure(headers: Headers, settings: Record<string, string | undefined> = process.env): boolean {
	if (settings.ORIGIN) return settings.ORIGIN.startsWith('https:');
	return settings.PROTOCOL_HEADER !== undefined && headers.get(settings.PROTOCOL_HEADER) === 'https';
}

/** Delays of wrong tokens by address: each wrong one doubles the wait for the next, up to a bound, in milliseconds. */
const [firstDelay, longestDelay, addressesKept] = [250, 8000, 1000];

/** Slows whoever tries tokens: a right one is let through at once after the waiting that wrong ones have brought. */
export class TokenDelays {
	private readonly wrong = new Map<string, number>();

	/** A wrong token came from an address; gives how long its answer waits, in milliseconds. */
	fail(address: string): number {
		const count = this.wrong.get(address) ?? 0;
		this.wrong.delete(address);
		this.wrong.set(address, count + 1);
		for (const oldest of this.wrong.keys()) {
			if (this.wrong.size <= addressesKept) break;
			this.wrong.delete(oldest);
		}
		return Math.min(longestDelay, firstDelay * 2 ** count);
	}

	pass(address: string): void {
		this.wrong.delete(address);
	}
}

const delays = new TokenDelays();

/** What a request says of its token: the right one in its address, or no, or a wrong one. */
const verdictOf = (given: string | null | undefined, token: string) =>
	given === null || given === undefined ? 'none' : same(given, token) ? 'right' : 'wrong';

/**
 * Why a request is refused, before anything else is done for it; undefined where it is not. With a token set, `?token=…` once sets
 * the session's cookie and leads to the same address without it, so that it stands in no history.
 */
export async function refusalOf(request: Request, url: URL, cookies: Cookies, address: string): Promise<Response | undefined> {
	const token = process.env.TESSELLON_TOKEN ?? '';
	if (!isKnownHost(request.headers.get('host'))) return unknownHost().toResponse();
	if (token === '') return undefined;
	const digested = digest(token).toString('hex');
	const inAddress = verdictOf(url.searchParams.get('token'), token);
	if (inAddress === 'right') {
		delays.pass(address);
		const options = { path: '/', sameSite: 'strict', secure: isSecure(request.headers) } as const;
		cookies.set(session, digested, { ...options, httpOnly: true });
		cookies.set(sessionMark, 'yes', { ...options, httpOnly: false });
		if (request.method !== 'GET') return undefined;
		const plain = new URLSearchParams(url.searchParams);
		plain.delete('token');
		const rest = plain.size > 0 ? `?${plain.toString()}` : '';
		const headers = new Headers({ location: `${url.pathname}${rest}`, 'cache-control': 'no-store' });
		for (const cookie of [session, sessionMark])
			headers.append(
				'set-cookie',
				cookies.serialize(cookie, cookie === session ? digested : 'yes', { ...options, httpOnly: cookie === session })
			);
		return new Response(null, { status: 303, headers });
	}
	const held = cookies.get(session);
	const bearer = verdictOf(/^Bearer (.+)$/.exec(request.headers.get('authorization') ?? '')?.[1], token);
	if ((held !== undefined && same(held, digested)) || bearer === 'right') return undefined;
	if (inAddress === 'wrong' || bearer === 'wrong') await new Promise((resume) => setTimeout(resume, delays.fail(address)));
	return new ProblemError(401, 'Token wanted', 'open the address once with “?token=” and the token of this server').toResponse();
}

/** Ends the session of a browser. */
export function endSession(cookies: Cookies): void {
	for (const name of [session, sessionMark]) cookies.delete(name, { path: '/' });
}

const unknownHost = () => new ProblemError(421, 'Unknown host', unknownHostSentence);

const client = 'tessellon_client';

/** Who asks, so that turns can be shared fairly: a browser by a name that it is given once, a script by its address. */
export function clientOf(cookies: Cookies, headers: Headers, address: string): string {
	const held = cookies.get(client);
	if (held !== undefined && /^[0-9a-f-]{36}$/.test(held)) return held;
	if (!headers.get('accept')?.includes('text/html')) return address;
	const given = randomUUID();
	cookies.set(client, given, { path: '/', httpOnly: true, sameSite: 'strict', secure: isSecure(headers) });
	return given;
}
