import { expect, test } from '@playwright/test';
import {
	clickAt,
	count,
	newProject,
	onScreen,
	openRecipe,
	openDemo,
	recipeText,
	settled,
	station,
	typeRectangle
} from './desk.ts';

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

	// From 0.5 to 5 there are contours of 1 and 2 at least.
	const drawing = page.getByRole('application', { name: 'Drawing' });
	await expect(drawing).toHaveAttribute('data-contours', '0');
	await page.getByText('show the sizes in the drawing').click();
	await expect.poll(async () => Number(await drawing.getAttribute('data-contours'))).toBeGreaterThanOrEqual(2);
	await page.getByText('show the sizes in the drawing').click();

	// More elements than a limit are made only after a question.
	const limit = page.getByRole('textbox', { name: 'Ask above' });
	await limit.click();
	await limit.fill('1000');
	await limit.press('Enter');
	await settled(page);
	const question = page.getByRole('alertdialog', { name: 'Many elements' });
	await expect(question).toBeHidden();
	const everywhere = page.getByRole('textbox', { name: 'Size everywhere' });
	await everywhere.click();
	await everywhere.fill('2');
	await everywhere.press('Enter');
	await expect(question).toBeVisible();
	await expect.poll(triangles).toBe(0);
	await question.getByRole('button', { name: 'Fill them' }).click();
	await expect(question).toBeHidden();
	await expect.poll(triangles).toBeGreaterThan(1000);
	await page.keyboard.press('Control+z');
	await settled(page);
	await expect.poll(triangles).toBe(fine);

	// A size that cannot be gets a sentence in its cell, and Escape gives it up.
	const cell = page.getByRole('textbox', { name: 'Size inside circle around (50, 25) radius 6' });
	await cell.click();
	await cell.fill('0');
	await cell.press('Enter');
	await expect(page.getByRole('alert')).toContainText('An element size is above zero, found 0');
	await page.keyboard.press('Escape');
	await settled(page);
	await expect.poll(triangles).toBe(fine);

	await page.getByRole('button', { name: 'Remove size inside circle around (50, 25) radius 6' }).click();
	await settled(page);
	await expect.poll(triangles).toBe(coarse);
});

test('the relief valve follows its lift, gap and all', async ({ page }) => {
	await openDemo(page, 'relief-valve');
	await station(page, 'Fill');
	await expect(page.getByRole('table', { name: 'Zones of another size' }).getByRole('row')).toHaveCount(5);
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

test('corners of a structured region are picked in the drawing, and the mesh follows', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\npolyline p = (0, 0) to (40, 0) to (60, 8) to (60, 40) to (30, 46) to (0, 40) closed\nregion r at (5, 5)\nfill r structured smooth 5\nsize 3\n'
	);
	await station(page, 'Fill');
	await page.getByRole('button', { name: 'r', exact: true }).click();
	const quads = async () => Number((await count(page, 'quads').innerText()).replaceAll(',', ''));
	const before = await quads();

	// A corner is dragged to its neighbour; the mesh follows while it is held, and Escape takes it back.
	const [from, to] = [await onScreen(page, 60, 8), await onScreen(page, 40, 0)];
	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(to.x + 12, to.y - 3, { steps: 4 });
	await expect.poll(quads).not.toBe(before);
	await page.keyboard.press('Escape');
	await page.mouse.up();
	await expect.poll(quads).toBe(before);
	expect(await recipeText(page)).toContain('fill r structured smooth 5');

	await page.mouse.move(from.x, from.y);
	await page.mouse.down();
	await page.mouse.move(to.x + 12, to.y - 3, { steps: 4 });
	await page.mouse.up();
	await settled(page);
	await expect.poll(() => recipeText(page)).toContain('fill r structured corners start(p), (40, 0), (60, 40), (0, 40) smooth 5');
	const dragged = await quads();

	// A click makes one more, and takes one away again: one step of undo each.
	await clickAt(page, 30, 46);
	await expect.poll(() => recipeText(page)).toContain('corners start(p), (40, 0), (60, 40), (30, 46), (0, 40) smooth 5');
	await clickAt(page, 60, 40);
	await expect.poll(() => recipeText(page)).toContain('corners start(p), (40, 0), (30, 46), (0, 40) smooth 5');
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	await expect.poll(quads).toBe(dragged);
	await page.keyboard.press('Control+z');
	await expect.poll(quads).toBe(before);
});

