// What the running server must withstand, as it is built: kills during edits, a study and a delivery; many clients at once.
// `node scripts/attack.mjs` runs all of it, `node scripts/attack.mjs kills` or `… clients` one part. Ends with 1 where a bound is missed.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const port = 4795;
const base = `http://127.0.0.1:${port}`;
const data = mkdtempSync(join(tmpdir(), 'attack-'));
const pause = (milliseconds) => new Promise((resume) => setTimeout(resume, milliseconds));
let missed = 0;
const expectThat = (holds, sentence) => {
	console.log(`${holds ? 'held  ' : 'MISSED'} ${sentence}`);
	if (!holds) missed++;
};

let server;
async function start() {
	server = spawn('node', ['scripts/start.mjs'], {
		env: { ...process.env, PORT: String(port), TESSELLON_DATA: data, TESSELLON_LOG: 'error' },
		stdio: ['ignore', 'inherit', 'inherit']
	});
	for (;;) {
		const isUp = await fetch(`${base}/api/health`).then(
			({ ok }) => ok,
			() => false
		);
		if (isUp) return;
		await pause(50);
	}
}
async function kill(signal) {
	const ended = new Promise((resume) => server.once('exit', resume));
	server.kill(signal);
	await ended;
}

async function call(method, path, body, headers = {}) {
	const response = await fetch(base + path, {
		method,
		headers: { 'content-type': 'application/json', ...headers },
		...(body === undefined ? {} : { body: JSON.stringify(body) })
	});
	const text = await response.text();
	if (!response.ok) throw Object.assign(new Error(`${method} ${path}: ${response.status} ${text}`), { status: response.status });
	return text === '' ? undefined : JSON.parse(text);
}

const recipe = (size, n) => `recipe 1
title "Plate ${n}"
let w = 30
rectangle box = (0, 0) to (w, 20)
circle hole = around (12, 10) radius 4
region r at (1, 1)
size ${size}
fill r triangles
group all = box as wall
study widths = w from 20 to 40 in 40
# edit ${n}
`;

/** A project that is edited: its ETag and what was acknowledged. */
async function project(size) {
	const made = await call('POST', '/api/projects', { text: recipe(size, 0) });
	return { ...made, acknowledged: [made.revision], n: 0 };
}
async function edit(copy, size = 1) {
	copy.n++;
	const body = { text: recipe(size, copy.n), files: {}, label: `Edit ${copy.n}` };
	const next = await call('POST', `/api/projects/${copy.id}/revisions`, body, { 'if-match': copy.etag });
	Object.assign(copy, { etag: next.etag, revision: next.revision });
	copy.acknowledged.push(copy.n);
}
const ended = async (id, within = 120_000) => {
	for (const since = Date.now(); Date.now() - since < within; await pause(100)) {
		const job = await call('GET', `/api/jobs/${id}`);
		if (job.state !== 'running') return job;
	}
	return undefined;
};

async function kills(times) {
	await start();
	const copy = await project(1);
	const jobs = [];
	let lost = 0;
	for (let k = 0; k < times; k++) {
		jobs.push((await call('POST', `/api/projects/${copy.id}/studies`, {})).id);
		jobs.push((await call('POST', `/api/projects/${copy.id}/deliveries`, { format: 'cgns' })).id);
		let isOver = false;
		const editing = (async () => {
			while (!isOver) await edit(copy, 1 + Math.random()).catch(() => (isOver = true));
		})();
		await pause(100 + 900 * Math.random());
		await kill('SIGKILL');
		isOver = true;
		await editing;
		await start();
		const now = await call('GET', `/api/projects/${copy.id}`);
		const labels = new Set((await call('GET', `/api/projects/${copy.id}/revisions`)).map(({ label }) => label));
		lost += copy.acknowledged.slice(1).filter((n) => copy.acknowledged.length < 400 && !labels.has(`Edit ${n}`)).length;
		// What was under way when the server was killed may be there or not; the next edit goes on from what is there.
		Object.assign(copy, { etag: now.etag, revision: now.revision });
	}
	expectThat(lost === 0, `${times} kills: ${copy.acknowledged.length} edits acknowledged, ${lost} lost`);
	const states = {};
	for (const id of jobs) {
		const job = await ended(id).catch(({ status }) => ({ state: String(status) }));
		if (job?.state === 'failed') console.log(job.message);
		const state =
			job === undefined ? 'not ended' : job.state === 'failed' && !job.message ? 'failed without a sentence' : job.state;
		states[state] = (states[state] ?? 0) + 1;
	}
	const known = (states.done ?? 0) + (states.failed ?? 0);
	expectThat(known === jobs.length, `${times} kills: of ${jobs.length} jobs ${JSON.stringify(states)}`);
	await kill('SIGTERM');
}

