import { expect, test, type Page } from '@playwright/test';
import { count, newProject, openDemo, recipeText, saved, settled, station } from './desk.ts';
import { OwnServer } from './own-server.ts';

/** Drops a file on the drawing, as from a file manager. */
async function dropFile(page: Page, name: string, content: string | number[] | { size: number }): Promise<void> {
	const data = await page.evaluateHandle(
		([fileName, value]) => {
			const transfer = new DataTransfer();
			const part =
				typeof value === 'string'
					? value
					: Array.isArray(value)
						? Uint8Array.from(value)
						: new Uint8Array((value as { size: number }).size).fill(49);
			transfer.items.add(new File([part], fileName as string));
			return transfer;
		},
		[name, content] as const
	);
	await page.getByRole('application', { name: 'Drawing' }).dispatchEvent('drop', { dataTransfer: data });
}

test('a dropped coordinate file is shown first and becomes a curve', async ({ page }) => {
	await newProject(page);
	await dropFile(page, 'profile.dat', 'x y\n0 0\n10 3,5\n'.replace(',', '.') + '20 4\n30 2\n\n0 -1\n30 -1\n');
	await expect(page.getByRole('dialog', { name: 'File to import' })).toContainText('6 points in 2 outlines');
	await page.getByRole('button', { name: 'Smooth spline' }).click();
	// The card goes when the file is stored and its curves are in the recipe.
	await expect(page.getByRole('dialog', { name: 'File to import' })).toBeHidden();
	await settled(page);
	expect(await recipeText(page)).toContain('spline outline_2 = from "profile.dat" outline 2');
	await saved(page);
	await page.reload();
	await settled(page);
	await expect(page.getByRole('button', { name: 'outline_1', exact: true })).toBeVisible();
});

test('files that hold no coordinates get a sentence, and the project stays as it was', async ({ page }) => {
	await newProject(page);
	for (const [name, content, sentence] of [
		['empty.csv', '', 'the file is empty'],
		['picture.png', [137, 80, 78, 71, 0, 0, 1], 'this is no text file'],
		['column.csv', '1\n2\n3\n', 'line 1: found only “1”, and a row needs two numbers, x and y'],
		['nan.csv', '0,0\nnan,1\n', 'line 2: “nan” is no finite number'],
		['huge.csv', { size: 50_000_000 }, 'the file has 50 MB, above the limit of 20 MB']
	] as [string, string | number[] | { size: number }, string][]) {
		await dropFile(page, name, content);
		await expect(page.getByRole('alert')).toContainText(`${name}: ${sentence}`);
		await page.getByRole('button', { name: 'Close' }).click();
	}
	expect(await saved(page)).toBe(1);
});

test('a recipe with mistakes shows them in place, and everything sound stays', async ({ page }) => {
	await openDemo(page, 'venturi');
	const quads = await count(page, 'quads').innerText();
	await page.getByRole('tab', { name: 'Recipe' }).click();
	const editor = page.getByRole('textbox', { name: 'Recipe text' });
	await editor.click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type(
		'\nlet a1 = b1\nlet b1 = a1\nfrobnicate\nline z = a to nowhere\nregion leak bounded by inlet, pipe_in\n'
	);
	await settled(page);
	await expect(count(page, 'quads')).toHaveText(quads);
	await page.getByRole('button', { name: /finding/ }).click();
	const list = page.getByRole('dialog');
	await expect(list).toContainText('“a1” and “b1” are each defined by the other');
	await expect(list).toContainText('“frobnicate” starts no statement');
	await expect(list).toContainText('nothing is named “nowhere”');
	await expect(list).toContainText('inlet, pipe_in do not close around a region; the outline is open at');
	await page.keyboard.press('Escape');
	await saved(page);
	await page.reload();
	await settled(page);
	expect(await recipeText(page)).toContain('frobnicate');
	// Back to where it was, through the history.
	await page.getByRole('button', { name: 'History' }).click();
	await page.getByRole('listitem').filter({ hasNotText: 'now' }).first().getByRole('button', { name: 'Go back to it' }).click();
	await expect(page.getByRole('button', { name: '0 findings' })).toBeVisible();
});

