import { expect, test } from '@playwright/test';
import { count, newProject, openDemo, recipeText, settled, station, typeRectangle } from './desk.ts';

test('a place gets a size of its own, is changed, and is taken away', async ({ page }) => {
	await newProject(page);
	await page.keyboard.press('r');
	await typeRectangle(page, ['0', '0'], ['100', '50']);
	await page.keyboard.press('Escape');
	await station(page, 'Fill');
	await page.getByRole('button', { name: 'Triangles' }).click();
	await settled(page);
	const size = page.getByRole('textbox', { name: 'Size everywhere' });
	await size.click();
	await size.fill('5');
	await size.press('Enter');
	await settled(page);
	const triangles = async () => Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));
	const coarse = await triangles();

	await page.getByRole('combobox', { name: 'Where the new size holds' }).selectOption({ label: 'in a circle' });
	await page.getByRole('textbox', { name: 'Place of the new size' }).fill('inside circle around (50, 25) radius 6');
	await page.getByRole('textbox', { name: 'New size', exact: true }).fill('0.5');
	await page.getByRole('textbox', { name: 'New size', exact: true }).press('Enter');
	await settled(page);
	await expect.poll(triangles).toBeGreaterThan(3 * coarse);
	expect(await recipeText(page)).toContain('size 0.5 inside circle around (50, 25) radius 6');
	const fine = await triangles();
	const predicted = Number((await page.locator('[data-count="predicted"]').innerText()).replaceAll(',', ''));
	expect(predicted / fine).toBeGreaterThan(0.7);
	expect(predicted / fine).toBeLessThan(1.4);

	// A size that cannot be gets a sentence, and comes back with one undo.
	const cell = page.getByRole('textbox', { name: 'Size inside circle around (50, 25) radius 6' });
	await cell.click();
	await cell.fill('0');
	await cell.press('Enter');
	await settled(page);
	await page.getByRole('button', { name: /^\d+ findings?$/ }).click();
	await expect(page.getByText(/an element size is above zero, found 0/)).toBeVisible();
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+z');
	await settled(page);
	await expect.poll(triangles).toBe(fine);

	await page.getByRole('button', { name: 'Remove size inside circle around (50, 25) radius 6' }).click();
	await settled(page);
	await expect.poll(triangles).toBe(coarse);
});

test('the relief valve follows its lift, gap and all', async ({ page }) => {
	await openDemo(page, 'relief-valve');
	await station(page, 'Fill');
	await expect(page.getByRole('table', { name: 'Sizes of their own' }).getByRole('row')).toHaveCount(5);
	const wide = Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));
	await station(page, 'Shape');
	const lift = page.getByRole('slider', { name: /lift/ });
	await lift.focus();
	for (let k = 0; k < 3; k++) await page.keyboard.press('ArrowLeft');
	await settled(page);
	// A narrower gap of six elements takes smaller ones.
	await expect.poll(async () => Number((await count(page, 'triangles').innerText()).replaceAll(',', ''))).not.toBe(wide);
	await expect(page.getByRole('button', { name: '0 findings' })).toBeVisible();
});
