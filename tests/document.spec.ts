import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { count, settled, station } from './desk.ts';

const folder = mkdtempSync(join(tmpdir(), 'tessellon-desk-'));
const path = join(folder, 'plate.tessellon');
const plate = (width: number) => `recipe 1
title "Plate"
rectangle box = (0, 0) to (${width}, 30)
region r bounded by box
size 5
fill r triangles
`;
let command: ChildProcess;

test.afterAll(() => void command?.kill('SIGTERM'));

test('a recipe file is opened in the desk by the command, and both editors see each other’s changes', async ({ page }) => {
	writeFileSync(path, plate(40));
	command = spawn('node', ['bin/tessellon.js', 'desk', path], {
		env: { ...process.env, TESSELLON_DATA: join(folder, 'data') },
		stdio: ['ignore', 'pipe', 'inherit']
	});
	const address = await new Promise<string>((found) => {
		let said = '';
		command.stdout!.on('data', (part: Buffer) => {
			said += part.toString();
			const [address] = /http:\S+/.exec(said) ?? [];
			if (address) found(address);
		});
	});
	await page.goto(address);
	await settled(page);
	await expect(page.getByRole('banner')).toContainText('plate.tessellon');
	const before = Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));
	// Another editor saves: the desk follows at once.
	writeFileSync(path, plate(80));
	await expect(async () => {
		await settled(page);
		expect(Number((await count(page, 'triangles').innerText()).replaceAll(',', ''))).toBeGreaterThan(1.5 * before);
	}).toPass();
	// A change in the desk is in the file.
	await station(page, 'Fill');
	await page.getByRole('textbox', { name: 'Size everywhere' }).fill('2');
	await page.keyboard.press('Enter');
	await expect(async () => expect(readFileSync(path, 'utf8')).toContain('size 2')).toPass();
	expect(readFileSync(path, 'utf8')).toContain('to (80, 30)');
	// Undo takes back what was done here, and then what was done there.
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('Control+z');
	await expect(async () => expect(readFileSync(path, 'utf8')).toBe(plate(80))).toPass();
	await page.keyboard.press('Control+z');
	await expect(async () => expect(readFileSync(path, 'utf8')).toBe(plate(40))).toPass();
});
