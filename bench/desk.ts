import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { chromium, type Page } from '@playwright/test';
import { build, stop } from 'esbuild';

const port = 4791;
const origin = `http://127.0.0.1:${port}`;
const frame = 1000 / 60;

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** A recipe of about 400 statements: a plate with 12 × 12 holes, each with a division and a place in a group. */
function longRecipe(): string {
	const lines = ['recipe 1', 'units mm', 'rectangle plate = (0, 0) to (130, 130)', 'region r bounded by plate'];
	const holes: string[] = [];
	for (let i = 0; i < 12; i++)
		for (let j = 0; j < 12; j++) {
			const name = `h${i}_${j}`;
			holes.push(name);
			lines.splice(3 + holes.length - 1, 0, `circle ${name} = around (${10 * i + 10}, ${10 * j + 10}) radius 2`);
		}
	for (const name of holes) lines.push(`divide ${name} into 16`);
	lines.push('fill r triangles size 2', 'size 2 growth 1.2');
	for (let k = 0; k < 104; k++) lines.push(`group g${k} = ${holes[k]} as wall`);
	return `${lines.join('\n')}\nlet tail = 1\n`;
}

/** From each key to the picture that shows it, in milliseconds. */
async function keys(page: Page, count: number): Promise<number> {
	await page.evaluate(() => {
		const times: number[] = [];
		Object.assign(window, { keyTimes: times });
		addEventListener(
			'keydown',
			({ timeStamp }) =>
				requestAnimationFrame(() => {
					const { port1, port2 } = new MessageChannel();
					port1.onmessage = () => times.push(performance.now() - timeStamp);
					port2.postMessage(null);
				}),
			true
		);
	});
	for (let k = 0; k < count; k++) {
		await page.keyboard.press(String(k % 10));
		await page.waitForTimeout(120);
	}
	return median(await page.evaluate(() => (window as unknown as { keyTimes: number[] }).keyTimes));
}

async function openRecipe(page: Page, text: string): Promise<void> {
	const project = await (await page.request.post(`${origin}/api/projects`, { data: { text, files: {} } })).json();
	await page.goto(`${origin}/projects/${project.id}`);
	await settled(page);
}
const settled = (page: Page) => page.locator('[aria-label="Drawing"][data-current="true"]').waitFor({ timeout: 120_000 });