/** The share of a list below which a value lies. */
const quantile = (list, share) => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(share * list.length))];
/** Memory of the server process, in megabytes. */
const memory = () => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.pid}/status`, 'utf8'))[1]) / 1000;

async function clients(count, milliseconds) {
	await start();
	const timed = async (copy, times) => {
		const since = performance.now();
		await edit(copy);
		times.push(performance.now() - since);
	};
	const calm = await project(1);
	const idle = [];
	for (let k = 0; k < 300; k++) await timed(calm, idle);
	const before = memory();
	const end = Date.now() + milliseconds;
	const loaded = [];
	const problems = [];
	const done = {};
	const one = async () => {
		const copy = await project(2);
		const acts = {
			edit: () => timed(copy, loaded),
			picture: () => fetch(`${base}/api/projects/${copy.id}/picture`).then(checked),
			figures: () => call('GET', `/api/projects/${copy.id}/report`),
			list: () => call('GET', '/api/projects'),
			delivery: async () => {
				const { id } = await call('POST', `/api/projects/${copy.id}/deliveries`, { format: 'vtu' });
				const job = await ended(id, 300_000);
				if (job?.state !== 'done') throw new Error(`delivery: ${JSON.stringify(job)}`);
				await fetch(`${base}/api/jobs/${id}/file`).then(checked);
			},
			study: async () => {
				const { id } = await call('POST', `/api/projects/${copy.id}/studies`, {});
				await pause(500);
				await call('DELETE', `/api/jobs/${id}`);
			}
		};
		const names = ['edit', 'edit', 'edit', 'edit', 'picture', 'figures', 'list', 'delivery', 'study'];
		while (Date.now() < end) {
			const name = names[Math.floor(names.length * Math.random())];
			try {
				await acts[name]();
				done[name] = (done[name] ?? 0) + 1;
			} catch (error) {
				problems.push(`${name}: ${error.message}`);
			}
			await pause(200 * Math.random());
		}
	};
	await Promise.all(Array.from({ length: count }, one));
	await pause(5000);
	const [p95, calmP95] = [quantile(loaded, 0.95), quantile(idle, 0.95)];
	console.log(`       ${JSON.stringify(done)}`);
	expectThat(
		problems.length === 0,
		`${count} clients: ${problems.length} problems${problems.length > 0 ? `, like ${problems[0]}` : ''}`
	);
	expectThat(
		p95 < 300 && p95 / calmP95 <= 8,
		`${count} clients: an edit takes ${p95.toFixed(0)} ms at the 95th of a hundred, ${calmP95.toFixed(0)} ms on an idle server (${(p95 / calmP95).toFixed(1)} times)`
	);
	const after = memory();
	expectThat(
		after - before < 150,
		`${count} clients: the server takes ${after.toFixed(0)} MB afterwards, ${before.toFixed(0)} MB before`
	);
	await kill('SIGTERM');
}

async function checked(response) {
	const body = await response.arrayBuffer();
	if (!response.ok) throw new Error(`${response.status} ${Buffer.from(body).toString().slice(0, 300)}`);
}

const part = process.argv[2];
try {
	if (!part || part === 'kills') await kills(Number(process.argv[3] ?? 20));
	if (!part || part === 'clients') await clients(Number(process.argv[3] ?? 50), Number(process.argv[4] ?? 60_000));
} finally {
	server?.kill('SIGKILL');
	rmSync(data, { recursive: true, force: true, maxRetries: 10, retryDelay: 200 });
}
process.exit(missed === 0 ? 0 : 1);
