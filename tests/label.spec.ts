import { expect, test } from '@playwright/test';
import { clickAt, onScreen, openRecipe, recipeText, settled, station } from './desk.ts';

const duct = `recipe 1
line floor_in = (0, 0) to (40, 0)
line floor_out = (40, 0) to (90, -6)
line outlet = (90, -6) to (90, 34)
line roof = (90, 34) to (0, 40)
line inlet = (0, 40) to (0, 0)
circle pin = around (20, 20) radius 4
line plate = (45, 18) to (70, 18)
region r at (5, 5)
region hole at (20, 20)
size 3
fill r triangles
fill hole none
`;

test('what belongs together is picked at once, and the recipe follows the shape', async ({ page }) => {
	await openRecipe(page, duct);
	await station(page, 'Label');
	const name = page.getByRole('textbox', { name: 'Name of the new group' });
	// A chain goes on while it turns less than the angle, which is adjusted on the spot.
	await clickAt(page, 20, 0);
	await page.getByRole('spinbutton', { name: 'Angle of chains and directions' }).fill('2');
	await page.getByRole('button', { name: 'Chain' }).click();
	await expect(page.locator('form.new')).toContainText('1 piece selected');
	await page.getByRole('spinbutton', { name: 'Angle of chains and directions' }).fill('30');
	await expect(page.locator('form.new')).toContainText('2 pieces selected: floor_in, floor_out');
	await name.fill('floor');
	await name.press('Enter');
	await settled(page);
	// A set is written as its description.
	const sets = page.getByRole('combobox', { name: 'Select a set' });
	await sets.selectOption('holes of r');
	await name.fill('pins');
	await name.press('Enter');
	await settled(page);
	await sets.selectOption('outer facing left within 30 deg');
	await name.fill('inlet');
	await name.press('Enter');
	await settled(page);
	const text = await recipeText(page);
	expect(text).toContain('group floor = floor_in, floor_out as wall');
	expect(text).toContain('group pins = holes of r as wall');
	expect(text).toContain('group inlet = outer facing left within 30 deg as inflow');
	// What is taken out of a description leaves the others.
	await page.getByRole('button', { name: 'Take pin out of pins' }).click();
	await settled(page);
	expect(await recipeText(page)).not.toContain('group pins');
	await page.keyboard.press('Control+z');
	await settled(page);
	await expect.poll(() => recipeText(page)).toContain('group pins = holes of r');
});

test('corners have owners, walls two sides, and nothing is ready while there are label problems', async ({ page }) => {
	await openRecipe(
		page,
		`${duct}group floor = floor_in, floor_out as wall\ngroup inlet = inlet as inflow\ngroup rest = outlet, roof, pin as wall\ngroup vane = plate as wall\n`
	);
	await station(page, 'Label');
	// A group inside is reported, and one press makes it a wall of two sides.
	await expect(page.locator('.label-problems')).toContainText('lies inside a region, so a solver sees no boundary there');
	await page.getByRole('button', { name: 'Make it a two-sided wall' }).click();
	await settled(page);
	expect(await recipeText(page)).toContain('baffle vane = plate as wall');
	await expect(page.locator('.label-problems')).toHaveCount(0);
	// The corner of floor and inlet belongs to the floor, which stands first; a click on its flag gives it away.
	await expect(page.locator('tr.members').nth(1)).toContainText('owned');
	const corner = await onScreen(page, 0, 0);
	await page.mouse.click(corner.x + 4, corner.y - 11);
	await settled(page);
	expect(await recipeText(page)).toContain('owner of (0, 0) = inlet');
	await expect(page.locator('tr.members').nth(0)).toContainText('owned');
	// The order of the table rules where nothing is said.
	await page
		.getByRole('row', { name: /Delete group rest/ })
		.locator('button[data-tip^="Select this group"]')
		.focus();
	await page.keyboard.press('Alt+ArrowUp');
	await settled(page);
	const order = [...(await recipeText(page)).matchAll(/^(?:group|baffle) (\w+)/gm)].map((m) => m[1]);
	expect(order).toEqual(['floor', 'rest', 'inlet', 'vane']);
	// Boundaries by region, and what is lacking, in Deliver too.
	await page.getByText('Boundaries by region').click();
	await expect(page.getByRole('table', { name: 'Boundaries by region' })).toContainText('vane');
	await page.getByRole('button', { name: 'Delete group inlet' }).click();
	await settled(page);
	await station(page, 'Deliver');
	await expect(page.getByText('1 boundary piece in no group')).toBeVisible();
});

