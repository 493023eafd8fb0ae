import { expect, test } from '@playwright/test';
import { newProject, openDemo, openRecipe, recipeText, saved, settled, station } from './desk.ts';

test('a cell says what is wrong and keeps it, and Escape gives it up', async ({ page }) => {
	await openDemo(page, 'venturi');
	const before = await recipeText(page);
	const cell = page.getByRole('textbox', { name: /^Divisions of/ }).first();
	for (const [typed, sentence] of [
		['-3', /count of divisions/],
		['abc', /abc/],
		['2.5', /whole number/]
	] as const) {
		await cell.fill(typed);
		await cell.press('Enter');
		await expect(page.getByRole('alert')).toContainText(sentence);
		await expect(cell).toHaveValue(typed);
		await expect(cell).toHaveAttribute('aria-invalid', 'true');
	}
	await cell.press('Escape');
	await expect(page.getByRole('alert')).toHaveCount(0);
	const spacing = page.getByRole('textbox', { name: /^Spacing of/ }).first();
	await spacing.fill('bais 10');
	await spacing.press('Enter');
	await expect(page.getByRole('alert')).toContainText('bias');
	await spacing.press('Escape');
	expect(await recipeText(page)).toBe(before);
	expect(await saved(page)).toBe(1);
});

test('a digit starts the count of what is selected, and stations have keys that no typing hits', async ({ page }) => {
	await openDemo(page, 'venturi');
	const name = await page.locator('td.name button').first().innerText();
	await page.locator('td.name button').first().click();
	await page.keyboard.type('37');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toMatch(new RegExp(`divide [^\\n]*${name.split('[')[0]}[^\\n]* into 37`));
	await page.keyboard.press('Control+Shift+Digit3');
	await expect(page.getByRole('textbox', { name: 'Size everywhere' })).toBeVisible();
	const size = page.getByRole('textbox', { name: 'Size everywhere' });
	await size.fill('4');
	await page.keyboard.press('Control+Shift+Digit1');
	await settled(page);
	expect(await recipeText(page)).toMatch(/^size 4\b/m);
});

test('what the server refuses to save is said, kept, and saved when it can be', async ({ page }) => {
	await openDemo(page, 'venturi');
	const problem = { type: 'about:blank', title: 'Disk full', status: 507, detail: 'the disk of the server is full' };
	await page.route('**/revisions', (route) =>
		route.fulfill({ status: 507, contentType: 'application/problem+json', body: JSON.stringify(problem) })
	);
	const cell = page.getByRole('textbox', { name: /^Divisions of/ }).first();
	await cell.fill('41');
	await cell.press('Enter');
	await expect(page.getByRole('alert')).toContainText('the disk of the server is full');
	await expect(page.getByRole('banner').getByRole('status')).toContainText('Not saved since');
	const download = page.waitForEvent('download');
	await page.getByRole('button', { name: 'Download the text' }).click();
	expect((await download).suggestedFilename()).toContain('.tessellon');
	await page.unroute('**/revisions');
	await page.getByRole('button', { name: 'Try now' }).click();
	expect(await saved(page)).toBe(2);
	await page.reload();
	await settled(page);
	expect(await recipeText(page)).toContain('into 41');
});

test('what was typed with pauses inside a statement is one step of undo', async ({ page }) => {
	await newProject(page);
	const before = await recipeText(page);
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.getByRole('textbox', { name: 'Recipe text' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type('\nli');
	await expect.poll(() => recipeText(page)).toContain('\nli');
	await page.keyboard.type('ne a = (0, 0) to (10, 5)');
	await expect.poll(() => recipeText(page)).toContain('to (10, 5)');
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('Control+z');
	await expect.poll(() => recipeText(page)).toBe(before);
});

test('the ledger is as wide as its place, however little stands in it', async ({ page }) => {
	await newProject(page);
	const place = (await page.locator('aside.ledger').boundingBox())!;
	const ledger = (await page.getByRole('region', { name: 'Ledger' }).boundingBox())!;
	expect(place.x + place.width - (ledger.x + ledger.width)).toBeLessThan(1);
	expect(ledger.width).toBeGreaterThan(0.95 * place.width);
});

test('numbers typed quickly across a row of layers are all taken, while the mesh is still being made', async ({ page }) => {
	await openRecipe(
		page,
		`recipe 1
rectangle box = (0, 0) to (40, 20)
region r at (5, 5)
size 0.25
layers on box.bottom first 0.02 growth 1.2 count 8
fill r triangles
`
	);
	await station(page, 'Fill');
	const cell = (word: string) => page.getByLabel(`${word} of layers on box.bottom`);
	await cell('first').click();
	await cell('first').fill('0.03');
	await page.keyboard.press('Tab');
	await page.keyboard.type('1.3');
	await page.keyboard.press('Tab');
	await page.keyboard.type('6');
	await page.keyboard.press('Tab');
	await settled(page);
	expect(await recipeText(page)).toContain('layers on box.bottom first 0.03 growth 1.3 count 6\n');
});

test('a width and then a height are both taken from the card of a rectangle', async ({ page }) => {
	await openRecipe(page, 'recipe 1\nrectangle box = (0, 0) to (40, 20)\nregion r at (5, 5)\nsize 0.25\nfill r triangles\n');
	await station(page, 'Shape');
	await page.getByRole('button', { name: 'box', exact: true }).click();
	const field = (name: string) => page.getByLabel(`${name} of box`);
	await field('Width').click();
	await field('Width').fill('36');
	await page.keyboard.press('Tab');
	await expect(field('Height')).toBeFocused();
	await page.keyboard.type('18');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('rectangle box = (0, 0) to (36, 18)');
});
