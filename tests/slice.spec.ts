import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { count, openDemo, saved, settled, station } from './desk.ts';

test('from the project list to a CGNS file that a reader accepts', async ({ page, request }) => {
	// The demo projects stand there as pictures of their meshes.
	await page.goto('/');
	for (const title of ['Venturi tube', 'Cold plate']) {
		const picture = page.getByRole('img', { name: `Mesh of ${title}` }).last();
		await expect(picture).toBeVisible();
		// Pictures far below are drawn when one comes near them.
		await picture.scrollIntoViewIfNeeded();
		await expect.poll(() => picture.evaluate((img: HTMLImageElement) => img.naturalWidth)).toBeGreaterThan(100);
	}

	// Venturi opens with its mesh.
	// The oldest of that name is the demo, however many others made since stand in the list before it.
	const projects = (await (await request.get('/api/projects')).json()) as { id: string; title: string }[];
	await page.goto(`/projects/${projects.findLast(({ title }) => title === 'Venturi tube')!.id}`);
	await settled(page);
	await expect(count(page, 'quads')).toHaveText('3,792');
	await expect(page.getByRole('button', { name: '0 findings' })).toBeVisible();

	// Divisions and bias of one edge, by keyboard in the ledger: the mesh follows at once.
	const divisions = page.getByRole('textbox', { name: 'Divisions of throat' });
	await divisions.click();
	await divisions.fill('100');
	await divisions.press('Enter');
	await expect(count(page, 'quads')).toHaveText('4,032');
	const bias = page.getByRole('textbox', { name: 'Spacing of pipe_in' });
	await bias.click();
	await bias.fill('6');
	await bias.press('Tab');
	await settled(page);
	const row = page.getByRole('row').filter({ has: page.getByRole('button', { name: 'pipe_in', exact: true }) });
	// 120 long, 32 cells in geometric progression, the largest 6 times the smallest.
	const ratio = 6 ** (1 / 31);
	await expect(row).toContainText(ratio.toFixed(2));
	const last = (120 * (1 - 1 / ratio)) / (1 - ratio ** -32) / 6;
	await expect(row).toContainText(String(Number(last.toPrecision(3))));

	// A boundary group of its own for the throat.
	await station(page, 'Label');
	await page.getByRole('button', { name: 'throat', exact: true }).click();
	await page.getByRole('textbox', { name: 'Name of the new group' }).fill('meter_wall');
	await page.getByRole('combobox', { name: 'Kind of the new group' }).selectOption('No-slip wall');
	await page.getByRole('button', { name: 'Label', exact: true }).last().click();
	await expect(page.getByRole('textbox', { name: 'Name of group meter_wall' })).toBeVisible();
	await settled(page);
	const edges = await page
		.getByRole('row', { name: /meter_wall/ })
		.first()
		.getByRole('cell')
		.nth(3)
		.innerText();
	expect(edges).toBe('100');

	// Deliver.
	await page.getByRole('button', { name: 'Deliver', exact: true }).last().click();
	await saved(page);
	const download = page.waitForEvent('download');
	await page
		.locator('.format', { hasText: /CGNS\s+\S+\.cgns/ })
		.getByRole('button', { name: 'Download' })
		.click();
	const folder = mkdtempSync(join(tmpdir(), 'slice-'));
	const path = join(folder, (await download).suggestedFilename());
	await (await download).saveAs(path);
	expect(path).toMatch(/venturi-tube\.cgns$/);
	const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
	expect(said).toContain('checking BC "meter_wall"');
	expect(said).toContain('BC Type=BCWallViscous');
	expect(said).not.toMatch(/error|warning/i);

	// The API and the command give the same bytes for the same recipe.
	const id = page.url().split('/').pop()!;
	const project = await (await request.get(`/api/projects/${id}`)).json();
	const job = await (await request.post(`/api/projects/${id}/deliveries`, { data: { format: 'cgns' } })).json();
	const events = await (await request.get(`/api/jobs/${job.id}/events`)).text();
	expect(events.trim().split('\n\n').pop()).toContain('"state":"done"');
	const fromApi = await (await request.get(`/api/jobs/${job.id}/file`)).body();
	expect(fromApi.equals(readFileSync(path))).toBe(true);
	writeFileSync(join(folder, 'v.tessellon'), project.text);
	copyFileSync('demo/throat-wall.csv', join(folder, 'throat-wall.csv'));
	execFileSync('npx', ['tessellon', 'mesh', join(folder, 'v.tessellon'), '--out', join(folder, 'v.cgns')]);
	expect(readFileSync(join(folder, 'v.cgns')).equals(readFileSync(path))).toBe(true);
});

