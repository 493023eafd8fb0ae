import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { clickAt, count, newProject, onScreen, recipeText, saved, settled, station, typeRectangle } from './desk.ts';

async function setCell(page: Page, name: string, value: string): Promise<void> {
	const cell = page.getByRole('textbox', { name, exact: true });
	await cell.click();
	await cell.fill(value);
	await cell.press('Enter');
	await settled(page);
}

test('five blocks: spacing by hand, a conflict settled, a file delivered', async ({ page }) => {
	await newProject(page);
	// A T of five rectangles that share their sides.
	await page.keyboard.press('r');
	await typeRectangle(page, ['0', '0'], ['20', '10']);
	await typeRectangle(page, ['20', '0'], ['40', '10']);
	await typeRectangle(page, ['40', '0'], ['60', '10']);
	await typeRectangle(page, ['20', '10'], ['40', '30']);
	await typeRectangle(page, ['20', '30'], ['40', '40']);
	await page.keyboard.press('Escape');
	await page.keyboard.press('f');
	await station(page, 'Fill');
	// All five outlines at once.
	await page.getByRole('button', { name: 'Structured' }).first().click();
	await settled(page);

	// Counts and spacing toward the wall in the ledger: carried through the row of blocks.
	await station(page, 'Divide');
	await setCell(page, 'Divisions of box1.left', '12');
	await page.getByRole('combobox', { name: 'Spacing of box1.left toward' }).selectOption('box1.bottom');
	await setCell(page, 'Spacing of box1.left', 'first 0.2');
	const row = (name: string) => page.getByRole('row').filter({ has: page.getByRole('button', { name, exact: true }) });
	await expect(row('box3.right')).toContainText('0.2');
	await expect(page.getByRole('textbox', { name: 'Divisions of box3.right' })).toHaveValue('12');

	// By hand: the first cell of the side of the block above is dragged, and its count.
	await clickAt(page, 20, 20);
	await expect(row('box4.left')).toHaveClass(/selected/);
	await setCell(page, 'Divisions of box4.left', '10');
	// Ten even cells of 2: the handle of the lower end stands on the first node.
	const before = await onScreen(page, 20, 12);
	const after = await onScreen(page, 20, 10.5);
	await page.mouse.move(before.x, before.y);
	await page.mouse.down();
	await page.mouse.move(before.x, (before.y + after.y) / 2, { steps: 4 });
	await page.mouse.move(after.x, after.y, { steps: 4 });
	await page.mouse.up();
	await settled(page);
	await saved(page);
	const written = /divide box4\.left .*first ([\d.]+) at/.exec(await recipeText(page))!;
	expect(Number(written[1])).toBeCloseTo(0.5, 1);
	await expect(row('box4.right')).toContainText(String(Number(written[1])));

	// A conflict: the far end of the row wants another count. The finding names both; one click settles it.
	await setCell(page, 'Divisions of box3.right', '9');
	await page.getByRole('button', { name: /^\d+ findings?$/ }).click();
	await expect(page.getByText(/“?box1\.left”? 12.*would settle it/)).toBeVisible();
	await page.getByRole('button', { name: /Make it box/ }).click();
	await settled(page);
	const rows = Number((await row('box1.left').getByRole('textbox').first().inputValue()).trim());
	expect([9, 12]).toContain(rows);
	await expect(row('box3.right').getByRole('textbox').first()).toHaveValue(String(rows));
	const quads = Number((await count(page, 'quads').innerText()).replaceAll(',', ''));

	// Deliver, and read the file.
	await station(page, 'Label');
	await page.getByRole('button', { name: 'Select all of them' }).click();
	await page.getByRole('textbox', { name: 'Name of the new group' }).fill('wall');
	await page.getByRole('textbox', { name: 'Name of the new group' }).press('Enter');
	await expect(page.getByText('Every boundary piece is in a group.')).toBeVisible();
	await page.getByRole('button', { name: 'Deliver', exact: true }).last().click();
	await settled(page);
	const download = page.waitForEvent('download');
	await page
		.locator('.format', { hasText: /CGNS\s+\S+\.cgns/ })
		.getByRole('button', { name: 'Download' })
		.click();
	const path = join(mkdtempSync(join(tmpdir(), 'blocks-')), 'mesh.cgns');
	await (await download).saveAs(path);
	const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
	expect(said).toContain('checking BC "wall"');
	expect(said).not.toMatch(/error|warning/i);
	expect(quads).toBeGreaterThan(100);
});

test('a size from physics goes into the statement of the selected piece', async ({ page }) => {
	await newProject(page);
	await page.keyboard.press('r');
	await typeRectangle(page, ['0', '0'], ['48', '30']);
	await page.keyboard.press('Escape');
	await station(page, 'Fill');
	await page.getByRole('button', { name: 'Structured' }).first().click();
	await station(page, 'Divide');
	await page.getByRole('button', { name: 'box1.left', exact: true }).click();
	await page.getByRole('button', { name: 'Calculate a size…' }).click();
	await page.getByRole('combobox', { name: 'Law' }).selectOption('smooth pipe');
	await page.getByRole('textbox', { name: 'target y⁺' }).fill('0');
	await expect(page.getByText('the target y⁺ must be above zero, found 0.')).toBeVisible();
	await page.getByRole('textbox', { name: 'target y⁺' }).fill('30');
	await page.getByRole('button', { name: 'Use it on box1.left' }).click();
	await settled(page);
	// Water, 10 m/s, 80 mm: Re = 796 966, Cf = 0.079/Re^¼, y = 30 μ/(ρ U √(Cf/2)).
	const friction = 0.079 / ((998.2 * 10 * 0.08) / 1.002e-3) ** 0.25;
	const height = (30 * 1.002e-3) / (998.2 * 10 * Math.sqrt(friction / 2));
	expect(await recipeText(page)).toContain(`first ${Number((1000 * height).toPrecision(3))} at`);

	// As parameters the size follows them.
	await page.getByText('as parameters').click();
	await page.getByRole('button', { name: 'Use it on box1.left' }).click();
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('let wall_y_plus = 30  # target y⁺');
	expect(text).toMatch(/divide box1\.left .*first wall_first at/);
	const cells = page.getByRole('row', { name: /^box1\.left/ }).getByRole('cell');
	const ends = [Number(await cells.nth(4).innerText()), Number(await cells.nth(5).innerText())];
	expect(Math.min(...ends) / (1000 * height)).toBeCloseTo(1, 2);
});
