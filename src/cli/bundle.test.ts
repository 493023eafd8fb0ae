import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { deliveryFormats, needsTemplate } from '../formats/delivery.ts';
import { subcommands } from './subcommands.ts';

/** The command as it is installed: bundled, and none of the sources. */
const folder = mkdtempSync(join(tmpdir(), 'bundle-'));
const run = (...args: string[]) => {
	const { status, stdout, stderr } = spawnSync('node', [resolve('bin/tessellon.js'), ...args], {
		encoding: 'utf8',
		cwd: folder,
		maxBuffer: 1 << 28
	});
	return { status, stdout, stderr };
};
const write = (name: string, text: string) => {
	writeFileSync(join(folder, name), text);
	return name;
};
const read = (path: string) => readFileSync(join(folder, path));

const plate = `recipe 1
title "Plate"
let w = 4 mm
rectangle box = (0, 0) to (w, 2)
rectangle other = (w, 0) to (2*w, 2)
region r at (1, 1)
region s at (5, 1)
size 0.5
fill r structured
fill s triangles
group inlet = box.left as inflow
group rest = outer except box.left as wall
`.replace('outer except box.left', 'box.bottom, box.top, other.bottom, other.top, other.right');

/** Every value that an option takes, as its schema says: of a number one that is not the usual. */
function valuesOf(option: { wrapped?: { options?: readonly string[] }; default?: string }): string[] {
	const { options } = option.wrapped ?? {};
	return options ? [...options] : [option.default === 'shortest' ? '6' : '150'];
}
const quoted = (value: string) => (/^\w+$/.test(value) ? value : `"${value}"`);

beforeAll(() => {
	write('plain.liquid', '{{ node_count }} nodes\n');
	write('files.liquid', '{% file "nodes.dat" %}{% each n in nodes %}{{ n.id }}\n{% endeach %}{% file "rest.dat" %}x\n');
});

