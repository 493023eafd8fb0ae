import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test, type Page } from '@playwright/test';
import { clickAt, count, newProject, onScreen, openDemo, openRecipe, recipeText, saved, settled, station } from './desk.ts';

/** Types into the coordinate card, as at the keyboard. */
async function typePlace(page: Page, first: string, second?: string): Promise<void> {
	await page.keyboard.type(first);
	if (second !== undefined) {
		await page.keyboard.press('Tab');
		await page.keyboard.type(second);
	}
	await page.keyboard.press('Enter');
	await expect(page.getByRole('form', { name: 'Typed coordinates' })).toBeHidden();
}

test('an empty project becomes a delivered file, by keyboard and mouse', async ({ page }) => {
	await newProject(page);
	// A duct section of 48 × 30, typed.
	await page.keyboard.press('r');
	await typePlace(page, '0', '0');
	await typePlace(page, '48', '30');
	await settled(page);
	await page.keyboard.press('f');
	// Blocks by one click, counts and bias in the ledger.
	await page.keyboard.press('Escape');
	await station(page, 'Fill');
	await page.getByRole('button', { name: 'Structured' }).click();
	await expect(count(page, 'quads')).toHaveText('1,440');
	await station(page, 'Divide');
	const left = page.getByRole('textbox', { name: 'Divisions of box1.left' });
	await left.click();
	await left.fill('20');
	await left.press('Enter');
	await expect(count(page, 'quads')).toHaveText('960');
	await page.getByRole('combobox', { name: 'Spacing of box1.left toward' }).selectOption('box1.top');
	const bias = page.getByRole('textbox', { name: 'Spacing of box1.left' });
	await bias.click();
	await bias.fill('12');
	await bias.press('Enter');
	await settled(page);
	// Smallest cell at the top, both on the left side and, carried, on the right.
	const r = 12 ** (1 / 19);
	const smallest = String(Number(((30 * (r - 1)) / (r ** 20 - 1)).toPrecision(3)));
	for (const side of ['left', 'right'])
		await expect(
			page.getByRole('row').filter({ has: page.getByRole('button', { name: `box1.${side}`, exact: true }) })
		).toContainText(smallest);
	// Label the four sides by clicking them.
	await station(page, 'Label');
	for (const [x, y, name, kind] of [
		[0, 15, 'inlet', 'Inflow'],
		[48, 15, 'outlet', 'Outflow']
	] as const) {
		await clickAt(page, x, y);
		await page.getByRole('textbox', { name: 'Name of the new group' }).fill(name);
		await page.getByRole('combobox', { name: 'Kind of the new group' }).selectOption(kind);
		await page.getByRole('button', { name: 'Label', exact: true }).click();
		await settled(page);
	}
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
	const path = join(mkdtempSync(join(tmpdir(), 'drawn-')), 'mesh.cgns');
	await (await download).saveAs(path);
	const said = execFileSync('cgnscheck', ['-V', path], { encoding: 'utf8' });
	for (const name of ['inlet', 'outlet', 'wall']) expect(said).toContain(`checking BC "${name}"`);
	expect(said).not.toMatch(/error|warning/i);
});