test('while the recipe offers words, Enter ends the line and Tab takes the offer', async ({ page }) => {
	await newProject(page);
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.getByRole('textbox', { name: 'Recipe text' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type('\nlet wide = 40\nlet widest = wide');
	// The word is there in full, and longer ones are on offer.
	const offers = page.getByRole('listbox');
	await expect(offers).toBeVisible();
	await page.keyboard.press('Enter');
	await page.keyboard.type('circ');
	await expect(offers).toContainText('circle');
	// Offers can be taken a moment after they appear, so that none is taken by chance.
	await expect(async () => {
		await page.keyboard.press('Tab');
		await expect(offers).toBeHidden({ timeout: 1000 });
	}).toPass();
	// The offer is a template: Tab goes on to the next thing to fill in.
	await page.keyboard.type('c');
	await page.keyboard.press('Tab');
	await page.keyboard.type('(0, 0)');
	await page.keyboard.press('Tab');
	await page.keyboard.type('7*wide');
	await expect.poll(() => recipeText(page)).toContain('let widest = wide\ncircle c = around (0, 0) radius 7*wide');
});

test('a mend is one edit that can be undone', async ({ page }) => {
	await openDemo(page, 'venturi');
	await page.getByRole('combobox', { name: 'Spacing of outlet toward' }).selectOption('even');
	const outlet = page.getByRole('textbox', { name: 'Divisions of outlet' });
	await outlet.click();
	await outlet.fill('30');
	await outlet.press('Enter');
	await settled(page);
	await page.getByRole('button', { name: /finding/ }).click();
	const conflict = page.getByRole('listitem').filter({ hasText: 'opposite sides of the structured region' }).first();
	await expect(conflict).toContainText('they must be equal');
	await conflict.getByRole('button', { name: /Make it outlet into 24/ }).click();
	await expect(page.getByRole('button', { name: '0 findings' })).toBeVisible();
	await page.keyboard.press('Escape');
	for (let k = 0; k < 3; k++) {
		await saved(page);
		await page.getByRole('button', { name: 'Undo' }).click();
	}
	await settled(page);
	await expect(page.getByRole('button', { name: '0 findings' })).toBeVisible();
});

test('a long fill shows its progress, can be stopped, and can be started again', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	await station(page, 'Fill');
	const size = page.getByRole('textbox', { name: 'Size in coolant' });
	await size.click();
	await size.fill('0.07');
	await size.press('Enter');
	await page.getByRole('alertdialog', { name: 'Many elements' }).getByRole('button', { name: 'Fill them' }).click();
	await page.getByRole('button', { name: 'Stop' }).click();
	await expect(page.getByText('Stopped: there is no mesh of this recipe.')).toBeVisible();
	await expect(page.getByRole('region', { name: 'Gauge' })).toContainText('stopped');
	await size.click();
	await size.fill('2.5');
	await size.press('Enter');
	await settled(page);
	await expect(page.getByText('Stopped:')).toBeHidden();
	await saved(page);
});

test('sizes that cannot be are refused with a sentence', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	await station(page, 'Fill');
	const size = page.getByRole('textbox', { name: 'Size in coolant' });
	for (const [value, sentence] of [
		['0', 'An element size is above zero, found 0'],
		['-2', 'An element size is above zero, found -2']
	] as const) {
		await size.fill(value);
		await size.press('Enter');
		await expect(page.getByRole('alert')).toContainText(sentence);
		await size.press('Escape');
	}
	for (const [value, sentence] of [['0.0001', 'above the limit of']] as const) {
		await size.click();
		await size.fill(value);
		await size.press('Enter');
		await settled(page);
		await page.getByRole('button', { name: /finding/ }).click();
		await expect(page.getByRole('dialog')).toContainText(sentence);
		await page.keyboard.press('Escape');
		await saved(page);
		await page.getByRole('button', { name: 'Undo' }).click();
		await settled(page);
	}
});

test.describe('a server that is killed', () => {
	const server = new OwnServer(4791);
	test.afterAll(() => server.kill());

	test('has every acknowledged edit after its restart, and the page goes on', async ({ page }) => {
		await server.start();
		await page.goto(`${server.base}/`);
		await page.getByRole('link', { name: 'Venturi tube' }).click();
		await settled(page);
		const throat = page.getByRole('textbox', { name: 'Divisions of throat' });
		const set = async (value: number) => {
			await throat.click();
			await throat.fill(String(value));
			await throat.press('Enter');
		};
		for (let n = 50; n < 56; n++) await set(n);
		const acknowledged = await saved(page);
		expect(acknowledged).toBe(7);
		server.kill();
		// Edits made meanwhile are kept here and sent when the server is back.
		await set(60);
		await expect(page.getByText('No server; kept here')).toBeVisible();
		await set(61);
		await server.start();
		await expect.poll(() => saved(page), { timeout: 30_000 }).toBe(9);
		const id = page.url().split('/').pop()!;
		const project = (await (await fetch(`${server.base}/api/projects/${id}`)).json()) as {
			text: string;
			revision: number;
		};
		expect(project.text).toContain('divide throat into 61');
		const history = (await (await fetch(`${server.base}/api/projects/${id}/revisions`)).json()) as { label: string }[];
		expect(history.map((r) => r.label).reverse()).toEqual([
			'Demo project',
			...[50, 51, 52, 53, 54, 55, 60, 61].map((n) => `Divide throat into ${n}`)
		]);
	});
});
