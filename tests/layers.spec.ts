import { expect, test } from '@playwright/test';
import { clickAt, count, openRecipe, recipeText, settled, station } from './desk.ts';

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
	await expect(page.getByRole('alert')).toContainText('A growth of 0.5 is out of reach');
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+z');
	await settled(page);
	await expect(cell('count')).toHaveValue('15');
	await page.getByRole('button', { name: 'Remove layers on body' }).click();
	await settled(page);
	await expect(count(page, 'quads')).toHaveText('0');
});
