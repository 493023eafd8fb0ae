import { readFileSync } from 'node:fs';
import { expect, test, type Locator, type Page } from '@playwright/test';
import { clickAt, count, newProject, onScreen, recipeText, settled } from './desk.ts';

/** Does jobs as a hand does, and counts: a click, a drag, a key combination, or one typed value is one action. */
class Hand {
	actions = 0;

	constructor(readonly page: Page) {}

	async key(keys: string): Promise<void> {
		this.actions++;
		await this.page.keyboard.press(keys);
		await settled(this.page);
	}

	async click(on: Locator): Promise<void> {
		this.actions++;
		await on.click();
		await settled(this.page);
	}

	async at(x: number, y: number, adding = false): Promise<void> {
		this.actions++;
		await clickAt(this.page, x, y, adding ? ['Shift'] : []);
		await settled(this.page);
	}

	async twiceAt(x: number, y: number): Promise<void> {
		this.actions++;
		const place = await onScreen(this.page, x, y);
		await this.page.mouse.dblclick(place.x, place.y);
		await settled(this.page);
	}

	/** A value with the Enter that takes it, where the focus is. */
	async value(text: string): Promise<void> {
		this.actions++;
		await this.page.keyboard.type(text);
		await this.page.keyboard.press('Enter');
		await settled(this.page);
	}

	async choose(list: Locator, title: string): Promise<void> {
		this.actions++;
		await list.selectOption({ label: title });
		await settled(this.page);
	}

	/** A place by its coordinates: two values in the card of the tool. */
	async place(x: string, y: string): Promise<void> {
		this.actions += 2;
		await this.page.keyboard.type(x);
		await this.page.keyboard.press('Tab');
		await this.page.keyboard.type(y);
		await this.page.keyboard.press('Enter');
		await expect(this.page.getByRole('form', { name: 'Typed coordinates' })).toBeHidden();
		await settled(this.page);
	}

	async rectangle(from: [string, string], to: [string, string]): Promise<void> {
		await this.place(...from);
		await this.place(...to);
	}

	/** Fills the outline that lies at a place, at the click on it. */
	async fill(x: number, y: number, how: 'Structured' | 'Triangles'): Promise<void> {
		await this.at(x, y);
		await this.click(this.page.getByRole('group', { name: 'Fill this outline' }).getByRole('button', { name: how }));
	}

	/** Goes to a station by its key. */
	station(number: 1 | 2 | 3 | 4 | 5): Promise<void> {
		return this.key(`Control+Shift+${number}`);
	}

	/** Names the group of the pieces at places. */
	async label(name: string, ...places: [number, number][]): Promise<void> {
		for (const [k, [x, y]] of places.entries()) await this.at(x, y, k > 0);
		await this.value(name);
	}

	/** Downloads a format; answers the file. */
	async deliver(format: string): Promise<Buffer> {
		const download = this.page.waitForEvent('download');
		await this.click(this.page.locator('.format', { hasText: format }).getByRole('button', { name: 'Download' }));
		return readFileSync(await (await download).path());
	}
}

const cell = (page: Page, name: string) => page.getByRole('textbox', { name, exact: true });

