import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { expect, test, type Page } from '@playwright/test';
import { count, openDemo, openRecipe, recipeText, settled, station } from './desk.ts';

async function downloaded(page: Page, press: () => Promise<void>): Promise<{ name: string; bytes: Buffer }> {
	const download = page.waitForEvent('download');
	await press();
	const file = await download;
	return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
}

test('from the finished venturi to a wedge in CGNS, tables with exclusive corners, and a deck of one’s own', async ({ page }) => {
	await openDemo(page, 'venturi');
	await station(page, 'Deliver');
	// A wedge, and it is looked at.
	await page.getByRole('combobox', { name: 'What the mesh is delivered as' }).selectOption('wedge');
	await settled(page);
	await expect(page.locator('canvas[data-drawn="true"]')).toBeVisible();
	await page.getByRole('textbox', { name: 'angle of the solid' }).click();
	await page.keyboard.type('6 deg');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('solid wedge 6 deg sides wedge_front, wedge_back');
	// What is kept stands in the recipe, and is delivered from there.
	const row = (title: string) => page.locator('.format', { hasText: title });
	await row('Open standard for flow solvers').getByRole('button', { name: 'Keep' }).click();
	await settled(page);
	await row('Comma-separated values').getByRole('button', { name: 'Keep' }).click();
	await settled(page);
	const cgns = await downloaded(page, () => row('deliver cgns').getByRole('button', { name: 'Download' }).click());
	const folder = mkdtempSync(join(tmpdir(), 'deliver-'));
	const path = join(folder, cgns.name);
	writeFileSync(path, cgns.bytes);
	const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
	expect(said).toContain('checking complete');
	expect(said).not.toMatch(/error|warning/i);
	expect(said).toContain('wedge_front');
	await expect(row('deliver cgns')).toContainText(/kB in|MB in/);
	// Tables: every node of a group is owned once.
	const tables = await downloaded(page, () => row('deliver tables').getByRole('button', { name: 'Download' }).click());
	const files = unzipSync(tables.bytes);
	const rows = new TextDecoder()
		.decode(files['node_groups.csv'])
		.trim()
		.split('\n')
		.slice(1)
		.map((line) => line.split(','));
	const owned = rows.filter(([, , isOwned]) => isOwned === 'true').map(([, node]) => node);
	expect(new Set(owned).size).toBe(owned.length);
	expect(new Set(owned)).toEqual(new Set(rows.map(([, node]) => node)));
	// A deck: a template of one's own, with a look at what comes out, and mistakes with their line.
	await page.getByRole('textbox', { name: 'Name of a new template' }).fill('plain');
	await page.keyboard.press('Enter');
	await settled(page);
	const template = page.getByRole('textbox', { name: 'Template', exact: true });
	await expect(page.getByLabel('Preview of')).toContainText('NODES');
	await template.click();
	await page.keyboard.press('Control+a');
	await page.keyboard.insertText('COUNT {{ node_count }}\n{{ nothing }}\n');
	await expect(page.getByRole('alert')).toContainText('plain.liquid, line 2: there is no “nothing” here');
	await page.keyboard.press('Control+a');
	await page.keyboard.insertText('COUNT {{ node_count }}\n{% each n in owned_nodes_of.inlet %}{{ n }}\n{% endeach %}');
	await expect(page.getByLabel('Preview of')).toContainText(/^COUNT \d+/);
	await page.keyboard.press('Control+s');
	await settled(page);
	await expect(page.getByRole('button', { name: 'Save plain.liquid' })).toBeDisabled();
	const deck = await downloaded(page, () => row('deliver deck').getByRole('button', { name: 'Download' }).click());
	const lines = deck.bytes.toString('utf8').trim().split('\n');
	const nodes = new TextDecoder().decode(files['nodes.csv']).trim().split('\n').length - 1;
	expect(lines[0]).toBe(`COUNT ${nodes}`);
	expect(lines.slice(1)).toEqual(
		rows.filter(([group, , isOwned]) => group === 'inlet' && isOwned === 'true').map(([, node]) => node)
	);
	// All of it in one archive; what was delivered before an edit is stale.
	const all = await downloaded(page, () => page.getByRole('button', { name: /^All of it/ }).click());
	expect(
		Object.keys(unzipSync(all.bytes))
			.filter((name) => !name.includes('/'))
			.sort()
	).toEqual([expect.stringMatching(/\.cgns$/), expect.stringMatching(/\.txt$/)]);
	await page.getByRole('combobox', { name: 'What the mesh is delivered as' }).selectOption('plane');
	await settled(page);
	await expect(row('deliver cgns')).toContainText('stale');
	// It is known after a reload, too.
	await page.reload();
	await settled(page);
	await station(page, 'Deliver');
	await expect(row('deliver cgns')).toContainText(/stale: changed since revision \d+/);
});

