import { expect, test, type Page } from '@playwright/test';
import { clickAt, count, newProject, onScreen, recipeText, saved, settled, station } from './desk.ts';

/** Counts what a hand does: a click, a key, or a number typed with its Enter. */
class Hand {
	actions = 0;
	constructor(private readonly page: Page) {}

	async key(key: string): Promise<void> {
		this.actions++;
		await this.page.keyboard.press(key);
		await settled(this.page);
	}

	async click(x: number, y: number): Promise<void> {
		this.actions++;
		await clickAt(this.page, x, y);
		await settled(this.page);
	}

	async type(value: string): Promise<void> {
		this.actions++;
		await expect(
			this.page
				.getByRole('form', { name: 'Typed coordinates' })
				.or(this.page.getByRole('application', { name: 'Drawing' }))
				.first()
		).toBeVisible();
		await this.page.keyboard.type(value);
		await this.page.keyboard.press('Enter');
		await settled(this.page);
	}
}

test('a section with arcs, a fillet, a mirrored half and three cuts is drawn in under 40 actions', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('l');
	for (const [x, y] of [
		[0, 0],
		[0, 30],
		[30, 30]
	] as const)
		await hand.click(x, y);
	await hand.key('a');
	await hand.click(40, 20);
	await hand.type('10');
	await hand.key('l');
	for (const [x, y] of [
		[40, 10],
		[70, 10],
		[70, 5]
	] as const)
		await hand.click(x, y);
	await hand.key('a');
	await hand.click(75, 0);
	await hand.type('5');
	await hand.key('Escape');
	await hand.key('b');
	await hand.click(40, 10);
	await hand.type('4');
	await hand.key('i');
	await hand.key('Enter');
	await hand.click(50, 0);
	await hand.key('f');
	await hand.key('x');
	await hand.click(30, 30);
	await hand.click(30, -30);
	await hand.click(44, 10);
	await hand.click(44, -10);
	await hand.click(60, 10);
	await hand.click(60, -10);
	expect(hand.actions).toBeLessThan(40);

	const text = await recipeText(page);
	expect(text.match(/^line /gm)).toHaveLength(5);
	expect(text.match(/^arc /gm)).toHaveLength(2);
	expect(text).toContain('fillet fillet1 = line3 with line4 near (40, 10) radius 4');
	expect(text).toMatch(/copy mirror1 = .*fillet1.* mirrored across x/);
	expect(text.match(/^cut /gm)).toHaveLength(3);
	expect(text).toMatch(/cut cut3 = line4 at 0\.\d+ to mirror1\.line4/);
	expect(text).toContain('arc arc1 = p3 to p4 radius 10 clockwise');
	// Four blocks, each closed: each takes a fill of its own.
	await station(page, 'Fill');
	const outlines = page.getByRole('group', { name: /^Outline around/ });
	await expect(outlines).toHaveCount(4);
	await outlines.first().getByRole('button', { name: 'Triangles' }).click();
	await settled(page);
	await expect(outlines).toHaveCount(3);
	expect(Number((await count(page, 'triangles').innerText()).replace(',', ''))).toBeGreaterThan(50);
});

/** Makes the recipe of an open project another one, through its recipe face. */
async function write(page: Page, text: string): Promise<void> {
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.locator('.cm-content').fill(text);
	await settled(page);
	await saved(page);
	await page.getByRole('tab', { name: 'Shape' }).click();
	await page.getByRole('button', { name: 'Fit' }).click();
}

async function drop(page: Page, name: string, text: string): Promise<void> {
	await page.getByLabel('File to import').setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(text) });
	await expect(page.getByRole('dialog', { name: 'File to import' })).toBeVisible();
}

