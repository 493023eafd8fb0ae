import { expect, test, type Page } from '@playwright/test';
import { count, newProject, openDemo, openRecipe, settled, station } from './desk.ts';

const triangles = async (page: Page) => Number((await count(page, 'triangles').innerText()).replaceAll(',', ''));

/** Does something in every frame for a while, and returns how long a frame took: the median, in milliseconds. */
async function pace(page: Page, deed: 'wheel' | 'brush'): Promise<number> {
	return page.evaluate(async (deed) => {
		const frames = 40;
		const drawing = document.querySelector('[aria-label="Drawing"] canvas:last-of-type')!;
		const histogram = document.querySelector('.histogram svg')!;
		const middle = (element: Element, along: number) => {
			const box = element.getBoundingClientRect();
			return { clientX: box.x + along * box.width, clientY: box.y + box.height / 2, bubbles: true, cancelable: true };
		};
		const times: number[] = [];
		let last = 0;
		for (let k = 0; k <= frames; k++) {
			const now = await new Promise<number>(requestAnimationFrame);
			if (k > 0) times.push(now - last);
			last = now;
			if (deed === 'wheel')
				drawing.dispatchEvent(
					new WheelEvent('wheel', { ...middle(drawing, 0.5 + 0.002 * k), deltaY: k < frames / 2 ? -40 : 40 })
				);
			else
				histogram.dispatchEvent(
					new PointerEvent(k === 0 ? 'pointerdown' : 'pointermove', { ...middle(histogram, 0.4 + 0.01 * k), pointerId: 1 })
				);
		}
		if (deed === 'brush') histogram.dispatchEvent(new PointerEvent('pointerup', { ...middle(histogram, 0.8), pointerId: 1 }));
		return times.sort((a, b) => a - b)[frames / 2]!;
	}, deed);
}

test('a million elements pan and zoom at the pace of an empty drawing, and are brushed without a pause', async ({ page }) => {
	await newProject(page);
	const empty = await pace(page, 'wheel');
	await openRecipe(
		page,
		'recipe 1\nunits mm\nrectangle b = (0, 0) to (100, 60)\ncircle c = around (30, 30) radius 8\nregion r at (1, 1)\nsize 0.115\nfill r triangles\n'
	);
	expect(await triangles(page)).toBeGreaterThan(1_000_000);
	// A page may take the pointer for a synthetic press only where it is its own.
	await page.evaluate(() => (Element.prototype.setPointerCapture = () => {}));
	const full = await pace(page, 'wheel');
	const brushed = await pace(page, 'brush');
	const report = `frames at a million elements against an empty drawing: ${(full / empty).toFixed(2)}; while brushing: ${(brushed / empty).toFixed(2)}`;
	test.info().annotations.push({ type: 'pace', description: report });
	console.log(report);
	expect(full / empty).toBeLessThan(4);
	expect(brushed / empty).toBeLessThan(4);
	await expect(page.locator('[data-count="brushed"]')).not.toHaveText('0');
	// Nobody else need draw its picture.
	await page.request.delete(`/api${new URL(page.url()).pathname}`);
});

test('thirty thousand elements follow a slider while it is dragged', async ({ page }) => {
	await openDemo(page, 'cold-plate');
	expect(await triangles(page)).toBeGreaterThan(28_000);
	await station(page, 'Shape');
	const seen = await page.evaluate(async () => {
		const slider = document.querySelector<HTMLInputElement>('input[aria-label^="r, from"]')!;
		const gauge = document.querySelector('[data-count="triangles"]')!;
		const seen = new Set<string>();
		// Dragged on and on, a step in every frame, without ever resting.
		for (let k = 0; k < 120; k++) {
			await new Promise(requestAnimationFrame);
			slider.valueAsNumber = 4.5 - 0.04 * (k % 50);
			slider.dispatchEvent(new Event('input', { bubbles: true }));
			seen.add(gauge.textContent!);
		}
		slider.dispatchEvent(new Event('change', { bubbles: true }));
		return seen.size;
	});
	// Other meshes were seen on the way, not only the last one.
	expect(seen).toBeGreaterThan(3);
	await settled(page);
});