describe('the built command', () => {
	it('writes every format with every value of every option', () => {
		const statements = deliveryFormats.flatMap((format) => {
			const base = `deliver ${format.name}${needsTemplate(format) ? ' "plain.liquid"' : ''}`;
			if (format.holds === 'drawing') return [base];
			const entries = Object.entries(format.options.entries) as unknown as [string, Parameters<typeof valuesOf>[0]][];
			const all = entries.flatMap(([name, option]) => valuesOf(option).map((value) => ({ name, value })));
			// A comma cannot be both between columns and in numbers.
			return [
				base,
				...all.map(({ name, value }) =>
					name === 'decimal' && value === ',' ? `${base} separator ";" decimal ","` : `${base} ${name} ${quoted(value)}`
				)
			];
		});
		expect(statements.length).toBeGreaterThan(50);
		const { status, stdout, stderr } = run(
			'mesh',
			write('plate.tessellon', `${plate}${statements.join('\n')}\ndeliver deck "files.liquid"\n`),
			'--deliver',
			'--to',
			'all'
		);
		expect(stderr).not.toContain('not delivered');
		expect([status, stdout.split('\n')[0]]).toEqual([0, expect.stringContaining('elements')]);
		expect(stderr.trim().split('\n').length).toBeGreaterThan(statements.length);
		expect(readdirSync(join(folder, 'all')).length).toBeGreaterThan(40);
		expect(read('all/plate.pdf').subarray(0, 5).toString()).toBe('%PDF-');
		expect(read('all/plate.png').subarray(1, 4).toString()).toBe('PNG');
		expect(read('all/plate.html').toString()).toContain('<h1>Plate</h1>');
		expect(read('all/plate-tables/parameters.csv').toString()).toBe('parameter,value,dimension\nw,4,length\n');
	});

	it('writes every format that --out names, all at once', () => {
		const files = deliveryFormats.filter((f) => !needsTemplate(f)).map((f) => `one.${f.ending}`);
		const { status, stderr } = run('mesh', write('plate.tessellon', plate), ...files.flatMap((file) => ['--out', file]));
		expect([status, stderr]).toEqual([0, '']);
		for (const file of files) expect(statSync(join(folder, file)).size).toBeGreaterThan(100);
	});

	it('has every subcommand, each with its help', async () => {
		const help = run('--help').stdout;
		const names = [...help.matchAll(/^ {2}([a-z-]+)(?=[ [|])/gm)].map((m) => m[1]!).filter((name) => name !== 'help');
		expect(names).toHaveLength(subcommands.length);
		for (const name of names) {
			const { status, stdout } = run(name, '--help');
			expect([name, status]).toEqual([name, 0]);
			expect(stdout).toContain(`tessellon ${name}`);
		}
		expect(run('--version').stdout.trim()).toBe(
			(JSON.parse(readFileSync('package.json', 'utf8')) as { version: string }).version
		);
	});

	it('checks, compares, imports and looks', () => {
		write('plate.tessellon', plate);
		expect(run('check', 'plate.tessellon', '--json').status).toBe(0);
		write('finer.tessellon', plate.replace('size 0.5', 'size 0.25'));
		expect(run('diff', 'plate.tessellon', 'finer.tessellon').stdout).toContain('no longer: size 0.5');
		run('mesh', 'plate.tessellon', '--out', 'a.cgns', '--out', 'a.vtu', '--out', 'a.dxf', '--out', 'a.svg');
		for (const name of ['a.cgns', 'a.vtu']) {
			expect(run('look', name, '--recipe', 'plate.tessellon').status).toBe(0);
			expect(run('look', name, '--json').stdout).toContain('"triangles"');
		}
		for (const name of ['a.dxf', 'a.svg', 'a.cgns']) {
			expect(run('import', name, '--out', 'imported.tessellon')).toMatchObject({ status: 0, stderr: '' });
			expect(read('imported.tessellon').toString()).toContain(`"${name}"`);
		}
	});
});

describe('an output that is an input', () => {
	it('is refused by whatever reads it', () => {
		write('points.csv', '0 0\n4 0\n4 3\n');
		run('mesh', write('plate.tessellon', plate), '--out', 'old.vtu', '--out', 'drawn.svg');
		write(
			'reads.tessellon',
			`recipe 1\nboundary b = from "old.vtu"\nregion r at (1, 1)\nsize 0.5\nfill r triangles\ndeliver vtu\n`
		);
		write('old.tessellon', read('reads.tessellon').toString());
		const before = Object.fromEntries(['points.csv', 'old.vtu', 'drawn.svg', 'plate.tessellon'].map((f) => [f, read(f)]));
		for (const args of [
			['import', 'points.csv', '--out', 'points.csv'],
			['import', 'points.csv', '--out', './points.csv'],
			['mesh', 'drawn.svg', '--out', 'drawn.svg'],
			['mesh', 'reads.tessellon', '--out', 'old.vtu'],
			['mesh', 'old.tessellon', '--deliver']
		]) {
			const { status, stderr } = run(...args);
			expect([args, status]).not.toEqual([args, 0]);
			expect(stderr).toMatch(/would overwrite/);
		}
		for (const [name, bytes] of Object.entries(before)) expect(read(name)).toEqual(bytes);
	});
});

describe('a delivery that cannot be', () => {
	it('takes no other along, and each says what became of it', () => {
		const { status, stderr } = run(
			'mesh',
			write(
				'some.tessellon',
				`${plate}deliver vtu\ndeliver deck "gone.liquid"\ndeliver cgns zones rows\ndeliver tables ids 7\ndeliver svg\n`
			),
			'--deliver',
			'--to',
			'some'
		);
		expect(status).toBe(1);
		expect(stderr).toMatch(/“deliver deck "gone.liquid"” was not delivered: no file “gone.liquid”/);
		expect(stderr).toMatch(/“deliver cgns zones rows” was not delivered/);
		expect(stderr).toMatch(/“deliver tables ids 7” was not delivered/);
		expect(readdirSync(join(folder, 'some')).sort()).toEqual(['some.svg', 'some.vtu']);
	});

	it('is refused where the recipe has an error that it depends on, and only then', () => {
		const wedge = plate.replace('title "Plate"', 'title "Plate"\nframe axisymmetric about x');
		const outcome = (text: string, ...files: string[]) => {
			const name = write('error.tessellon', text);
			for (const file of files) write(file, '');
			const { status, stderr } = run('mesh', name, ...files.flatMap((file) => ['--out', file]));
			return { status, stderr, written: files.filter((file) => read(file).length > 0) };
		};
		// A refused solid delivers no plane mesh; the drawing does not depend on it.
		const refused = outcome(`${wedge}solid wedge -4 deg\n`, 'e.cgns', 'e.vtu', 'e.svg');
		expect([refused.status, refused.written]).toEqual([1, ['e.svg']]);
		expect(refused.stderr).toMatch(
			/e\.cgns was not written: the recipe has an error that this depends on \(line 14\): a wedge opens by/
		);
		// A line that cannot be read might be anything.
		expect(outcome(`${plate}soild slab 4\n`, 'e.cgns').written).toEqual([]);
		// What is wrong with a study, or with another delivery, is none of its business.
		expect(outcome(`${plate}study s = nothing in 1, 2\ndeliver csv\n`, 'e.cgns').written).toEqual(['e.cgns']);
		// A drawing depends on what draws it.
		expect(outcome(`${plate}circle c = around (0, 0) radius -1\n`, 'e.svg').written).toEqual([]);
		// A mesh that may be partial does without what could not be filled, but not without its solid.
		const broken = `${wedge}fill gone triangles\n`;
		write('error.tessellon', broken);
		expect(run('mesh', 'error.tessellon', '--partial', '--out', 'p.vtu').stderr).not.toContain('not written');
		write('error.tessellon', `${broken}solid wedge -4 deg\n`);
		expect(run('mesh', 'error.tessellon', '--partial', '--out', 'p2.vtu').stderr).toContain('p2.vtu was not written');
	});
});

it('what cannot be printed is a sentence and no trace', () => {
	write('plate.tessellon', plate);
	const full = spawnSync('sh', ['-c', `node ${resolve('bin/tessellon.js')} mesh plate.tessellon --json > /dev/full`], {
		encoding: 'utf8',
		cwd: folder
	});
	expect(full.stderr).toBe('tessellon: the standard output does not fit: the disk is full\n');
	expect(full.status).toBe(2);
	const gone = spawnSync(
		'sh',
		['-c', `node ${resolve('bin/tessellon.js')} mesh plate.tessellon --json | head -c 1 > /dev/null`],
		{
			encoding: 'utf8',
			cwd: folder
		}
	);
	expect(gone.stderr).toBe('');
	expect(run('mesh', folder).stderr).toMatch(/^tessellon: .* is a folder, and a file is wanted\n$/);
});
