import { request as httpRequest } from 'node:http';
import { expect, test } from '@playwright/test';
import { settled } from './desk.ts';
import { OwnServer } from './own-server.ts';

/** The status and text of an answer to a request with headers that `fetch` does not let one set, and a body of unsaid length. */
function ask(
	base: string,
	path: string,
	headers: Record<string, string> = {},
	body?: { chunk: Buffer; times: number }
): Promise<{ status: number; text: string }> {
	return new Promise((resolve, reject) => {
		const request = httpRequest(`${base}${path}`, { method: body ? 'POST' : 'GET', headers }, (response) => {
			let text = '';
			response.on('data', (bytes: Buffer) => (text += bytes.toString()));
			response.on('end', () => resolve({ status: response.statusCode!, text }));
			response.on('error', reject);
		});
		// A server that refuses a body may close before it has all of it.
		request.on('error', (error: NodeJS.ErrnoException) => error.code === 'EPIPE' || error.code === 'ECONNRESET' || reject(error));
		for (let k = 0; k < (body?.times ?? 0); k++) request.write(body!.chunk);
		request.end();
	});
}

test('every file of the page is refused under the name of another site', async ({ baseURL }) => {
	const html = (await ask(baseURL!, '/')).text;
	const script = /(\/_app\/[^"]+\.js)/.exec(html)![1]!;
	expect((await ask(baseURL!, script)).status).toBe(200);
	for (const path of ['/', script, '/licences.txt', '/api/projects']) {
		const { status, text } = await ask(baseURL!, path, { host: 'elsewhere.example' });
		expect(status, path).toBe(421);
		expect(text).toContain('does not answer under that name');
	}
});

test('it says how it is, and takes no body that is too large', async ({ baseURL }) => {
	const health = (await (await fetch(`${baseURL}/api/health`)).json()) as Record<string, unknown>;
	expect(health).toMatchObject({ database: 'ok', jobs: { queued: 0, running: 0 } });
	expect(health.version).toMatch(/^\d+\.\d+\.\d+$/);
	const chunk = Buffer.alloc(1_000_000, 32);
	const refused = await ask(baseURL!, '/api/projects', { 'content-type': 'application/json' }, { chunk, times: 30 });
	expect(refused.status).toBe(413);
	expect(refused.text).toContain('larger than the server takes');
});

test('what the API serves is a file of the type that it is, and no page', async ({ baseURL }) => {
	const text =
		'recipe 1\ntitle "<img src=x onerror=alert(1)>"\nrectangle box = (0, 0) to (4, 4)\nregion r at (1, 1)\nfill r triangles\nsize 2\n';
	const json = { 'content-type': 'application/json' };
	const made = await fetch(`${baseURL}/api/projects`, { method: 'POST', headers: json, body: JSON.stringify({ text }) });
	const { id } = (await made.json()) as { id: string };
	const started = await fetch(`${baseURL}/api/projects/${id}/deliveries`, {
		method: 'POST',
		headers: json,
		body: JSON.stringify({ format: 'report' })
	});
	const job = (await started.json()) as { id: string };
	await (await fetch(`${baseURL}/api/jobs/${job.id}/events`)).text();
	const file = await fetch(`${baseURL}/api/jobs/${job.id}/file`);
	expect(file.headers.get('content-type')).toMatch(/^text\/html/);
	expect(file.headers.get('x-content-type-options')).toBe('nosniff');
	expect(file.headers.get('content-disposition')).toMatch(/^attachment/);
	const page = await file.text();
	expect(page).toMatch(/^<!doctype html>/i);
	expect(page).not.toContain('<img src=x');
	const jobs = (await (await fetch(`${baseURL}/api/jobs`)).json()) as { id: string; state: string }[];
	expect(jobs.find((one) => one.id === job.id)?.state).toBe('done');
});

test.describe('a server of one’s own', () => {
	const open: OwnServer[] = [];
	const newServer = (...args: ConstructorParameters<typeof OwnServer>): OwnServer => {
		const server = new OwnServer(...args);
		open.push(server);
		return server;
	};
	test.afterEach(() => open.splice(0).forEach((server) => server.kill()));

	test('does not start beside another on the same data folder, nor on a folder that cannot be', async () => {
		const first = newServer(4792);
		await first.start();
		const second = await newServer(4793, {}, first.data).refused();
		expect(second.code).not.toBe(0);
		expect(second.printed).toContain('another server is at work on the data folder');
		const nowhere = await newServer(4793, {}, '/proc/nope').refused();
		expect(nowhere.code).not.toBe(0);
		expect(nowhere.printed).toMatch(/^Tessellon cannot start: .*\/proc\/nope/m);
		expect((await fetch(`${first.base}/api/health`)).status).toBe(200);
	});

	test('with a token lets in whoever brings it once, over http, and takes it out of the address', async ({ page }) => {
		const server = newServer(4792, { TESSELLON_TOKEN: 'a secret' });
		await server.start();
		expect((await fetch(`${server.base}/api/projects`)).status).toBe(401);
		expect((await fetch(`${server.base}/api/projects`, { headers: { authorization: 'Bearer a secret' } })).status).toBe(200);
		await page.goto(`${server.base}/?token=a%20secret`);
		await expect(page).toHaveURL(`${server.base}/`);
		await page.getByRole('link', { name: 'Venturi tube' }).click();
		await settled(page);
		await page.goto(`${server.base}/`);
		await page.getByRole('button', { name: 'Log out' }).click();
		await expect(page.getByText('open the address once with')).toBeVisible();
		expect((await page.request.get(`${server.base}/api/projects`)).status()).toBe(401);
	});
});

for (const [kind, script] of [
	[
		'is denied',
		"Object.defineProperty(window, 'localStorage', { get() { throw new DOMException('denied', 'SecurityError'); } });"
	],
	[
		'is full',
		"Storage.prototype.setItem = () => { throw new DOMException('The quota has been exceeded.', 'QuotaExceededError'); };"
	]
] as const)
	test(`the desk works where the memory of the browser ${kind}`, async ({ page }) => {
		await page.addInitScript(script);
		await page.goto('/');
		await page.getByRole('button', { name: 'New project' }).click();
		await settled(page);
		await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name: 'Deliver' }).click();
		await settled(page);
		await expect(page.locator('[data-saved="true"]')).toBeVisible();
	});