test('a plate of 64 × 36 quads, finer toward its lower edge, takes 34 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('r');
	await hand.rectangle(['0', '0'], ['160', '90']);
	await hand.key('Escape');
	await hand.fill(80, 45, 'Structured');
	await hand.station(2);
	await hand.at(80, 0);
	await hand.value('64');
	await hand.at(0, 45);
	await hand.value('36');
	await hand.click(cell(page, 'Spacing of box1.left'));
	await hand.value('bias 8 toward box1.bottom');
	await expect(count(page, 'quads')).toHaveText('2,304');
	await hand.station(4);
	await hand.label('inlet', [0, 45]);
	await hand.label('outlet', [160, 45]);
	await hand.label('wall', [80, 0]);
	await hand.label('cover', [80, 90]);
	await hand.station(5);
	const file = await hand.deliver('CGNS');
	expect(file.length).toBeGreaterThan(50_000);
	const text = await recipeText(page);
	expect(text).toContain('divide box1.left into 36 bias 8 toward box1.bottom');
	expect(text).toMatch(/group inlet = box1\.left as inflow/);
	console.log(`plate: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(34);
});

test('a rectangle of triangles with four named sides takes 34 actions, and four more when it is resized', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('r');
	await hand.rectangle(['0', '0'], ['60', '40']);
	await hand.key('Escape');
	await hand.fill(30, 20, 'Triangles');
	await hand.station(3);
	await hand.click(cell(page, 'Size everywhere'));
	await hand.value('4');
	await hand.station(4);
	await hand.label('left', [0, 20]);
	await hand.label('right', [60, 20]);
	await hand.label('bottom', [30, 0]);
	await hand.label('top', [30, 40]);
	await hand.station(5);
	await hand.deliver('CGNS');
	console.log(`rectangle: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(34);
	const before = Number(await count(page, 'triangles').innerText());
	hand.actions = 0;
	await hand.twiceAt(60, 10);
	await expect(cell(page, 'Width of box1')).toBeFocused();
	await hand.value('80');
	await hand.station(5);
	await hand.deliver('CGNS');
	expect(await recipeText(page)).toContain('rectangle box1 = (0, 0) to (80, 40)');
	expect(Number(await count(page, 'triangles').innerText())).toBeGreaterThan(1.2 * before);
	expect(hand.actions).toBeLessThanOrEqual(4);
});

test('a channel with an obstacle and a band behind it takes 44 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('r');
	await hand.rectangle(['0', '0'], ['220', '80']);
	await hand.key('c');
	await hand.place('60', '40');
	await hand.value('10');
	await hand.key('Escape');
	await hand.key('f');
	await hand.fill(150, 70, 'Triangles');
	await hand.station(3);
	await hand.click(cell(page, 'Size everywhere'));
	await hand.value('6');
	await hand.at(70, 40);
	await hand.choose(page.getByRole('combobox', { name: 'Where the new size holds' }), 'near pieces');
	await hand.value('1');
	await hand.choose(page.getByRole('combobox', { name: 'Where the new size holds' }), 'behind a body');
	await hand.value('2');
	await hand.station(4);
	await hand.label('inlet', [0, 40]);
	await hand.label('outlet', [220, 40]);
	await hand.label('walls', [110, 0], [110, 80]);
	await hand.label('obstacle', [70, 40]);
	await hand.station(5);
	const file = await hand.deliver('VTU');
	expect(file.toString('latin1', 0, 200)).toContain('VTKFile');
	const text = await recipeText(page);
	expect(text).toMatch(/size 1 near circle1 within/);
	expect(text).toMatch(/size 2 behind circle1 length/);
	expect(text).toContain('group walls = box1.bottom, box1.top');
	console.log(`channel: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(44);
});

test('two materials with a size each, and an edge of 160 divisions, take 40 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('r');
	await hand.rectangle(['0', '0'], ['100', '40']);
	await hand.rectangle(['0', '40'], ['100', '60']);
	await hand.key('Escape');
	await hand.fill(50, 20, 'Triangles');
	await hand.fill(50, 50, 'Triangles');
	await hand.station(3);
	await hand.click(cell(page, 'Size in region_1'));
	await hand.value('5');
	// Enter goes on to the next row.
	await hand.value('2');
	await hand.station(2);
	await hand.at(50, 40);
	await hand.value('160');
	await hand.station(4);
	await hand.at(50, 20);
	await hand.value('copper');
	await hand.at(50, 50);
	await hand.value('resin');
	await hand.station(5);
	await hand.deliver('CGNS');
	const text = await recipeText(page);
	expect(text).toContain('group copper = region region_1');
	expect(text).toContain('group resin = region region_2');
	expect(text).toMatch(/into 160/);
	console.log(`materials: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(40);
});

