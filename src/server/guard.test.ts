import { describe, expect, it } from 'vitest';
import { isKnownHost, isPublic } from './guard.ts';

describe('the name in a Host header', () => {
	it.each(['localhost:4710', '127.0.0.1:4710', '[::1]:4710', 'desk.localhost'])(
		'is ours on a server for this machine alone: %s',
		(host) => {
			expect(isKnownHost(host, '127.0.0.1', [])).toBe(true);
		}
	);

	it.each(['evil.example', 'evil.example:4710', '127.0.0.1.evil.example', '10.0.0.5', null])('is refused there: %s', (host) => {
		expect(isKnownHost(host, '127.0.0.1', [])).toBe(false);
	});

	it('is ours on an open server by its address, or where it is listed', () => {
		expect(isKnownHost('192.168.1.20:4710', '0.0.0.0', [])).toBe(true);
		expect(isKnownHost('mesh.works.example', '0.0.0.0', ['mesh.works.example'])).toBe(true);
		expect(isKnownHost('mesh.works.example', '0.0.0.0', [])).toBe(false);
	});
});

it('a server is public where other machines can reach it', () => {
	expect(['127.0.0.1', 'localhost', '::1'].map(isPublic)).toEqual([false, false, false]);
	expect(['0.0.0.0', '192.168.1.20', '::'].map(isPublic)).toEqual([true, true, true]);
});