test('points, lines, steps and circles are typed or clicked, and snap', async ({ page }) => {
	await newProject(page);
	await page.keyboard.press('l');
	await typePlace(page, '10', '10');
	// A step, by its tab in the card.
	await page.keyboard.type('3');
	await page.getByText('Step', { exact: true }).click();
	await page.getByRole('textbox', { name: 'dx' }).fill('40');
	await page.getByRole('textbox', { name: 'dy' }).fill('0');
	await page.keyboard.press('Enter');
	await settled(page);
	// Length and angle.
	await page.keyboard.type('3');
	await page.getByText('Length, angle', { exact: true }).click();
	await page.getByRole('textbox', { name: 'length' }).fill('25');
	await page.getByRole('textbox', { name: 'angle' }).fill('90');
	await page.keyboard.press('Enter');
	await settled(page);
	// Back to the first point, by a click near it: it snaps, and the chain closes.
	const start = await onScreen(page, 10, 10);
	await page.mouse.move(start.x + 4, start.y - 3);
	await expect(page.locator('.snap')).toHaveText('point');
	await page.mouse.click(start.x + 4, start.y - 3);
	await settled(page);
	await page.keyboard.press('c');
	await clickAt(page, 80, 20);
	await typePlace(page, '7.5');
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('point p1 = (10, 10)');
	expect(text).toMatch(/line line1 = p1 to p2/);
	expect(text).toMatch(/line line3 = p3 to p1/);
	expect(text).toMatch(/circle circle1 = around \(80, 20\) radius 7.5/);
	await expect(page.getByRole('row').filter({ hasText: /^p3/ }).getByRole('textbox', { name: 'y of p3' })).toHaveValue('35');
	// A wrong value says so, and nothing is lost.
	await page.keyboard.press('c');
	await page.keyboard.type('5');
	await page.keyboard.press('Tab');
	await page.keyboard.type('wide');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toContainText('nothing is named “wide”');
});

test('selects by click, by adding and by box, and deletes with undo', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	await station(page, 'Divide');
	await clickAt(page, 80, 0);
	await expect(page.locator('tr.selected')).toHaveCount(1);
	await clickAt(page, 80, 60, ['Shift']);
	await expect(page.locator('tr.selected')).toHaveCount(2);
	// An edit in one row goes to both.
	const before = Number((await count(page, 'triangles').innerText()).replace(',', ''));
	const cell = page.getByRole('textbox', { name: 'Divisions of plate.bottom' });
	await cell.click();
	await cell.fill('140');
	await cell.press('Enter');
	await settled(page);
	await expect(page.getByRole('textbox', { name: 'Divisions of plate.top' })).toHaveValue('140');
	expect(Number((await count(page, 'triangles').innerText()).replace(',', ''))).toBeGreaterThan(before);
	// A box around one pin.
	await page.keyboard.press('Escape');
	const [from, to] = [await onScreen(page, 22, 14), await onScreen(page, 45, 26)];
	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(to.x, to.y, { steps: 4 });
	await page.mouse.up();
	await expect(page.locator('tr.selected')).toHaveCount(3);
	await page.keyboard.press('Delete');
	await settled(page);
	await expect(page.getByRole('button', { name: 'p1.head', exact: true })).toHaveCount(0);
	await saved(page);
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByRole('button', { name: 'p1.head', exact: true })).toHaveCount(1);
});

test('pans with the middle button, zooms to the pointer, fits with F', async ({ page }) => {
	await openDemo(page, 'venturi');
	const drawing = page.getByRole('application', { name: 'Drawing' });
	const fitted = await drawing.getAttribute('data-view');
	const at = await onScreen(page, 420, 40);
	await page.mouse.move(Math.round(at.x), Math.round(at.y));
	await page.mouse.wheel(0, -600);
	const after = await onScreen(page, 420, 40);
	// The pointer stands on whole pixels.
	expect(Math.hypot(after.x - at.x, after.y - at.y)).toBeLessThan(2);
	await page.mouse.down({ button: 'middle' });
	await page.mouse.move(Math.round(at.x) - 100, Math.round(at.y) + 50, { steps: 3 });
	await page.mouse.up({ button: 'middle' });
	const panned = await onScreen(page, 420, 40);
	expect([panned.x, panned.y]).toEqual([expect.closeTo(after.x - 100, 3), expect.closeTo(after.y + 50, 3)]);
	await page.keyboard.press('f');
	expect(await drawing.getAttribute('data-view')).toBe(fitted);
});