test('an axisymmetric half-section with three parameters takes 60 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.click(page.locator('[data-tip="Units and frame"]'));
	await hand.click(page.getByRole('button', { name: 'axisymmetric about x' }));
	await page.keyboard.press('Escape');
	hand.actions++;
	const fresh = page.getByRole('textbox', { name: 'New parameter' });
	await hand.click(fresh);
	await hand.value('reach = 120');
	await hand.value('R = 30 range 20 to 40');
	await hand.value('middle_x = 45');
	await page.getByRole('application', { name: 'Drawing' }).focus();
	hand.actions++;
	await hand.key('r');
	// A name is typed after an equals sign: letters alone are keys.
	await hand.rectangle(['0', '0'], ['=middle_x', 'R']);
	await hand.rectangle(['=middle_x', '0'], ['=reach', 'R/2']);
	await hand.key('Escape');
	await hand.key('f');
	await hand.fill(20, 10, 'Structured');
	await hand.fill(80, 8, 'Structured');
	// The slider is dragged, and the mesh follows.
	const slider = page.getByRole('slider', { name: /^R/ });
	const box = (await slider.boundingBox())!;
	hand.actions++;
	await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
	await page.mouse.down();
	await page.mouse.move(box.x + 40, box.y + box.height / 2, { steps: 5 });
	await page.mouse.up();
	await settled(page);
	await hand.station(4);
	await hand.label('inlet', [0, 15]);
	await hand.label('outlet', [120, 8]);
	await hand.label('axis', [20, 0], [80, 0]);
	await hand.click(page.getByRole('button', { name: 'Select all of them' }));
	await hand.value('wall');
	await hand.station(5);
	await hand.deliver('CGNS');
	const text = await recipeText(page);
	expect(text).toContain('frame axisymmetric about x');
	expect(text).toContain('rectangle box1 = (0, 0) to (middle_x, R)');
	expect(Number(/let R = ([\d.]+)/.exec(text)![1])).toBeGreaterThan(30);
	expect(text).toMatch(/group axis = box1\.bottom, box2\.bottom as axis/);
	await expect(page.locator('li.ok')).toHaveCount(9);
	console.log(`half-section: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(60);
});

test('half a part with arcs, structured with chosen corners, mirrored and joined, takes 60 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	await hand.key('l');
	await hand.place('0', '0');
	await hand.place('40', '0');
	await hand.place('40', '15');
	await hand.key('a');
	await hand.place('25', '30');
	await hand.value('15');
	await hand.key('l');
	await hand.place('0', '30');
	// The first point again: the outline closes, and the tool ends.
	await hand.at(0, 0);
	await expect(page.getByRole('button', { name: 'Select', exact: true })).toHaveAttribute('aria-pressed', 'true');
	await hand.key('f');
	// Mirrored across its left side: all but that side, which both halves share.
	await hand.at(20, 0);
	await hand.at(40, 8, true);
	await hand.at(12, 30, true);
	await hand.at(25 + 15 * Math.SQRT1_2, 15 + 15 * Math.SQRT1_2, true);
	await hand.key('i');
	await hand.at(0, 18);
	await hand.key('Escape');
	await hand.key('f');
	await hand.fill(20, 12, 'Structured');
	await hand.fill(-20, 12, 'Structured');
	// Five edges: the corners are chosen at the junctions.
	await hand.station(3);
	await hand.at(20, 12);
	await hand.at(25, 30);
	await hand.station(4);
	await hand.label('base', [20, 0], [-20, 0]);
	await hand.click(page.getByRole('button', { name: 'Select all of them' }));
	await hand.value('outside');
	await hand.station(5);
	await hand.deliver('CGNS');
	const text = await recipeText(page);
	expect(text).toMatch(/copy mirror1 = .* mirrored across line4/);
	expect(text).toMatch(/fill region_1 structured corners/);
	expect(text.match(/^group /gm)).toHaveLength(2);
	await expect(page.locator('li.ok')).toHaveCount(9);
	console.log(`half a part: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(60);
});

