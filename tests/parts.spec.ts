import { expect, test } from '@playwright/test';
import {
	clickAt,
	count,
	newProject,
	onScreen,
	openDemo,
	openRecipe,
	recipeText,
	settled,
	station,
	typeRectangle
} from './desk.ts';

test('a part is drawn in a sheet of its own, placed by clicks, and each copy has its arguments in a card', async ({ page }) => {
	await newProject(page);
	await page.getByRole('button', { name: 'New part' }).click();
	await expect(page.getByText('Part part1')).toBeVisible();
	await page.getByLabel('New parameter').fill('r = 2');
	await page.getByRole('button', { name: 'Add', exact: true }).click();
	await settled(page);
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('c');
	await page.keyboard.type('0');
	await page.keyboard.press('Tab');
	await page.keyboard.type('0');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('form', { name: 'Typed coordinates' })).toBeHidden();
	await page.keyboard.type('=r');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toMatch(/part part1 with r = 2\n {2}.*circle circle1 = around \S+ .*radius r\nend/s);

	await page.getByRole('button', { name: 'Back to the whole drawing' }).click();
	await settled(page);
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('b');
	await typeRectangle(page, ['0', '0'], ['30', '20']);
	await page.getByRole('button', { name: 'Fit', exact: false }).first().click();
	await page.getByRole('button', { name: 'Place part1' }).click();
	await clickAt(page, 10, 10);
	await settled(page);
	await clickAt(page, 20, 10);
	await settled(page);
	await page.keyboard.press('Escape');
	const text = await recipeText(page);
	expect(text).toContain('place placed1 = part1 at (10, 10)');
	expect(text).toContain('place placed2 = part1 at (20, 10)');

	await page.getByRole('button', { name: 'placed2', exact: true }).click();
	const field = page.getByLabel('R of placed2');
	await field.fill('3.5');
	await field.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('place placed2 = part1 at (20, 10) with r = 3.5');
	await field.fill('');
	await field.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('place placed2 = part1 at (20, 10)\n');
});

test('what is changed in the sheet of a part changes every copy, and undo takes it back', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	const before = await recipeText(page);
	await station(page, 'Shape');
	await page
		.getByRole('button', { name: /^Open / })
		.first()
		.click();
	await settled(page);
	await expect(page.getByRole('button', { name: 'Back to the whole drawing' })).toBeVisible();
	const elements = await count(page, 'quads').textContent();
	await station(page, 'Fill');
	await station(page, 'Deliver');
	await expect(page.getByText(/is delivered where it is placed/)).toBeVisible();
	await station(page, 'Shape');
	const value = page.getByLabel(/^Value of /).first();
	const name = (await value.getAttribute('aria-label'))!.replace('Value of ', '');
	const old = await value.inputValue();
	await value.fill(String(Number.parseFloat(old) * 0.9));
	await value.press('Enter');
	await settled(page);
	const changed = await recipeText(page);
	expect(changed).not.toBe(before);
	expect(changed).toMatch(new RegExp(`part .* with .*${name} = ${Number.parseFloat(old) * 0.9}`));
	await page.keyboard.press('Control+z');
	await settled(page);
	expect(await recipeText(page)).toBe(before);
	await page.getByRole('button', { name: 'Back to the whole drawing' }).click();
	await settled(page);
	expect(await recipeText(page)).toBe(before);
	expect(await count(page, 'quads').textContent()).not.toBe(elements);
});

test('a part read from beside the recipe can be placed, and says where it is changed', async ({ page }) => {
	const stored = await (
		await page.request.post('/api/files', { data: Buffer.from('recipe 1\nlet r = 2\ncircle head = around (0, 0) radius r\n') })
	).json();
	await openRecipe(
		page,
		'recipe 1\npart pin from "pin.tessellon"\nrectangle b = (0, 0) to (30, 20)\nregion air at (1, 1)\nfill air triangles size 2\n',
		{ 'pin.tessellon': stored.hash }
	);
	await station(page, 'Shape');
	await expect(page.getByRole('button', { name: 'Open pin' })).toBeDisabled();
	const plain = await count(page, 'triangles').textContent();
	await page.getByRole('button', { name: 'Place pin' }).click();
	const at = await onScreen(page, 15, 10);
	await page.mouse.move(at.x, at.y);
	await page.mouse.click(at.x, at.y);
	await settled(page);
	expect(await recipeText(page)).toContain('place placed1 = pin at (15, 10)');
	expect(await count(page, 'triangles').textContent()).not.toBe(plain);
});
