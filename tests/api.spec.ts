import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';

/** The examples of docs/api.md, by their language. */
const example = (language: string) =>
	new RegExp(`\`\`\`${language}\n([\\s\\S]*?)\`\`\``).exec(readFileSync('docs/api.md', 'utf8'))![1]!;

test('the examples of the API run as they stand: curl to a mesh, Python through a study', async ({ baseURL, request }) => {
	const folder = mkdtempSync(join(tmpdir(), 'tessellon-api-'));
	const run = (program: string, ...args: string[]) =>
		execFileSync(program, args, { cwd: folder, env: { ...process.env, TESSELLON: baseURL! }, encoding: 'utf8' });
	run('/bin/bash', '-euo', 'pipefail', '-c', example('sh'));
	const report = JSON.parse(readFileSync(join(folder, 'report.json'), 'utf8')) as {
		elements: number;
		groups: { name: string }[];
	};
	expect(report.groups.map((g) => g.name)).toEqual(['rim', 'outside']);
	expect(readFileSync(join(folder, 'events.txt'), 'utf8')).toMatch(/"state":"done"[^\n]*\n\n$/);
	expect(readFileSync(join(folder, 'plate.cgns')).subarray(1, 4).toString()).toBe('HDF');

	writeFileSync(join(folder, 'study.py'), example('python'));
	const rows = run('/usr/bin/python3', 'study.py').trim().split('\n');
	expect(rows.map((row) => row.split(' ').slice(1, 2).concat(row.split(' ').at(-1)!))).toEqual([
		['10', 'done'],
		['12', 'done'],
		['14', 'done']
	]);

	// The table is that of the command, byte for byte.
	const id = (JSON.parse(readFileSync(join(folder, 'project.json'), 'utf8')) as { id: string }).id;
	const job = (await (await request.post(`/api/projects/${id}/studies`, { data: {} })).json()) as { id: string };
	await request.get(`/api/jobs/${job.id}/events`);
	writeFileSync(join(folder, 'bores.zip'), await (await request.get(`/api/jobs/${job.id}/file`)).body());
	execFileSync('node', [join(process.cwd(), 'bin/tessellon.js'), 'study', 'plate.tessellon', '--out', 'out'], { cwd: folder });
	run('/usr/bin/python3', '-m', 'zipfile', '-e', 'bores.zip', 'api');
	for (const name of ['table.csv', 'table.json', 'datapackage.json', 'index.html'])
		expect(readFileSync(join(folder, 'api', name)).equals(readFileSync(join(folder, 'out', name)))).toBe(true);
});

test('a study that is not there, and one of two, are refused in a sentence; one under way is stopped', async ({ request }) => {
	const make = async (text: string) =>
		((await (await request.post('/api/projects', { data: { text } })).json()) as { id: string }).id;
	const plate = 'recipe 1\nlet w = 4\nrectangle a = (0, 0) to (w, 3)\nregion r bounded by a\nsize 0.02\nfill r triangles\n';
	const none = await request.post(`/api/projects/${await make(plate)}/studies`, { data: {} });
	expect([none.status(), ((await none.json()) as { detail: string }).detail]).toEqual([
		400,
		expect.stringContaining('the recipe has no study')
	]);
	const id = await make(`${plate}study one = w from 3 to 5 in 40\nstudy two = w in 3, 4\n`);
	const which = await request.post(`/api/projects/${id}/studies`, { data: {} });
	expect(((await which.json()) as { detail: string }).detail).toContain('one, two');
	const job = (await (await request.post(`/api/projects/${id}/studies`, { data: { name: 'one' } })).json()) as { id: string };
	await request.delete(`/api/jobs/${job.id}`);
	await expect(async () => {
		expect(((await (await request.get(`/api/jobs/${job.id}`)).json()) as { state: string }).state).toBe('stopped');
	}).toPass();
});
