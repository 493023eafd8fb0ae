import fc from 'fast-check';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Project } from '../api/schemas.ts';
import { operations } from './openapi.ts';

process.env.TESSELLON_DATA = mkdtempSync(join(tmpdir(), 'fuzz-'));
const { closeServices, services } = await import('./services.ts');

/** Words that no person writes. */
const machineWords =
	/undefined|\bNaN\b|\[object|Cannot |is not (a function|iterable)|Unexpected|in JSON|Infinity|Invalid |call stack|SQLITE|ENOENT|E[A-Z]{4,}:|\.[jt]s:\d|failed inside|went wrong/;

type Handler = (event: unknown) => Promise<Response>;
const handlers = new Map<string, Handler>();
let project: Project;
const text =
	'recipe 1\nlet w = 4\nrectangle b = (0, 0) to (w, 3)\nregion r at (1, 1)\nsize 1\nfill r triangles\nstudy s = w in 4, 5\n';

beforeAll(async () => {
	for (const { method, path } of operations) {
		const file = `../routes${path.replace(/\{(\w+)\}/g, '[$1]')}/+server.ts`;
		const module = (await import(/* @vite-ignore */ file)) as Record<string, Handler>;
		handlers.set(`${method} ${path}`, module[method.toUpperCase()]!);
	}
	project = await (await services()).projects.create(text, {}, 'New');
}, 120_000);
afterAll(() => closeServices());

/** Values of every kind where another is wanted. */
const odd = fc.oneof(
	fc.constantFrom<unknown>(
		null,
		true,
		0,
		-1,
		1.5,
		1e308,
		'',
		'x',
		'\u0000',
		'\ud800',
		'__proto__',
		[],
		{},
		[1],
		{ a: 1 },
		'../x',
		'x'.repeat(3000)
	),
	fc.string({ unit: 'binary', maxLength: 20 })
);
const bodies: Record<string, unknown> = {
	createProject: { text, files: {} },
	addRevision: { text, files: {}, label: 'Edit', goesOn: false },
	startDelivery: { format: 'vtu', options: { units: 'm' }, settings: { w: '5' } },
	startStudy: { name: 's' },
	keepStudyResults: {
		revision: 1,
		results: [{ settings: { w: '4' }, refine: 1, ok: true, message: '', figures: { nodes: 3 }, picture: '' }]
	}
};

/** A body with one of its values another, or one more or less. */
const body = (id: string) =>
	fc.tuple(fc.nat(), odd, fc.constantFrom('value', 'drop', 'add', 'inner', 'whole', 'none')).map(([at, value, what]) => {
		const valid = structuredClone(bodies[id] ?? {}) as Record<string, unknown>;
		const keys = Object.keys(valid);
		const key = keys[at % Math.max(1, keys.length)] ?? 'x';
		if (what === 'whole') return value;
		if (what === 'drop') delete valid[key];
		if (what === 'value') valid[key] = value;
		if (what === 'add') valid[`more ${at}`] = value;
		if (what === 'inner' && typeof valid[key] === 'object' && valid[key] !== null)
			(valid[key] as Record<string, unknown>)[typeof value === 'string' ? value : 'key'] = value;
		return valid;
	});

const request = fc
	.constantFrom(...operations.map(({ id, method, path, body }) => ({ id, method, path, hasBody: body !== undefined })))
	.chain((operation) =>
		fc.record({
			operation: fc.constant(operation),
			body: operation.hasBody ? body(operation.id) : fc.constant(undefined),
			raw: fc.option(fc.uint8Array({ maxLength: 40 }), { freq: 6 }),
			params: fc.record({
				id: fc.constantFrom('valid', 'valid', 'valid', 'nobody', '', '../x', "' OR 1=1 --", '\u0000'),
				number: fc.constantFrom('1', '0', '-1', 'x', '1e99', ''),
				hash: fc.constantFrom('0'.repeat(64), 'x', ''),
				name: fc.constantFrom('s', 't', '', '__proto__')
			}),
			etag: fc.constantFrom('valid', 'valid', null, '"0"', 'x')
		})
	);

describe('whatever is sent to the API', () => {
	it('the answer has a sentence of a person, and the server goes on', async () => {
		await fc.assert(
			fc.asyncProperty(request, async ({ operation, body: value, raw, params, etag }) => {
				const { projects } = await services();
				const now = await projects.get(project.id).catch(async () => (project = await projects.create(text, {}, 'New')));
				const headers = new Headers({ 'content-type': 'application/json' });
				if (etag !== null) headers.set('if-match', etag === 'valid' ? now.etag : etag);
				const sent = raw ?? (value === undefined ? undefined : JSON.stringify(value));
				const url = new URL(`http://127.0.0.1${operation.path}`);
				const isGet = operation.method === 'get';
				const response = await handlers.get(`${operation.method} ${operation.path}`)!({
					params: { ...params, id: params.id === 'valid' ? project.id : params.id },
					request: new Request(url, {
						method: operation.method.toUpperCase(),
						headers,
						...(isGet || sent === undefined ? {} : { body: sent as BodyInit })
					}),
					url,
					locals: { client: 'me' },
					cookies: { get: () => undefined, set: () => {}, delete: () => {} }
				});
				if (response.ok) {
					await response.body?.cancel();
					return;
				}
				const problem = (await response.json()) as { detail: string; title: string };
				const said = `${operation.method} ${operation.path}: ${response.status} ${JSON.stringify(problem)} to ${String(sent)}`;
				expect(response.status === 500 ? said : '').toBe('');
				expect(machineWords.test(problem.detail) ? said : '').toBe('');
				expect(problem.detail.length).toBeGreaterThan(5);
				expect(problem.detail.length).toBeLessThan(1002);
			}),
			{ numRuns: process.env.LONG ? 20_000 : 250 }
		);
		expect((await (await services()).projects.list()).length).toBeGreaterThan(0);
	}, 240_000);
});
