import { AxeBuilder } from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { newProject, openDemo, recipeText, settled, station } from './desk.ts';

/** What the accessibility checker objects to, in a line each. */
async function objections(page: Page, only?: string): Promise<string[]> {
	const checker = new AxeBuilder({ page });
	if (only) checker.withRules([only]);
	else checker.withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'best-practice']);
	const { violations } = await checker.analyze();
	return violations.flatMap(({ id, nodes }) => nodes.map((node) => `${id}: ${node.target.join(' ')} ${node.html.slice(0, 120)}`));
}

// What is built is the same in both themes; colours are not.
for (const [theme, only] of [
	['paper', undefined],
	['slate', 'color-contrast']
] as const)
	test(`every station is accessible on ${theme}`, async ({ page }) => {
		await page.emulateMedia({ reducedMotion: 'reduce' });
		await page.goto('/');
		await page.evaluate((mode) => localStorage.setItem('tessellon-mode', mode), theme);
		expect(await objections(page, only)).toEqual([]);
		await openDemo(page, 'relief-valve');
		await expect(page.locator('html')).toHaveAttribute('data-mode', theme);
		for (const name of ['Shape', 'Divide', 'Fill', 'Label', 'Deliver'] as const) {
			await station(page, name);
			await settled(page);
			expect.soft(await objections(page, only), name).toEqual([]);
		}
		await page.getByRole('tab', { name: 'Recipe' }).click();
		await expect(page.getByRole('textbox', { name: 'Recipe text' })).toBeVisible();
		expect.soft(await objections(page, only), 'Recipe').toEqual([]);
		await page.getByRole('button', { name: /findings?$/ }).click();
		await expect(page.getByRole('dialog')).toBeVisible();
		expect.soft(await objections(page, only), 'Findings').toEqual([]);
		await page.keyboard.press('Escape');
		await page.keyboard.press('Control+k');
		await expect(page.getByRole('dialog')).toBeVisible();
		expect.soft(await objections(page, only), 'Commands').toEqual([]);
	});

test('an empty project is accessible', async ({ page }) => {
	await newProject(page);
	expect(await objections(page)).toEqual([]);
});

test('tabs, tools and the palette go by the keyboard alone', async ({ page }) => {
	await openDemo(page, 'venturi');
	await page.getByRole('tab', { name: 'Divide' }).focus();
	await page.keyboard.press('ArrowRight');
	await expect(page.getByRole('tab', { name: 'Recipe' })).toBeFocused();
	await expect(page.getByRole('tab', { name: 'Recipe' })).toHaveAttribute('aria-selected', 'true');
	await expect(page.getByRole('tabpanel')).toHaveAttribute('aria-labelledby', /.+/);
	await page.keyboard.press('ArrowLeft');
	// A toolbar is one stop of Tab; arrows go through it.
	await station(page, 'Shape');
	const tools = page.getByRole('toolbar', { name: 'Drawing tools' });
	await tools.getByRole('button', { name: 'Select' }).focus();
	await page.keyboard.press('ArrowRight');
	await page.keyboard.press('ArrowRight');
	await expect(tools.getByRole('button', { name: 'Point' })).toBeFocused();
	await page.keyboard.press('Tab');
	await expect(tools.locator(':focus')).toHaveCount(0);
	// The palette says which command is lit, and keeps it in sight.
	await page.keyboard.press('Escape');
	await page.keyboard.press('Control+k');
	const field = page.getByRole('textbox', { name: 'Find a command' }).or(page.getByRole('combobox', { name: 'Find a command' }));
	await expect(field).toBeFocused();
	for (let k = 0; k < 25; k++) await page.keyboard.press('ArrowDown');
	const lit = page.getByRole('option').and(page.locator('[data-highlighted]'));
	await expect(lit).toBeInViewport();
	await expect(field).toHaveAttribute('aria-activedescendant', (await lit.getAttribute('id'))!);
});

test('what a button does is told on a rest of the pointer and on the focus of the keyboard, and read out with it', async ({
	page
}) => {
	await openDemo(page, 'venturi');
	const tip = page.getByRole('tooltip');
	await page.getByRole('button', { name: 'Commands' }).hover();
	await expect(tip).toHaveText('Find a command (Ctrl+K)');
	await expect(page.getByRole('button', { name: 'Commands' })).toHaveAccessibleDescription('Find a command (Ctrl+K)');
	await page.mouse.move(600, 400);
	await expect(tip).toBeHidden();
	await page.keyboard.press('Tab');
	await page.getByRole('button', { name: 'Commands' }).focus();
	await expect(tip).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(tip).toBeHidden();
	await expect(page.getByRole('button', { name: 'Commands' })).not.toHaveAttribute('aria-describedby');
});

test('what goes with a deletion is told beside the work, and is brought back from there', async ({ page }) => {
	await openDemo(page, 'venturi');
	const before = await recipeText(page);
	await station(page, 'Shape');
	await page.locator('[data-thing^="piece"]').first().click();
	await page.getByRole('application', { name: 'Drawing' }).focus();
	await page.keyboard.press('Delete');
	const found = page.locator('.toast', { hasText: /Deleted .*and with it/ });
	await expect(found).toBeVisible();
	expect(await recipeText(page)).not.toBe(before);
	await found.getByRole('button', { name: 'Bring it back' }).click();
	await settled(page);
	await expect(async () => expect(await recipeText(page)).toBe(before)).toPass();
});
