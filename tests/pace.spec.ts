import { expect, test, type Page } from '@playwright/test';
import { count, openDemo, openRecipe, settled, station } from './desk.ts';

const triangles = async (page: Page) => Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));

/** Calls to the card and bytes handed to it since it was last asked. */
interface Work {
	draws: number;
	/** Vertices of the largest draw, and of all. */
	vertices: number;
	allVertices: number;
	bytes: number;
}

/** Counts what a page asks of its card. */
async function watchCard(page: Page): Promise<() => Promise<Work>> {
	await page.addInitScript(() => {
		const work = { draws: 0, vertices: 0, allVertices: 0, bytes: 0 };
		Object.assign(window, { cardWork: work });
		const { prototype } = WebGL2RenderingContext;
		const watch = (name: 'drawArrays' | 'drawElements', vertices: number) => {
			const method = prototype[name] as (...list: number[]) => void;
			Object.assign(prototype, {
				[name](this: WebGL2RenderingContext, ...list: number[]) {
					work.draws++;
					work.vertices = Math.max(work.vertices, list[vertices]!);
					work.allVertices += list[vertices]!;
					return method.apply(this, list);
				}
			});
		};
		watch('drawArrays', 2);
		watch('drawElements', 1);
		for (const name of ['texImage2D', 'texSubImage2D', 'bufferData', 'bufferSubData'] as const) {
			const method = prototype[name] as (...list: unknown[]) => void;
			Object.assign(prototype, {
				[name](this: WebGL2RenderingContext, ...list: unknown[]) {
					const data = list.find((item) => ArrayBuffer.isView(item)) as Uint8Array | undefined;
					work.bytes += data?.byteLength ?? 0;
					return method.apply(this, list);
				}
			});
		}
	});
	return () =>
		page.evaluate(() => {
			const { cardWork } = window as unknown as { cardWork: Work };
			const seen = { ...cardWork };
			Object.assign(cardWork, { draws: 0, vertices: 0, allVertices: 0, bytes: 0 });
			return seen;
		});
}

test('a million elements are one draw call, and neither moving nor brushing hands them over again', async ({ page }) => {
	const work = await watchCard(page);
	await openRecipe(
		page,
		'recipe 1\nunits mm\nrectangle b = (0, 0) to (100, 60)\ncircle c = around (30, 30) radius 8\nregion r at (1, 1)\nsize 0.115\nfill r triangles\n'
	);
	const elements = await triangles(page);
	expect(elements).toBeGreaterThan(1_000_000);
	// One call draws them all, sooner or later.
	await expect.poll(async () => (await work()).vertices, { timeout: 60_000 }).toBeGreaterThanOrEqual(3 * elements);
	// Moving: pictures of the mesh, but not its elements anew.
	const drawing = (await page.getByRole('application', { name: 'Drawing' }).boundingBox())!;
	await page.mouse.move(drawing.x + drawing.width / 2, drawing.y + drawing.height / 2);
	for (let k = 0; k < 8; k++) await page.mouse.wheel(0, k < 4 ? -60 : 60);
	await page.waitForTimeout(1000);
	const moved = await work();
	expect(moved.draws).toBeGreaterThan(0);
	expect(moved.bytes).toBeLessThan(elements);
	// Brushing: the range alone changes.
	const histogram = (await page.locator('.histogram svg').boundingBox())!;
	await page.mouse.move(histogram.x + 0.4 * histogram.width, histogram.y + 20);
	await page.mouse.down();
	await page.mouse.move(histogram.x + 0.9 * histogram.width, histogram.y + 20, { steps: 5 });
	await page.mouse.up();
	await expect(page.locator('[data-count="brushed"]')).not.toHaveText('0');
	const brushed = await work();
	expect(brushed.bytes).toBeLessThan(elements);
	// Nobody else need draw its picture.
	await page.request.delete(`/api${new URL(page.url()).pathname}`);
});

test('a large mesh fades without being drawn again, and a new one is drawn once', async ({ page }) => {
	const work = await watchCard(page);
	await openRecipe(
		page,
		'recipe 1\nunits mm\nrectangle b = (0, 0) to (100, 60)\nregion r at (1, 1)\nsize 0.2\nfill r triangles\ncircle c = around (30, 30) radius 8'
	);
	const elements = await triangles(page);
	expect(elements).toBeGreaterThan(300_000);
	const canvas = page.locator('canvas[data-layer="mesh"]');
	const fadesTo = (opacity: string) => expect(canvas).toHaveCSS('opacity', opacity);
	await station(page, 'Fill');
	await fadesTo('1');
	await expect.poll(async () => (await work()).vertices, { timeout: 60_000 }).toBe(3 * elements);
	await page.waitForTimeout(2000);
	await work();
	await station(page, 'Label');
	await fadesTo('0.5');
	await station(page, 'Shape');
	await fadesTo('0.35');
	await station(page, 'Fill');
	await fadesTo('1');
	await page.waitForTimeout(2000);
	expect((await work()).allVertices).toBeLessThan(elements);
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.getByRole('textbox', { name: 'Recipe text' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type('1');
	await expect.poll(() => triangles(page), { timeout: 60_000 }).not.toBe(elements);
	await settled(page);
	await page.waitForTimeout(2000);
	const again = (await work()).allVertices / (3 * (await triangles(page)));
	expect(again).toBeGreaterThanOrEqual(1);
	expect(again).toBeLessThan(1.5);
	await page.request.delete(`/api${new URL(page.url()).pathname}`);
});

test('thirty thousand elements follow a slider to where it is let go', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	const before = await triangles(page);
	expect(before).toBeGreaterThan(28_000);
	await station(page, 'Shape');
	const slider = page.getByRole('slider', { name: /^r, from/ });
	const value = async () => Number(await slider.getAttribute('aria-valuenow'));
	const at = (await slider.boundingBox())!;
	const [x, y] = [at.x + at.width / 2, at.y + at.height / 2];
	await page.mouse.move(x, y);
	await page.mouse.down();
	// Dragged to and fro, on and on, without ever resting.
	for (let k = 0; k < 60; k++) await page.mouse.move(x - (k % 50) * 0.8, y);
	await page.mouse.up();
	// The page follows the hand when it gets to it.
	await expect.poll(value).toBeLessThan(4.5);
	await settled(page);
	await expect.poll(() => triangles(page)).not.toBe(before);
});
