import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { openDemo, recipeText, settled, station } from './desk.ts';

test('a study over the range of a slider is made, run, stopped, gone on with, charted, and its worst case opened', async ({
	page
}) => {
	await openDemo(page, 'cold-plate');
	await station(page, 'Deliver');
	await page.getByRole('combobox', { name: 'New study' }).selectOption({ label: 'width from 36 to 60' });
	await settled(page);
	expect(await recipeText(page)).toContain('study study_1 = width in 36, 40, 44, 48, 52, 56, 60');
	await page.getByRole('button', { name: 'Open study_1' }).click();
	const dialog = page.getByRole('dialog', { name: 'Study study_1' });
	const status = dialog.getByRole('status');
	await expect(status).toContainText('0 of 7 cases');
	await dialog.getByRole('button', { name: 'Run' }).click();
	// Stopped when some are done, it keeps them; gone on with, it does the others.
	await expect(status).toContainText(/[1-5] of 7 cases/);
	await dialog.getByRole('button', { name: 'Stop' }).click();
	const done = Number(/^(\d)/.exec((await status.textContent())!.trim())![1]);
	expect(done).toBeLessThan(7);
	await expect(status).not.toContainText('running');
	await dialog.getByRole('button', { name: 'Go on' }).click();
	await expect(status).toContainText('7 of 7 cases');
	// Any figure over any parameter; sorted and filtered.
	await dialog.getByRole('combobox', { name: 'Figure of the plot' }).selectOption({ label: 'elements' });
	await expect(dialog.getByRole('img', { name: 'elements over width' }).locator('circle')).toHaveCount(7);
	const rows = dialog.getByRole('table', { name: 'Cases of study_1' }).locator('tbody tr');
	await dialog.getByRole('button', { name: 'width', exact: true }).click();
	await dialog
		.getByRole('button', { name: /^width/ })
		.first()
		.click();
	await expect(rows.first()).toContainText('width_60');
	await dialog.getByRole('textbox', { name: 'Filter the cases' }).fill('width_4');
	await expect(rows).toHaveCount(3);
	await dialog.getByRole('textbox', { name: 'Filter the cases' }).fill('');
	// Parallel axes: a drag along one keeps the cases within, in the table too; a click on it gives them back.
	await dialog.getByRole('button', { name: 'Axes' }).click();
	const axis = (await dialog.locator('[data-axis="width"] .overlay').boundingBox())!;
	const [across, low, high] = [axis.x + axis.width / 2, axis.y + axis.height, axis.y];
	await page.mouse.move(across, low - 1);
	await page.mouse.down();
	await page.mouse.move(across, (low + high) / 2 - 14, { steps: 6 });
	await page.mouse.up();
	await expect(dialog.getByRole('img', { name: /Cases on parallel axes: 4 of 7 kept/ })).toBeVisible();
	await expect(rows).toHaveCount(4);
	await dialog.getByRole('button', { name: 'All cases' }).click();
	await expect(rows).toHaveCount(7);
	// Two cases over one another.
	await dialog.getByRole('button', { name: 'width_36' }).click();
	await dialog.getByRole('combobox', { name: 'Lay another case over it' }).selectOption('width_60');
	await expect(dialog.getByRole('img', { name: 'The meshes of width_36 and width_60 over one another' })).toBeVisible();
	if (process.env.SHOTS) await page.screenshot({ path: `${process.env.SHOTS}/study-axes.png` });
	await dialog.getByRole('button', { name: 'Meshes' }).click();
	await expect(dialog.getByRole('region', { name: 'Meshes of the cases' })).toBeVisible();
	const [table] = await Promise.all([page.waitForEvent('download'), dialog.getByRole('button', { name: 'Table (CSV)' }).click()]);
	expect(
		readFileSync(await table.path(), 'utf8')
			.trim()
			.split('\n')
	).toHaveLength(8);
	// What came of the cases outlives the dialog and the page.
	await dialog.getByRole('button', { name: 'Close' }).click();
	await page.reload();
	await settled(page);
	await station(page, 'Deliver');
	await page.getByRole('button', { name: 'Open study_1' }).click();
	await expect(status).toContainText('7 of 7 cases');
	await expect(rows).toHaveCount(7);
	await dialog.getByRole('button', { name: 'Worst case' }).click();
	const worst = await dialog.locator('.chosen b').textContent();
	await dialog.getByRole('button', { name: 'Open this case' }).click();
	await settled(page);
	expect(await recipeText(page)).toMatch(new RegExp(`let width\\s+= ${worst!.replace('width_', '')} range 36 to 60`));
});