test('the histogram lights elements, and the worst are walked to', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	await page.getByRole('combobox', { name: 'Quality measure' }).selectOption('Minimum angle');
	const histogram = page.getByRole('application', { name: /Histogram of Minimum angle/ });
	const box = (await histogram.boundingBox())!;
	await page.mouse.move(box.x + 4, box.y + 20);
	await page.mouse.down();
	await page.mouse.move(box.x + box.width / 2, box.y + 20, { steps: 4 });
	await page.mouse.up();
	const brushed = page.locator('[data-count="brushed"]');
	expect(Number((await brushed.innerText()).replace(',', ''))).toBeGreaterThan(10);
	await page.getByRole('button', { name: /^worst/ }).click();
	await expect(page.getByRole('status').filter({ hasText: /Element \d+: minimum angle/ })).toBeVisible();
});

test('finds commands by their words, and shows the keys', async ({ page }) => {
	await openDemo(page, 'venturi');
	await page.keyboard.press('Control+k');
	await page.keyboard.type('recipe text');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('textbox', { name: 'Recipe text' })).toBeVisible();
	await page.getByRole('tab', { name: 'Divide' }).click();
	await page.keyboard.press('?');
	await expect(page.getByRole('dialog').getByText('walk to the worst elements')).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(page.getByRole('dialog')).toBeHidden();
});

test('what is moved takes its region along; a number typed after a typed place is taken', async ({ page }) => {
	await openRecipe(page, 'recipe 1\nrectangle b = (0, 0) to (4, 3)\nregion p at (1, 1)\nfill p triangles\nsize 0.5\n');
	await station(page, 'Shape');
	const drawing = page.getByRole('application', { name: 'Drawing' });
	const typed = page.getByRole('form', { name: 'Typed coordinates' });
	const type = async (...values: string[]) => {
		for (const [k, value] of values.entries()) {
			if (k > 0) await page.keyboard.press('Tab');
			await page.keyboard.type(value);
		}
		await page.keyboard.press('Enter');
	};
	await drawing.focus();
	await page.keyboard.press('Control+a');
	await page.getByRole('button', { name: 'Move', exact: true }).click();
	await drawing.focus();
	await type('0', '0');
	await expect(typed).toBeHidden();
	await drawing.focus();
	await type('0', '=10 + 10');
	await settled(page);
	expect(await recipeText(page)).toContain('region p at (1, 21)');
	expect(Number(await count(page, 'triangles').textContent())).toBeGreaterThan(50);

	await drawing.focus();
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+a');
	await page.getByRole('button', { name: 'Scale', exact: true }).click();
	await drawing.focus();
	await type('0', '0');
	await expect(typed.getByLabel('factor')).toBeFocused();
	await page.keyboard.type('2');
	await page.keyboard.press('Enter');
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('scale b by 2 about (0, 0)');
	expect(text).toContain('region p at (2, 42)');
});

test('copies come with regions, fills and labels, or without where that is chosen', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\nrectangle b = (0, 0) to (4, 3)\nregion p at (1, 1)\nfill p triangles\nsize 0.5\ngroup wall = b as wall\n'
	);
	await station(page, 'Shape');
	const drawing = page.getByRole('application', { name: 'Drawing' });
	await drawing.focus();
	await page.keyboard.press('Control+a');
	await page.getByRole('button', { name: 'Repeat', exact: true }).click();
	await expect(page.getByText('with regions, fills, layers and labels')).toBeVisible();
	await drawing.focus();
	for (const [x, y] of [
		['0', '0'],
		['0', '10']
	] as const) {
		await page.keyboard.type(x);
		await page.keyboard.press('Tab');
		await page.keyboard.type(y);
		await page.keyboard.press('Enter');
		await drawing.focus();
	}
	const count3 = page.getByRole('form', { name: 'Typed coordinates' }).getByLabel('count');
	await count3.fill('3');
	await count3.press('Enter');
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('fill p, p_2, p_3 triangles');
	expect(text).toMatch(/group wall = b, row1 as wall/);
});