test('what was delivered is looked at again, compared with the recipe, and its outline meshed anew', async ({ page }) => {
	await openRecipe(
		page,
		`recipe 1
units mm
rectangle plate = (0, 0) to (60, 40)
circle hole = around (20, 20) radius 8
region r at (2, 2)
region h at (20, 20)
size 4
fill r quads
fill h none
group outer = plate as wall
group pin = hole as no_slip_wall
`
	);
	await expect(count(page, 'triangles')).toHaveText('0');
	await station(page, 'Deliver');
	const row = page.locator('.format', { hasText: 'Open standard for flow solvers' });
	const [download] = await Promise.all([page.waitForEvent('download'), row.getByRole('button', { name: 'Download' }).click()]);
	const path = await download.path();
	await row.getByRole('button', { name: 'Look at it' }).click();
	const dialog = page.getByRole('dialog');
	await expect(dialog).toContainText('The counts are those of this recipe.');
	await expect(dialog.getByRole('table', { name: 'Counts of the file and of the recipe' })).toContainText('group pin');
	await dialog.getByRole('button', { name: 'Close' }).click();
	// A changed recipe is no longer that of the file.
	await page.keyboard.press('Control+Shift+Digit3');
	await page.getByRole('textbox', { name: 'Size everywhere' }).fill('2');
	await page.keyboard.press('Enter');
	await settled(page);
	await station(page, 'Deliver');
	await page
		.getByLabel('Mesh to look at')
		.setInputFiles({ name: 'old.cgns', mimeType: 'application/x-hdf5', buffer: readFileSync(path) });
	await expect(dialog).toContainText('differ from this recipe');
	await dialog.getByRole('button', { name: 'Take its outline' }).click();
	const card = page.getByRole('dialog', { name: 'File to import' });
	await expect(card).toContainText('2 closed outlines: 1 filled with triangles, 1 left empty');
	await card.getByLabel('moved by').fill('100, 0');
	await card.getByRole('button', { name: 'Import', exact: true }).click();
	// The file is stored first.
	await expect(card).toHaveCount(0);
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('boundary part1 = from "old.cgns" moved (100, 0)');
	expect(text).toContain('group part1_pin = part1.pin as no_slip_wall');
	// A file that is no mesh is refused in a sentence, and the desk stays as it is.
	await station(page, 'Deliver');
	await page.getByLabel('Mesh to look at').setInputFiles({ name: 'x.vtu', mimeType: 'text/xml', buffer: Buffer.from('hello') });
	await expect(page.getByRole('alert')).toContainText('x.vtu: the file is neither CGNS (HDF5) nor a VTK XML unstructured grid');
});

test('every format that needs no template is downloaded, and what it holds is no sentence', async ({ page }) => {
	await openRecipe(
		page,
		`recipe 1
title "Plate"
rectangle plate = (0, 0) to (6, 4)
region r at (1, 1)
size 1
fill r triangles
group outer = plate as wall
`
	);
	await station(page, 'Deliver');
	const buttons = page.locator('.format').getByRole('button', { name: 'Download' });
	const count = await buttons.count();
	expect(count).toBeGreaterThan(8);
	const names: string[] = [];
	for (let k = 0; k < count; k++) {
		const button = buttons.nth(k);
		if (await button.isDisabled()) continue;
		const { name, bytes } = await downloaded(page, () => button.click());
		expect(bytes.length, name).toBeGreaterThan(100);
		names.push(/\.[a-z]+$/.exec(name)![0]);
	}
	for (const ending of ['.cgns', '.vtu', '.pdf', '.svg', '.html', '.dxf']) expect(names).toContain(ending);
});