/** A result of a run as a VTK XML grid in text: a temperature that rises along a circle. */
function resultOfRun(): string {
	const [nx, ny] = [31, 21];
	const nodes = Array.from({ length: nx * ny }, (_, k) => [2 * Math.floor(k / ny), 2 * (k % ny)] as const);
	const cells = Array.from({ length: (nx - 1) * (ny - 1) }, (_, c) => {
		const a = Math.floor(c / (ny - 1)) * ny + (c % (ny - 1));
		return [a, a + ny, a + ny + 1, a + 1];
	});
	const array = (type: string, name: string, values: readonly (number | string)[], more = '') =>
		`<DataArray type="${type}" Name="${name}" format="ascii"${more}>${values.join(' ')}</DataArray>`;
	const heat = nodes.map(([x, y]) => (300 + 50 * Math.tanh(0.5 * (Math.hypot(x - 30, y - 20) - 12))).toFixed(6));
	return `<?xml version="1.0"?><VTKFile type="UnstructuredGrid" version="1.0" byte_order="LittleEndian"><UnstructuredGrid>
<Piece NumberOfPoints="${nodes.length}" NumberOfCells="${cells.length}">
<PointData>${array('Float64', 'temperature', heat)}</PointData>
<Points>${array(
		'Float64',
		'Points',
		nodes.flatMap(([x, y]) => [x, y, 0]),
		' NumberOfComponents="3"'
	)}</Points>
<Cells>${array('Int32', 'connectivity', cells.flat())}${array(
		'Int32',
		'offsets',
		cells.map((_, k) => 4 * k + 4)
	)}${array(
		'UInt8',
		'types',
		cells.map(() => 9)
	)}</Cells></Piece></UnstructuredGrid></VTKFile>`;
}

test('the result of a run makes the next mesh fine where it curves', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\nrectangle plate = (0, 0) to (60, 40)\nregion r bounded by plate\nsize 6 growth 1.2\nfill r triangles\n'
	);
	const before = Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));
	await page
		.getByLabel('File to import')
		.setInputFiles({ name: 'run.vtu', mimeType: 'text/xml', buffer: Buffer.from(resultOfRun()) });
	const card = page.getByRole('dialog', { name: 'File to import' });
	await expect(card.getByRole('combobox', { name: 'field of the result' })).toHaveValue('temperature');
	await card.getByRole('textbox', { name: /missed by at most/ }).fill('2');
	await card.getByRole('button', { name: 'Sizes from its values' }).click();
	await expect(card).toBeHidden();
	await settled(page);
	expect(await recipeText(page)).toContain('size from "run.vtu" field temperature error 0.02');
	await expect(async () => {
		expect(Number((await count(page, 'triangles').innerText()).replaceAll(',', ''))).toBeGreaterThan(4 * before);
	}).toPass();
	// It is a row among the sizes, checked where it is typed.
	await station(page, 'Fill');
	const where = page.getByRole('table', { name: 'Zones of another size' }).getByRole('textbox');
	await where.fill('from "run.vtu" field temperature error 5');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert').or(page.locator('[aria-invalid="true"]')).first()).toBeVisible();
});

test('a plate with three holes becomes blocks at a choice, and takes a typed count', async ({ page }) => {
	await openRecipe(
		page,
		[
			'recipe 1',
			'title "Plate"',
			'rectangle b = (0, 0) to (60, 30)',
			'circle c = around (12, 15) radius 5',
			'circle d = around (30, 18) radius 4',
			'rectangle e = (42, 8) to (50, 20)',
			'region r at (1, 1)',
			'fill r triangles',
			'size 1.5',
			'group walls = b, c, d, e as wall',
			''
		].join('\n')
	);
	await station(page, 'Fill');
	await page.getByRole('combobox', { name: 'Fill of r' }).selectOption('blocks');
	await settled(page);
	expect(await recipeText(page)).toContain('fill r structured blocks');
	await expect(page.getByText(/^r: \d+ blocks, \d+ lines between them/)).toBeVisible();
	await expect(count(page, 'triangles')).toHaveText('0');
	// A count that is typed on a hole holds, and the blocks follow.
	await station(page, 'Divide');
	const cell = page.getByRole('textbox', { name: 'Divisions of c', exact: true });
	await cell.fill('32');
	await cell.press('Enter');
	await settled(page);
	await expect(cell).toHaveValue('32');
	await station(page, 'Fill');
	await expect(page.getByText(/^r: \d+ blocks/)).toBeVisible();
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	await settled(page);
	expect(await recipeText(page)).toContain('fill r triangles');
});
