import { describe, expect, it } from 'vitest';
import { attachment, isSecure, refusalOf, TokenDelays } from './guard.ts';
import { isKnownHost } from '../platform/host-guard.ts';

const local = { listening: '127.0.0.1', known: [] };
const open = { listening: '0.0.0.0', known: [] as string[] };

describe('the name in a Host header', () => {
	it.each(['localhost:4710', '127.0.0.1:4710', '[::1]:4710', 'desk.localhost'])(
		'is ours on a server for this machine alone: %s',
		(host) => {
			expect(isKnownHost(host, local)).toBe(true);
		}
	);

	it.each(['evil.example', 'evil.example:4710', '127.0.0.1.evil.example', '10.0.0.5', null])('is refused there: %s', (host) => {
		expect(isKnownHost(host, local)).toBe(false);
	});

	it('is ours on an open server by its address, or where it is listed', () => {
		expect(isKnownHost('192.168.1.20:4710', open)).toBe(true);
		expect(isKnownHost('mesh.works.example', { ...open, known: ['mesh.works.example'] })).toBe(true);
		expect(isKnownHost('mesh.works.example', open)).toBe(false);
	});
});

describe('a server with a token', () => {
	/** A browser that keeps the cookies that it is sent. */
	class Jar {
		readonly held = new Map<string, string>();
		readonly options = new Map<string, { secure?: boolean; httpOnly?: boolean }>();
		get = (name: string) => this.held.get(name);
		set = (name: string, value: string, options: { secure?: boolean; httpOnly?: boolean }) => {
			this.held.set(name, value);
			this.options.set(name, options);
		};
		delete = (name: string) => void this.held.delete(name);
		serialize = (name: string, value: string) => `${name}=${value}`;
	}
	const ask = async (path: string, jar = new Jar(), headers: Record<string, string> = {}) => {
		process.env.TESSELLON_TOKEN = 'open sesame';
		try {
			const url = new URL(`http://127.0.0.1:4710${path}`);
			const request = new Request(url, { headers: { host: '127.0.0.1:4710', ...headers } });
			return await refusalOf(request, url, jar as unknown as Parameters<typeof refusalOf>[2], '10.0.0.7');
		} finally {
			delete process.env.TESSELLON_TOKEN;
		}
	};

	it('takes it once, out of the address bar, and then by its cookie, over http too', async () => {
		const jar = new Jar();
		const answer = await ask('/projects?token=open%20sesame&x=1', jar);
		expect([answer!.status, answer!.headers.get('location')]).toEqual([303, '/projects?x=1']);
		expect(answer!.headers.get('set-cookie')).toContain('tessellon_session=');
		expect(jar.options.get('tessellon_session')).toMatchObject({ secure: false, httpOnly: true });
		expect(await ask('/projects', jar)).toBeUndefined();
		expect(await ask('/projects', new Jar(), { authorization: 'Bearer open sesame' })).toBeUndefined();
		expect((await ask('/projects'))!.status).toBe(401);
		expect((await ask('/projects?token=wrong'))!.status).toBe(401);
	});

	it('says that cookies are for https only where a proxy before it speaks https', () => {
		expect(isSecure(new Headers(), {})).toBe(false);
		expect(isSecure(new Headers(), { ORIGIN: 'https://mesh.works.example' })).toBe(true);
		const behind = { PROTOCOL_HEADER: 'x-forwarded-proto' };
		expect(isSecure(new Headers({ 'x-forwarded-proto': 'https' }), behind)).toBe(true);
		expect(isSecure(new Headers({ 'x-forwarded-proto': 'http' }), behind)).toBe(false);
	});

	it('slows whoever tries tokens, address by address, and forgets after the right one', () => {
		const delays = new TokenDelays();
		expect([1, 2, 3, 4].map(() => delays.fail('a'))).toEqual([250, 500, 1000, 2000]);
		for (let k = 0; k < 20; k++) delays.fail('a');
		expect(delays.fail('a')).toBe(8000);
		expect(delays.fail('b')).toBe(250);
		delays.pass('a');
		expect(delays.fail('a')).toBe(250);
	});
});

it('a file goes out under its own name, whatever signs that has', () => {
	expect(attachment("l'été (1).cgns")['content-disposition']).toBe(
		"attachment; filename*=UTF-8''l%27%C3%A9t%C3%A9%20%281%29.cgns"
	);
});
