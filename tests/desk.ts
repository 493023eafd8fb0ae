import { readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';

/** Opens a fresh copy of a demo project and waits for its mesh. */
export async function openDemo(page: Page, name: 'venturi' | 'cold-plate' | 'relief-valve' | 'splitter-elbow'): Promise<void> {
	const stored = await (await page.request.post('/api/files', { data: readFileSync('demo/throat-wall.csv') })).json();
	const data = { text: readFileSync(`demo/${name}.tessellon`, 'utf8'), files: { 'throat-wall.csv': stored.hash } };
	await openRecipe(page, data.text, data.files);
}

/** Opens a project of its own with a recipe, and waits for its mesh. */
export async function openRecipe(page: Page, text: string, files: Record<string, string> = {}): Promise<void> {
	const project = await (await page.request.post('/api/projects', { data: { text, files } })).json();
	await page.goto(`/projects/${project.id}`);
	await settled(page);
}

/** Makes a new project and waits for its empty desk. */
export async function newProject(page: Page): Promise<void> {
	await page.goto('/');
	await page.getByRole('button', { name: 'New project' }).click();
	await settled(page);
}

/** Waits until the picture shows the present recipe. */
export async function settled(page: Page): Promise<void> {
	await expect(page.locator('[aria-label="Drawing"][data-current="true"]')).toBeVisible();
}

/** Waits until the server has every change. */
export async function saved(page: Page): Promise<number> {
	const status = page.locator('[data-saved]');
	await expect(status).toHaveAttribute('data-saved', 'true');
	return Number(await status.getAttribute('data-revision'));
}

/** A count of the gauge. */
export const count = (page: Page, what: 'nodes' | 'quads' | 'triangles') => page.locator(`[data-count="${what}"]`);

/** Where a point of the plane is on the screen. */
export async function onScreen(page: Page, x: number, y: number): Promise<{ x: number; y: number }> {
	const drawing = page.getByRole('application', { name: 'Drawing' });
	const [cx, cy, scale, width, height] = (await drawing.getAttribute('data-view'))!.split(',').map(Number) as [
		number,
		number,
		number,
		number,
		number
	];
	const box = (await drawing.boundingBox())!;
	return { x: box.x + width / 2 + (x - cx) * scale, y: box.y + height / 2 - (y - cy) * scale };
}

export async function clickAt(page: Page, x: number, y: number, modifiers: ('Shift' | 'Control')[] = []): Promise<void> {
	const at = await onScreen(page, x, y);
	for (const key of modifiers) await page.keyboard.down(key);
	await page.mouse.move(at.x, at.y);
	await page.mouse.click(at.x, at.y);
	for (const key of modifiers) await page.keyboard.up(key);
}

/** Goes to a station by its key. */
export async function station(page: Page, name: 'Shape' | 'Divide' | 'Fill' | 'Label' | 'Deliver'): Promise<void> {
	await page.getByRole('navigation', { name: 'Stations' }).getByRole('button', { name }).click();
}

/** The recipe as the server has it. */
export async function recipeText(page: Page): Promise<string> {
	await saved(page);
	const id = page.url().split('/').pop()!;
	return (await (await page.request.get(`/api/projects/${id}`)).json()).text;
}

/** Types the two corners of a rectangle into the card of its tool. */
export async function typeRectangle(page: Page, from: [string, string], to: [string, string]): Promise<void> {
	for (const [x, y] of [from, to]) {
		await page.keyboard.type(x);
		await page.keyboard.press('Tab');
		await page.keyboard.type(y);
		await page.keyboard.press('Enter');
		await expect(page.getByRole('form', { name: 'Typed coordinates' })).toBeHidden();
	}
	await settled(page);
}
