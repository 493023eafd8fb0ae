import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { clickAt, count, onScreen, openRecipe, recipeText, settled, station } from './desk.ts';

test('walls that are selected grow layers by one key, and the table changes them', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\nrectangle box = (0, 0) to (60, 40)\ncircle body = around (30, 20) radius 6\nregion r at (5, 5)\nsize 3\nfill r triangles\n'
	);
	await station(page, 'Fill');
	await clickAt(page, 36, 20);
	await page.keyboard.press('l');
	await settled(page);
	await expect(count(page, 'quads')).not.toHaveText('0');
	const cell = (word: string) => page.getByRole('textbox', { name: `${word} of layers on body` });
	await expect(cell('count')).toHaveValue('15');
	// The first height follows from the flow.
	await page.getByRole('button', { name: 'First height from y⁺…' }).click();
	await page.getByRole('textbox', { name: 'target y⁺' }).fill('1');
	await page.getByRole('button', { name: 'Use it on body' }).click();
	await settled(page);
	const first = Number(/layers on body first ([\d.e-]+) growth 1\.2 count 15/.exec(await recipeText(page))![1]);
	expect(first).toBeGreaterThan(0);
	expect(first).toBeLessThan(0.05);
	// A thickness takes the place of the count, which follows.
	await cell('first').click();
	await page.keyboard.type('0.05');
	await page.keyboard.press('Enter');
	await settled(page);
	await cell('thickness').click();
	await page.keyboard.type('2');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('layers on body first 0.05 growth 1.2 thickness 2');
	// 0.05 (1.2ⁿ − 1)/0.2 is 1.98 with n = 12.
	await expect(cell('count')).toHaveValue('12');
	// What cannot be is said in its cell.
	await cell('growth').click();
	await page.keyboard.type('0.5');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toContainText('A growth of 0.5 does not work');
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+z');
	await settled(page);
	await expect(cell('count')).toHaveValue('15');
	await page.getByRole('button', { name: 'Remove layers on body' }).click();
	await settled(page);
	await expect(count(page, 'quads')).toHaveText('0');
});

test('a wall is looked at through a loupe and a plot, its layers are dragged thicker, and the file has the heights', async ({
	page
}) => {
	await openRecipe(
		page,
		'recipe 1\nrectangle box = (0, 0) to (60, 40)\nregion r at (5, 5)\nsize 3\ndivide box.bottom into 20\nlayers on box.bottom first 0.2 growth 1.25 count 8\nfill r triangles\ngroup all = box as wall\n'
	);
	await station(page, 'Fill');
	// 0.2 (1.25⁸ − 1)/0.25 is 3.97.
	const loupe = page.getByRole('complementary', { name: 'Layers here' });
	const wall = await onScreen(page, 30, 1);
	await page.mouse.move(wall.x, wall.y);
	await expect(loupe).toContainText('thickness');
	await expect(loupe.locator('dd').nth(0)).toHaveText('8');
	await expect(loupe.locator('dd').nth(1)).toHaveText('0.2');
	await expect(loupe.locator('dd').nth(4)).toHaveText('3.97');
	// The plot along the wall has the same height, and its place is marked in the drawing.
	await page.getByRole('combobox', { name: 'Plotted along the walls' }).selectOption('thickness');
	const plot = page.getByRole('img', { name: 'thickness along it' });
	await expect(plot.locator('path')).toHaveCount(1);
	const box = (await plot.boundingBox())!;
	await page.mouse.move(box.x + box.width / 2, box.y + 30);
	await expect(page.locator('.along figcaption')).toContainText('3.97 at (');
	await expect(loupe).toBeVisible();
	// The outer line is taken and pulled up.
	const [from, to] = [await onScreen(page, 40, 3.97), await onScreen(page, 40, 6)];
	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(from.x, (from.y + to.y) / 2);
	await page.mouse.move(to.x, to.y);
	await page.mouse.up();
	await settled(page);
	const thickness = Number(/layers on box\.bottom first 0\.2 growth 1\.25 thickness ([\d.]+)/.exec(await recipeText(page))?.[1]);
	expect(thickness).toBeGreaterThan(5);
	expect(thickness).toBeLessThan(7);
	await page.keyboard.press('Control+z');
	await settled(page);
	expect(await recipeText(page)).toContain('first 0.2 growth 1.25 count 8');
	// The layers can be looked at alone.
	await page.getByRole('button', { name: 'layers', exact: true }).click();
	await expect(count(page, 'quads')).toHaveText('160');
	await station(page, 'Deliver');
	const download = page.waitForEvent('download');
	await page.locator('.format', { hasText: 'VTU' }).getByRole('button', { name: 'Download' }).click();
	const heights = pointsOf(readFileSync(await (await download).path()))
		.filter(([x, y]) => Math.abs(x - 30) < 1e-6 && y > 1e-9)
		.map(([, y]) => y)
		.sort((a, b) => a - b);
	expect(heights[0]! / 0.2).toBeCloseTo(1, 9);
	expect(heights[1]! / 0.45).toBeCloseTo(1, 9);
});

test('cells along a chain are plotted in Divide, with the jumps between its pieces', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\nline a = (0, 0) to (20, 0)\nline b = (20, 0) to (60, 0)\nline c = (60, 0) to (60, 40)\nline d = (60, 40) to (0, 40)\nline e = (0, 40) to (0, 0)\nregion r at (5, 5)\ndivide a into 20\ndivide b into 10\nfill r triangles\n'
	);
	await station(page, 'Divide');
	await clickAt(page, 40, 0);
	await page.getByRole('button', { name: 'Plot', exact: true }).click();
	const plot = page.getByRole('img', { name: 'cell length along it' });
	await expect(plot.locator('path')).toHaveCount(2);
	await expect(plot).toContainText('4.00×');
	const box = (await plot.boundingBox())!;
	await page.mouse.move(box.x + box.width - 30, box.y + 30);
	await expect(page.locator('.along figcaption')).toContainText('4 at (');
});

/** The points of a VTU file whose arrays are appended raw, each behind its length as 64 bits. */
function pointsOf(file: Buffer): [number, number][] {
	const text = file.toString('latin1');
	const offset = Number(/<Points>\s*<DataArray[^>]*offset="(\d+)"/.exec(text)![1]);
	const data = text.indexOf('_', text.indexOf('<AppendedData')) + 1 + offset;
	const length = Number(file.readBigUInt64LE(data)) / 24;
	return Array.from({ length }, (_, k) => [file.readDoubleLE(data + 8 + 24 * k), file.readDoubleLE(data + 16 + 24 * k)]);
}