test('a point is dragged, one that is a formula is not, and dimensions are typed', async ({ page }) => {
	await newProject(page);
	await write(
		page,
		'recipe 1\nlet w = 40\npoint a = (0, 0)\npoint b = (w, 0)\npoint c = (40, 30)\nline base = a to b\nline side = b to c\nline slope = c to a\ncircle hole = around (28, 10) radius 4\n'
	);
	const drag = async (from: [number, number], to: [number, number]) => {
		const [p, q] = [await onScreen(page, ...from), await onScreen(page, ...to)];
		await page.mouse.move(p.x, p.y);
		await page.mouse.down();
		await page.mouse.move((p.x + q.x) / 2, (p.y + q.y) / 2, { steps: 3 });
		await page.mouse.move(q.x, q.y, { steps: 3 });
		await page.mouse.up();
		await settled(page);
	};
	await drag([40, 30], [30, 20]);
	expect(await recipeText(page)).toContain('point c = (30, 20)');
	await page.getByRole('button', { name: 'Undo' }).click();
	await settled(page);
	expect(await recipeText(page)).toContain('point c = (40, 30)');
	// The formula stays; the other coordinate follows the mouse.
	await drag([40, 0], [35, 5]);
	expect(await recipeText(page)).toContain('point b = (w, 5)');
	await page.getByRole('button', { name: 'Undo' }).click();
	await settled(page);
	// Dimensions stand beside what is selected.
	await clickAt(page, 28, 14);
	const radius = page.getByRole('textbox', { name: 'Radius of hole' });
	await expect(radius).toHaveValue('4');
	await radius.fill('5');
	await radius.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('circle hole = around (28, 10) radius 5');
	await clickAt(page, 40, 15);
	const length = page.getByRole('textbox', { name: 'Length of side' });
	await expect(length).toHaveValue('30');
	await length.fill('25');
	await length.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('point c = (40, 25)');
	// What is wrong with a fillet is said while it is typed.
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('b');
	await clickAt(page, 40, 0);
	await page.keyboard.type('400');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toContainText('a radius of 400 does not fit');
	await page.keyboard.press('Control+a');
	await page.keyboard.type('3');
	await page.keyboard.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('fillet fillet1 = base with side near (40, 0) radius 3');
	// Measuring changes nothing.
	const before = await recipeText(page);
	await page.keyboard.press('m');
	await clickAt(page, 0, 0);
	await clickAt(page, 30, 0);
	await clickAt(page, 30, 20);
	await expect(page.getByRole('status', { name: 'Measured' })).toContainText('area 300');
	await expect(page.getByRole('status', { name: 'Measured' })).toContainText('corner 90°');
	await page.keyboard.press('Escape');
	expect(await recipeText(page)).toBe(before);
});

test('drawings and rows of numbers are shown before they come in, with layers, columns and groups', async ({ page }) => {
	await newProject(page);
	await drop(
		page,
		'bracket.svg',
		'<svg width="80mm" viewBox="0 0 80 40"><g id="shell"><rect width="80" height="40"/></g><g id="pins"><circle cx="20" cy="20" r="6"/><circle cx="60" cy="20" r="6"/></g><text>x</text></svg>'
	);
	const card = page.getByRole('dialog', { name: 'File to import' });
	await expect(card).toContainText('3 curves on 2 layers');
	await expect(card).toContainText('Not read: 1 text');
	await card.getByRole('button', { name: 'Import' }).click();
	await settled(page);
	await expect.poll(() => recipeText(page)).toContain('drawing part1 = from "bracket.svg"');
	const text = await recipeText(page);
	expect(text).toContain('group pins = part1.pins as wall');
	await station(page, 'Fill');
	await expect(page.getByRole('group', { name: /^Outline around/ })).toHaveCount(3);
	// Pasted rows, x and y in the second and third column.
	await station(page, 'Shape');
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.evaluate(() => {
		const data = new DataTransfer();
		data.setData('text/plain', '1\t100\t0\n2\t140\t0\n3\t140\t20\n4\t100\t20\n');
		document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
	});
	await expect(card).toContainText('4 points in 1 outline');
	await card.getByLabel('x from column').selectOption('2');
	await card.getByLabel('y from column').selectOption('3');
	await card.getByRole('button', { name: 'Polyline' }).click();
	await settled(page);
	await expect.poll(() => recipeText(page)).toContain('polyline outline_1 = from "pasted-1.csv" columns 2, 3');
	// The drawing goes out again.
	await station(page, 'Deliver');
	const download = page.waitForEvent('download');
	await page.locator('.format', { hasText: 'DXF' }).getByRole('button', { name: 'Download' }).click();
	expect((await download).suggestedFilename()).toMatch(/\.dxf$/);
});

