import { expect, test, type Page } from '@playwright/test';
import { clickAt, count, newProject, recipeText, settled, station } from './desk.ts';

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
	expect(text).toMatch(/mirror mirror1 = .*fillet1.* across x/);
	expect(text.match(/^cut /gm)).toHaveLength(3);
	expect(text).toMatch(/cut cut3 = line4 at 0\.\d+ to mirror1\.line4/);
	expect(text).toContain('arc arc1 = p3 to p4 radius 10 clockwise');
	// Four blocks, each closed: each takes a fill of its own.
	await station(page, 'Fill');
	await expect(page.locator('.offer')).toHaveCount(4);
	await page.getByRole('button', { name: 'Triangles' }).first().click();
	await settled(page);
	await expect(page.locator('.offer')).toHaveCount(3);
	expect(Number((await count(page, 'triangles').innerText()).replace(',', ''))).toBeGreaterThan(50);
});