/** Keys in the recipe of the desk against keys in a bare editor with the same text. */
async function typing(page: Page, bare: Page): Promise<string> {
	const text = longRecipe();
	await bare.bringToFront();
	const script = await build({ entryPoints: ['bench/bare-editor.ts'], bundle: true, write: false, format: 'iife' });
	await bare.setContent('<body></body>');
	await bare.addScriptTag({ content: script.outputFiles[0]!.text });
	await bare.evaluate((doc) => window.bareEditor(doc), text);
	await bare.locator('.cm-content').click();
	await bare.keyboard.press('Control+End');
	await bare.keyboard.press('ArrowLeft');
	await page.bringToFront();
	await openRecipe(page, text);
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.getByRole('textbox', { name: 'Recipe text' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.press('ArrowLeft');
	await page.waitForTimeout(1000);
	await bare.bringToFront();
	const least = await keys(bare, 40);
	// Frames come only to the tab in front.
	await page.bringToFront();
	const measured = await keys(page, 40);
	return row('a key in a recipe of 400 statements, painted', 'the bare editor with the same text', measured / least, '≤ 1.5');
}

/** From an edit to its picture against what the core takes for it, and one frame. */
async function following(page: Page): Promise<string> {
	await page.bringToFront();
	await openRecipe(page, readFileSync('demo/splitter-elbow.tessellon', 'utf8'));
	await page.getByRole('tab', { name: 'Recipe' }).click();
	await page.getByRole('textbox', { name: 'Recipe text' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type('size 1 growth 1.2');
	const ratios: number[] = [];
	for (let k = 0; k < 15; k++) {
		await page.waitForTimeout(900);
		// First the watch and then the key: they go to the page by different ways.
		await page.evaluate(() => {
			const gauge = document.querySelector('[aria-label="Gauge"]')!;
			const seen = new Promise<{ all: number; core: number }>((done) => {
				let pressed = 0;
				addEventListener('keydown', ({ timeStamp }) => (pressed = timeStamp), { capture: true, once: true });
				const watch = new MutationObserver(() => {
					if (pressed === 0 || gauge.getAttribute('data-current') !== 'true') return;
					watch.disconnect();
					requestAnimationFrame(() =>
						setTimeout(() => done({ all: performance.now() - pressed, core: Number(gauge.getAttribute('data-milliseconds')) }))
					);
				});
				watch.observe(gauge, { attributes: true });
			});
			Object.assign(window, { seen });
		});
		await page.keyboard.press(String(1 + (k % 9)));
		const { all, core } = await page.evaluate(() => (window as unknown as { seen: Promise<{ all: number; core: number }> }).seen);
		ratios.push((all - frame) / core);
	}
	return row('an edit in splitter-elbow, to its picture, less one frame', 'the time of the core for it', median(ratios), '≤ 1.3');
}

/** Does something in every frame for a while, and gives the median time of a frame. */
function pace(page: Page, deed: 'wheel' | 'brush'): Promise<number> {
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

/** Frames with a million elements against those of an empty drawing. */
async function frames(page: Page): Promise<string[]> {
	await openRecipe(page, 'recipe 1\nunits mm\n');
	const empty = await pace(page, 'wheel');
	await openRecipe(
		page,
		'recipe 1\nunits mm\nrectangle b = (0, 0) to (100, 60)\ncircle c = around (30, 30) radius 8\nregion r at (1, 1)\nsize 0.115\nfill r triangles\n'
	);
	await page.evaluate(() => (Element.prototype.setPointerCapture = () => {}));
	const [moved, brushed] = [await pace(page, 'wheel'), await pace(page, 'brush')];
	return [
		row('a frame of panning and zooming over a million elements', 'the same over an empty drawing', moved / empty, '≤ 4'),
		row('a frame of brushing a million elements', 'panning over an empty drawing', brushed / empty, '≤ 4')
	];
}

/** What the desk loads before anything is done in it. */
async function weight(page: Page): Promise<string> {
	const [script, worker] = [
		{ plain: 0, zipped: 0 },
		{ plain: 0, zipped: 0 }
	];
	page.on('response', async (response) => {
		if (response.request().resourceType() !== 'script') return;
		const body = await response.body().catch(() => Buffer.of());
		const whose = response.url().includes('worker') ? worker : script;
		whose.plain += body.length;
		whose.zipped += gzipSync(body).length;
	});
	await openRecipe(page, 'recipe 1\nunits mm\n');
	await page.waitForTimeout(500);
	const megabytes = (bytes: number) => (bytes / 1e6).toFixed(2);
	return [
		`First load of the desk: **${megabytes(script.plain + worker.plain)} MB** of script (wanted: below 1.5),`,
		`**${megabytes(script.zipped + worker.zipped)} MB** zipped (wanted: below 0.45);`,
		`of it the page ${megabytes(script.plain)} and ${megabytes(script.zipped)}, the mesh worker ${megabytes(worker.plain)} and ${megabytes(worker.zipped)}.`
	].join(' ');
}

const row = (what: string, against: string, ratio: number, wanted: string) =>
	`| ${what} | ${against} | **${ratio.toFixed(2)}** | ${wanted} |`;

const data = mkdtempSync(join(tmpdir(), 'bench-desk-'));
const server = spawn('node', ['scripts/start.mjs'], {
	env: { ...process.env, PORT: String(port), TESSELLON_DATA: data },
	stdio: ['ignore', 'ignore', 'inherit']
});
// A server left behind would be measured in place of this tree.
process.once('SIGTERM', () => server.kill());
server.once('exit', (code) => code && process.exit(code));
try {
	for (let tries = 0; ; tries++) {
		const isUp = await fetch(`${origin}/api/projects`).then(
			(r) => r.ok,
			() => false
		);
		if (isUp) break;
		if (tries > 240) throw new Error('the server does not start');
		await new Promise((resume) => setTimeout(resume, 500));
	}
	const browser = await chromium.launch({
		executablePath: '/usr/bin/chromium',
		args: [
			...['--no-sandbox', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update'],
			...['--disable-sync', '--use-gl=angle', '--use-angle=swiftshader', '--enable-unsafe-swiftshader']
		]
	});
	const size = { viewport: { width: 1280, height: 800 } };
	const [page, bare, fresh] = [await browser.newPage(size), await browser.newPage(size), await browser.newPage(size)];
	await fresh.bringToFront();
	const lines = [await weight(fresh), '', '| what | against | ratio | wanted |', '|---|---|---|---|'];
	// Told as they come: the whole takes some minutes.
	for (const part of [() => typing(page, bare), () => following(page), () => frames(page)]) {
		const found = [await part()].flat();
		process.stderr.write(`${found.join('\n')}\n`);
		lines.push(...found);
	}
	console.log(lines.join('\n'));
	await browser.close();
	await stop();
} finally {
	server.kill();
	rmSync(data, { recursive: true, force: true });
}