test('pieces keep their settings when a new curve shifts their count', async ({ page }) => {
	await newProject(page);
	await write(
		page,
		'recipe 1\nrectangle box = (0, 0) to (60, 40)\nline k = (40, 0) to (40, 40)\nregion r bounded by box\nfill r triangles size 5\ndivide box.bottom[2] into 17\n'
	);
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('x');
	await clickAt(page, 20, 0);
	await clickAt(page, 20, 40);
	await settled(page);
	const text = await recipeText(page);
	expect(text).toMatch(/cut cut1 = box\.bottom at 0\.33\d+ to box\.top/);
	expect(text).toContain('divide box.bottom[3] into 17');
	await page.getByRole('button', { name: 'Undo' }).click();
	await settled(page);
	expect(await recipeText(page)).toContain('divide box.bottom[2] into 17');
});

test('an outline of 100 000 points comes in, is shown, and pans', async ({ page }) => {
	await newProject(page);
	const rows = Array.from({ length: 100_000 }, (_, k) => {
		const a = (2 * Math.PI * k) / 100_000;
		const r = 100 + 6 * Math.sin(9 * a) + 0.01 * Math.sin(4000 * a);
		return `${(r * Math.cos(a)).toFixed(6)},${(r * Math.sin(a)).toFixed(6)}`;
	});
	await drop(page, 'survey.csv', rows.join('\n'));
	await page.getByRole('button', { name: 'Polyline' }).click();
	await expect(page.getByRole('row', { name: /^outline_1/ })).toBeVisible();
	await settled(page);
	const view = await page.getByRole('application', { name: 'Drawing' }).getAttribute('data-view');
	const at = await onScreen(page, 0, 0);
	await page.mouse.move(at.x, at.y);
	await page.mouse.down({ button: 'middle' });
	await page.mouse.move(at.x + 120, at.y + 60, { steps: 8 });
	await page.mouse.up({ button: 'middle' });
	await expect(page.getByRole('application', { name: 'Drawing' })).not.toHaveAttribute('data-view', view!);
});

test('a point of an imported outline is dragged, and left out: both stand in the recipe, the file stays', async ({ page }) => {
	const stored = await (await page.request.post('/api/files', { data: Buffer.from('0,0\n20,10\n40,10\n60,0\n') })).json();
	const data = { text: 'recipe 1\npolyline w = from "wall.csv"\n', files: { 'wall.csv': stored.hash } };
	const project = await (await page.request.post('/api/projects', { data })).json();
	await page.goto(`/projects/${project.id}`);
	await settled(page);
	await clickAt(page, 30, 10);
	await expect(page.locator('tr.selected').first()).toBeVisible();
	const [from, to] = [await onScreen(page, 40, 10), await onScreen(page, 40, 20)];
	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(to.x, to.y, { steps: 6 });
	await page.mouse.up();
	await expect.poll(() => recipeText(page)).toMatch(/from "wall.csv" moving 3 to \(/);
	await settled(page);
	const [, x, y] = /moving 3 to \((\S+), (\S+)\)/.exec(await recipeText(page))!;
	expect(Number(x)).toBeCloseTo(40, 0);
	expect(Number(y)).toBeCloseTo(20, 0);
	// A click takes hold of a point alone, and Delete leaves it out; the curve stays.
	const second = await onScreen(page, 20, 10);
	await page.mouse.click(second.x, second.y);
	await page.keyboard.press('Delete');
	await expect.poll(() => recipeText(page)).toContain('without 2');
	expect(await recipeText(page)).toContain('polyline w');
	await settled(page);
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	await expect.poll(() => recipeText(page)).toContain('polyline w = from "wall.csv"\n');
	const { files } = await (await page.request.get(`/api/projects/${project.id}`)).json();
	expect(files).toEqual({ 'wall.csv': stored.hash });
});
