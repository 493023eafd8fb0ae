import { describe, expect, it } from 'vitest';
import { XMLParser } from 'fast-xml-parser';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzlibSync } from 'fflate';
import { PDFDocument } from 'pdf-lib';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { deliverFile, formatOfFile, readOptions, formatByEnding } from './delivery.ts';

const result = finish(
	new Pipeline(() => 0).run({
		text: `recipe 1
title "Plate & pin"
let d = 4 range 2 to 8
rectangle box = (0, 0) to (40, 20)
circle pin = around (20, 10) radius d
region r at (1, 1)
region hole at (20, 10)
size 3
layers on pin first 0.1 growth 1.2 count 4
fill r triangles
fill hole none
group inlet = box.left as inflow
group rest = outer facing up, outer facing down, outer facing right as wall
group pin_wall = pin as no_slip_wall`,
		files: {}
	})
);
/** The packed rows of a PNG. */
function idatOf(bytes: Uint8Array): Uint8Array {
	const view = new DataView(bytes.buffer, bytes.byteOffset);
	const parts: Uint8Array[] = [];
	for (let at = 8; at < bytes.length; at += 12 + view.getUint32(at))
		if (String.fromCharCode(...bytes.subarray(at + 4, at + 8)) === 'IDAT')
			parts.push(bytes.subarray(at + 8, at + 8 + view.getUint32(at)));
	return Buffer.concat(parts);
}
const text = async (format: string, options?: Record<string, unknown>) =>
	new TextDecoder().decode((await deliverFile(result, { format, ...(options ? { options } : {}) })).bytes);

describe('a figure', () => {
	it('is drawn in millimetres, with every element, colours of groups, legend and scale', async () => {
		const svg = await text('figure', { width: '120' });
		const parsed = new XMLParser({ ignoreAttributes: false }).parse(svg) as {
			svg: Record<string, unknown> & { text: { '#text': string }[] };
		};
		expect(parsed.svg['@_width']).toBe('120mm');
		const elements = result.mesh.triangles.length / 3 + result.mesh.quads.length / 4;
		expect(svg.match(/Z/g)).toHaveLength(elements);
		expect(parsed.svg.text.map((t) => t['#text'])).toEqual(['5 mm', 'inlet', 'rest', 'pin_wall']);
		// The bar is as long as it says: 5 of 40 on 112 mm.
		const [, from, to] = /M4 \S+?L4 \S+?L(\S+) (\S+?)L/.exec(svg)!;
		expect(Number(from) - 4).toBeCloseTo((5 / 40) * 112, 2);
		expect(Number(to)).toBeGreaterThan(50);
		const bare = await text('figure', { mesh: 'no', legend: 'no', scale: 'no' });
		expect(bare).not.toMatch(/Z|<text/);
	});

	it('is the same as a page, in vectors, and the same bytes every time', async () => {
		const { bytes, mediaType } = await deliverFile(result, { format: 'pdf', options: { width: '120' } });
		expect(mediaType).toBe('application/pdf');
		const [page] = (await PDFDocument.load(bytes)).getPages();
		expect((page!.getWidth() / 72) * 25.4).toBeCloseTo(120, 6);
		expect(Buffer.compare(bytes, (await deliverFile(result, { format: 'pdf', options: { width: '120' } })).bytes)).toBe(0);
	});

	it('is the same in dots, as many as are asked, with its words, and the same bytes as from the command', async () => {
		const of = async (options: Record<string, unknown>) => (await deliverFile(result, { format: 'png', options })).bytes;
		const bytes = await of({ width: '120', dpi: '254' });
		const image = unzlibSync(idatOf(bytes));
		const [width, height] = [16, 20].map((at) => new DataView(bytes.buffer, bytes.byteOffset).getUint32(at)) as [number, number];
		expect(width).toBe(1200);
		expect([...bytes.subarray(1, 4)].map((c) => String.fromCharCode(c)).join('')).toBe('PNG');
		expect(image.length).toBe(height * (4 * width + 1));
		// Words and lines leave more ink than lines alone.
		const bare = await of({ width: '120', dpi: '254', legend: 'no', scale: 'no' });
		expect(bytes.length).toBeGreaterThan(bare.length + 2000);
		const folder = mkdtempSync(join(tmpdir(), 'png-'));
		writeFileSync(join(folder, 'p.tessellon'), `${result.recipe.text}\ndeliver png width 120 dpi 254\n`);
		execFileSync('node', ['bin/tessellon.js', 'mesh', join(folder, 'p.tessellon'), '--deliver', '--to', folder]);
		const name = readdirSync(folder).find((n) => n.endsWith('.png'))!;
		expect(readFileSync(join(folder, name)).equals(bytes)).toBe(true);
		await expect(of({ width: '2000', dpi: '2400' })).rejects.toThrow(/dots is too large; take fewer “dpi”/);
	});

	it('says what is wrong with its options', () => {
		expect(() => readOptions(formatByEnding('png')!, { dpi: '5000' })).toThrow(/from 36 to 2400 dots/);
		expect(() => readOptions(formatByEnding('figure')!, { width: 'wide' })).toThrow(/“width” is a whole number of millimetres/);
		expect(() => readOptions(formatByEnding('pdf')!, { width: '5' })).toThrow(/from 20 to 2000 millimetres/);
		expect([formatOfFile('a.svg')!.name, formatOfFile('a.figure.svg')!.name, formatOfFile('b.PDF')!.name]).toEqual([
			'svg',
			'figure',
			'pdf'
		]);
	});
});

describe('a report', () => {
	it('is one page with all that there is to say, and nothing beside it', async () => {
		const page = await text('report');
		for (const word of [
			'Plate &amp; pin',
			'pin_wall',
			'No-slip wall',
			'Scaled Jacobian',
			'Layers on walls',
			'layers on pin first 0.1',
			'2 to 8'
		])
			expect(page, word).toContain(word);
		expect(page).toMatch(/SHA-256 of nodes and elements: <code>[0-9a-f]{64}<\/code>/);
		expect(page).not.toMatch(/<script|<link|src="|href="/);
		expect(await text('report')).toBe(page);
	});
});
