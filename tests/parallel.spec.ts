import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '@playwright/test';
import { count, openRecipe, recipeText, settled, station } from './desk.ts';

/** Two regions that take long enough to be filled in two threads, and a third that does not. */
const recipe = (size: number) => `recipe 1
rectangle a = (0, 0) to (50, 50)
rectangle b = (60, 0) to (110, 50)
rectangle c = (120, 0) to (125, 5)
region r at (1, 1)
region q at (61, 1)
region s at (121, 1)
size 1 growth 1.05
size ${size} near a.left, b.left
fill r triangles
fill q triangles
fill s quads`;

/** The figures that the command has of a recipe. */
function commanded(text: string): { nodes: number; triangles: number } {
	const path = join(mkdtempSync(join(tmpdir(), 'tessellon-')), 'two.tessellon');
	writeFileSync(path, text);
	return JSON.parse(execFileSync('node', ['bin/tessellon.js', 'check', path, '--json'], { encoding: 'utf8' }));
}

test('regions that are filled in two threads give the mesh of the command, run after run', async ({ page, browser }) => {
	const figure = async (what: 'nodes' | 'triangles') => Number((await count(page, what).innerText()).replaceAll(',', ''));
	const cdp = await browser.newBrowserCDPSession();
	const threads = async () =>
		(await cdp.send('Target.getTargets', { filter: [{ type: 'worker' }] })).targetInfos.filter(({ url }) =>
			url.includes('mesh.worker')
		).length;
	await openRecipe(page, recipe(0.0075));
	await settled(page);
	const one = commanded(recipe(0.0075));
	expect([await figure('nodes'), await figure('triangles')]).toEqual([one.nodes, one.triangles]);
	if (availableParallelism() > 1) expect(await threads()).toBeGreaterThan(1);

	// The other threads are there, and keep what they know.
	await station(page, 'Fill');
	const size = page.getByRole('textbox', { name: 'Size everywhere' });
	await size.click();
	await size.fill('1.1');
	await size.press('Enter');
	await settled(page);
	const other = commanded(await recipeText(page));
	expect(other.triangles).not.toBe(one.triangles);
	await expect.poll(async () => [await figure('nodes'), await figure('triangles')]).toEqual([other.nodes, other.triangles]);
});