test('undo and redo go through revisions that survive a reload', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	await station(page, 'Fill');
	const before = await count(page, 'triangles').innerText();
	const size = page.getByRole('textbox', { name: 'Size in coolant' });
	await size.click();
	await size.fill('4');
	await size.press('Enter');
	await expect(count(page, 'triangles')).not.toHaveText(before);
	const after = await count(page, 'triangles').innerText();
	const revision = await saved(page);
	await page.reload();
	await settled(page);
	await expect(count(page, 'triangles')).toHaveText(after);
	await page.keyboard.press('Control+z');
	await expect(count(page, 'triangles')).toHaveText(before);
	await page.reload();
	await settled(page);
	await expect(count(page, 'triangles')).toHaveText(before);
	await page.keyboard.press('Control+y');
	await expect(count(page, 'triangles')).toHaveText(after);
	expect(await saved(page)).toBe(revision);
	await page.keyboard.press('Control+z');
	await expect(count(page, 'triangles')).toHaveText(before);
});

test('a second window that is idle follows the first', async ({ page, context }) => {
	await openDemo(page, 'venturi');
	const other = await context.newPage();
	await other.goto(page.url());
	await settled(other);
	const cell = page.getByRole('textbox', { name: 'Divisions of pipe_out' });
	await cell.fill('40');
	await cell.press('Enter');
	await expect(other.getByRole('textbox', { name: 'Divisions of pipe_out' })).toHaveValue('40');
});

test('a second window with an old revision is told so, and loses nothing', async ({ page, context }) => {
	// As on two machines, neither of which looks at the other.
	await context.addInitScript(() => {
		BroadcastChannel.prototype.postMessage = () => {};
		addEventListener('focus', (event) => event.stopImmediatePropagation(), true);
	});
	await openDemo(page, 'venturi');
	const other = await context.newPage();
	await other.goto(page.url());
	await settled(other);
	const setExit = async (p: typeof page, value: string) => {
		const cell = p.getByRole('textbox', { name: 'Divisions of pipe_out' });
		await cell.click();
		await cell.fill(value);
		await cell.press('Enter');
	};
	await setExit(page, '40');
	await saved(page);
	await setExit(other, '50');
	await expect(other.getByRole('alert')).toContainText('changed in another window');
	// What was typed is still there; put on top, it becomes the newest revision.
	await expect(other.getByRole('textbox', { name: 'Divisions of pipe_out' })).toHaveValue('50');
	await other.getByRole('button', { name: 'Overwrite with mine' }).click();
	await saved(other);
	await page.bringToFront();
	// The first window learns it in turn, and can take the other state.
	await setExit(page, '41');
	await page.getByRole('button', { name: 'Load other version' }).click();
	await expect(page.getByRole('textbox', { name: 'Divisions of pipe_out' })).toHaveValue('50');
	await page.keyboard.press('Control+z');
	await expect(page.getByRole('textbox', { name: 'Divisions of pipe_out' })).toHaveValue('40');
});

test('fast typing never ends on a stale picture', async ({ page }) => {
	await openDemo(page, 'venturi');
	const rows = page.getByRole('textbox', { name: 'Divisions of throat' });
	for (const value of ['11', '12', '13', '14', '15', '16', '17', '18', '19', '20']) {
		await rows.click();
		await rows.fill(value);
		await rows.press('Enter');
	}
	await settled(page);
	// 32 + 20 + 36 columns or what other tests left, times the rows: the throat has 20 columns.
	await expect(rows).toHaveValue('20');
	const outlet = Number(await page.getByRole('textbox', { name: 'Divisions of pipe_out' }).inputValue());
	const inlet = Number(await page.getByRole('textbox', { name: 'Divisions of pipe_in' }).inputValue());
	const high = Number(await page.getByRole('textbox', { name: 'Divisions of inlet' }).inputValue());
	await expect(count(page, 'quads')).toHaveText(((outlet + inlet + 20) * high).toLocaleString('en'));
	await saved(page);
});