test('selected inner pieces become a wall of two sides where they are named', async ({ page }) => {
	await openRecipe(page, duct);
	await station(page, 'Label');
	await clickAt(page, 55, 18);
	await page.getByText('two-sided wall (duplicate nodes)').click();
	const name = page.getByRole('textbox', { name: 'Name of the new group' });
	await name.fill('vane');
	await name.press('Enter');
	await settled(page);
	expect(await recipeText(page)).toContain('baffle vane = plate as wall');
	await expect(page.locator('tr.members').first()).toContainText('both sides');
});

test('a lasso takes what it goes around or across, and a row dragged in the table owns more', async ({ page }) => {
	await openRecipe(page, duct);
	await station(page, 'Label');
	await expect(page.getByText('Regions of no material: 1')).toBeVisible();
	// Around the pin and across the plate, past the walls.
	await page.getByRole('button', { name: 'Lasso' }).click();
	const places: [number, number][] = [
		[13, 13],
		[50, 14],
		[52, 22],
		[20, 27],
		[13, 22]
	];
	const pixels = await Promise.all(places.map(([x, y]) => onScreen(page, x, y)));
	await page.mouse.move(pixels[0]!.x, pixels[0]!.y);
	await page.mouse.down();
	for (const { x, y } of pixels.slice(1)) await page.mouse.move(x, y, { steps: 6 });
	await page.mouse.up();
	await expect(page.locator('form.new')).toContainText('2 pieces selected: pin, plate');
	await expect(page.getByRole('button', { name: 'Lasso' })).toHaveAttribute('aria-pressed', 'false');
	const name = page.getByRole('textbox', { name: 'Name of the new group' });
	for (const [group, piece] of [
		['bodies', undefined],
		['floor', [20, 0]],
		['inlet', [0, 20]]
	] as const) {
		if (piece) await clickAt(page, piece[0], piece[1]);
		await name.fill(group);
		await name.press('Enter');
		await settled(page);
	}
	await page.getByRole('row', { name: /Delete group inlet/ }).dragTo(page.getByRole('row', { name: /Delete group bodies/ }));
	await settled(page);
	const order = [...(await recipeText(page)).matchAll(/^group (\w+)/gm)].map((m) => m[1]);
	expect(order).toEqual(['inlet', 'bodies', 'floor']);
	// A material, from the regions that lack one.
	await page.getByRole('button', { name: 'r', exact: true }).click();
	await name.fill('water');
	await name.press('Enter');
	await settled(page);
	await expect(page.getByText('Every region has a material.')).toBeVisible();
});

test('the name of a group that exists adds to it, and what that takes from another group is said', async ({ page }) => {
	await openRecipe(
		page,
		'recipe 1\nrectangle b = (0, 0) to (4, 3)\nregion p at (1, 1)\nfill p triangles\nsize 0.5\ngroup inlet = b.left as inflow\ngroup wall = b.top as wall\n'
	);
	await station(page, 'Label');
	await clickAt(page, 2, 3);
	await page.getByLabel('Name of the new group').fill('inlet');
	await page.getByRole('button', { name: 'Add to inlet' }).click();
	await expect(page.getByText(/Now in inlet; wall had no other piece and is gone/)).toBeVisible();
	expect(await recipeText(page)).toContain('group inlet = b.left, b.top as inflow');
	await page.getByRole('button', { name: 'Bring it back' }).click();
	await settled(page);
	expect(await recipeText(page)).toContain('group wall = b.top as wall');
});