/** A closed profile with a sharp tail, from the tail over its upper side and back: 120 thick by 1000 long. */
function profileRows(): string {
	const half = (x: number) => 0.6 * (0.2969 * Math.sqrt(x) - 0.126 * x - 0.3516 * x * x + 0.2843 * x ** 3 - 0.1036 * x ** 4);
	const rows = Array.from({ length: 81 }, (_, k) => {
		const x = (1 + Math.cos((2 * Math.PI * k) / 80)) / 2;
		return `${(1000 * x).toFixed(3)} ${(k <= 40 ? 1 : -1) * Number((1000 * half(x)).toFixed(3))}`;
	});
	return rows.join('\n');
}

test('a closed profile from a file gets a far boundary like a C, four blocks and four groups in 80 actions at most', async ({
	page
}) => {
	await newProject(page);
	const hand = new Hand(page);
	hand.actions++;
	await page
		.getByLabel('File to import')
		.setInputFiles({ name: 'profile.txt', mimeType: 'text/plain', buffer: Buffer.from(profileRows()) });
	const card = page.getByRole('dialog', { name: 'File to import' });
	await expect(card).toContainText('points');
	await hand.click(card.getByRole('button', { name: 'Smooth spline' }));
	// The far boundary, by its name in the palette.
	await hand.key('Control+k');
	await hand.value('far wake');
	await hand.at(500, 60);
	await hand.key('Enter');
	await hand.value('6');
	await hand.key('Escape');
	await hand.key('f');
	await hand.key('x');
	await hand.at(1000, 0);
	await hand.at(6500, 0);
	await hand.at(1000, 0);
	await hand.at(1500, 6000);
	await hand.at(1000, 0);
	await hand.at(1500, -6000);
	await hand.at(0, 0);
	await hand.at(-5500, 0);
	await hand.key('Escape');
	// Four blocks around it, whose counts agree on their own.
	await hand.fill(-2000, 2000, 'Structured');
	await hand.fill(-2000, -2000, 'Structured');
	await hand.fill(4000, 2000, 'Structured');
	await hand.fill(4000, -2000, 'Structured');
	await hand.station(2);
	await hand.at(300, 60);
	await hand.value('60');
	await hand.at(300, -60);
	await hand.value('60');
	await hand.at(1000, 3000);
	await hand.value('40');
	await hand.click(cell(page, 'Spacing of cut2'));
	await hand.value('first 1 toward outline_1');
	await hand.at(4000, 0);
	await hand.value('50');
	await hand.click(cell(page, 'Spacing of cut1'));
	await hand.value('bias 12 toward outline_1');
	await hand.station(4);
	await hand.label('profile', [300, 60], [300, -60]);
	await hand.label('inlet', [-3743, 4243], [-3743, -4243]);
	await hand.label('outlet', [6500, 3000], [6500, -3000]);
	await hand.click(page.getByRole('button', { name: 'Select all of them' }));
	await hand.value('far');
	await hand.station(5);
	await expect(page.locator('li.ok')).toHaveCount(9);
	const file = await hand.deliver('CGNS');
	expect(file.length).toBeGreaterThan(100_000);
	const text = await recipeText(page);
	expect(text.match(/^group /gm)).toHaveLength(4);
	// The sharp tail was seen as a corner.
	expect(text).toContain('from "profile.txt" corners above 60 deg');
	expect(text).toMatch(/divide cut2 into 40 first 1 toward outline_1/);
	// The lower side has the same heights without being asked.
	await expect(count(page, 'quads')).toHaveText(((60 + 50) * 2 * 40).toLocaleString('en'));
	console.log(`profile: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(80);
});

/** A survey of 3 000 rows along a river bed, with a little noise; two rows exchanged, some doubled. */
function surveyRows(): string {
	let seed = 7;
	const noise = () => (seed = (seed * 16807) % 2147483647) / 2147483647 - 0.5;
	const rows = Array.from({ length: 3000 }, (_, k) => {
		const x = k / 5;
		const y = 8 * Math.sin(x / 60) + 3 * Math.sin(x / 17) + 0.04 * noise();
		return [x + 0.02 * noise(), y] as const;
	});
	rows[0] = [0, rows[0]![1]];
	rows[2999] = [600, rows[2999]![1]];
	[rows[1402], rows[1405]] = [rows[1405]!, rows[1402]!];
	const lines = rows.map(([x, y]) => `${x.toFixed(4)},${y.toFixed(4)}`);
	for (const k of [2500, 1900, 700, 250]) lines.splice(k, 0, lines[k]!);
	return lines.join('\n');
}

test('a survey of 3 000 rows is mended, thinned, closed, meshed and labelled in 45 actions at most', async ({ page }) => {
	await newProject(page);
	const hand = new Hand(page);
	const rows = surveyRows();
	const [first, last] = [rows.split('\n')[0]!, rows.split('\n').at(-1)!].map((row) => row.split(',').map(Number)) as [
		[number, number],
		[number, number]
	];
	hand.actions++;
	await page.getByLabel('File to import').setInputFiles({ name: 'survey.csv', mimeType: 'text/csv', buffer: Buffer.from(rows) });
	const card = page.getByRole('dialog', { name: 'File to import' });
	await expect(card).toContainText('3004 points');
	hand.actions++;
	await card.getByLabel('corners from').fill('60');
	await hand.click(card.getByRole('button', { name: 'Polyline' }));
	await expect(card).toBeHidden();
	// The rows that stand in one another's place are found and exchanged.
	await hand.click(page.locator('[data-findings]'));
	await expect(page.getByRole('dialog')).toContainText('lines 14');
	await hand.click(page.getByRole('button', { name: /^Exchange lines 14\d\d and 14\d\d of the file/ }));
	await hand.key('Escape');
	// Thinned, with the line as it was behind it.
	await hand.at(30, 8 * Math.sin(0.5) + 3 * Math.sin(30 / 17));
	await hand.click(cell(page, 'Thinned of outline_1'));
	await hand.value('0.05');
	await hand.key('Escape');
	expect(await recipeText(page)).toMatch(/swapping 14\d\d with 14\d\d thinned within 0\.05 corners above 60 deg/);
	// Five typed points close it.
	await hand.key('l');
	await hand.at(...last);
	for (const [x, y] of [
		['600', '-60'],
		['450', '-80'],
		['300', '-84'],
		['150', '-80'],
		['0', '-60']
	] as const)
		await hand.place(x, y);
	await hand.at(...first);
	await hand.key('Escape');
	await hand.key('Escape');
	await hand.key('f');
	await hand.fill(300, -40, 'Triangles');
	await hand.station(3);
	await hand.click(cell(page, 'Size everywhere'));
	await hand.value('5');
	await hand.station(4);
	await hand.label('surface', [300, 8 * Math.sin(5) + 3 * Math.sin(300 / 17)]);
	await hand.label('left', [0, -30]);
	await hand.label('right', [600, -30]);
	await hand.at(375, -82);
	await hand.key('+');
	await hand.value('bed');
	await hand.station(5);
	const file = await hand.deliver('CGNS');
	expect(file.length).toBeGreaterThan(50_000);
	const text = await recipeText(page);
	expect(text.match(/^group /gm)).toHaveLength(4);
	await expect(page.locator('li.ok')).toHaveCount(9);
	console.log(`survey: ${hand.actions} actions`);
	expect(hand.actions).toBeLessThanOrEqual(45);
});
