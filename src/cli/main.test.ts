import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';

const folder = mkdtempSync(join(tmpdir(), 'command-'));
const file = (name: string) => join(folder, name);
const write = (name: string, content: string | Uint8Array) => {
	writeFileSync(file(name), content);
	return file(name);
};
const run = (...args: string[]) => {
	const { status, stdout, stderr } = spawnSync('node', [resolve('bin/tessellon.js'), ...args], {
		encoding: 'utf8',
		cwd: folder,
		maxBuffer: 1 << 28
	});
	return { status, stdout, stderr };
};

beforeAll(() => {
	mkdirSync(folder, { recursive: true });
	for (const name of ['venturi.tessellon', 'throat-wall.csv', 'cold-plate.tessellon']) copyFileSync(`demo/${name}`, file(name));
});

describe('tessellon mesh', () => {
	it('writes every file that --out names and says what came out', () => {
		const { status, stdout, stderr } = run('mesh', 'venturi.tessellon', '--out', 'a.cgns', '--out', 'a.vtu');
		expect([status, stderr]).toEqual([0, '']);
		expect(stdout).toMatch(/3975 nodes, 3792 elements \(0 triangles, 3792 quadrilaterals\)/);
		expect(stdout).toMatch(/group inlet: inflow, 24 edges, length 40/);
		expect(execFileSync('cgnscheck', [file('a.cgns')], { encoding: 'utf8' })).toContain('checking complete');
		expect(readFileSync(file('a.vtu'), 'utf8')).toMatch(/^<\?xml/);
	});

	it('writes all that the recipe asks for, decks by the templates beside it, and says what cannot be', () => {
		const recipe =
			'recipe 1\nrectangle box = (0, 0) to (4, 2)\nregion r at (1, 1)\nsize 1\nfill r triangles\ngroup all = outer as wall\nsolid slab 1 sides front, back\n';
		write(
			'plate.tessellon',
			`${recipe}deliver cgns\ndeliver tables ids from 0\ndeliver xdmf units m\ndeliver deck "own.liquid"\n`
		);
		write('own.liquid', '{{ node_count }} nodes\n{% each n in nodes %}{{ n.z | fixed: 1 }}\n{% endeach %}');
		const { status, stderr } = run('mesh', 'plate.tessellon', '--deliver', '--to', 'results');
		expect([status, stderr.trim().split('\n').length]).toEqual([0, 13]);
		expect(execFileSync('cgnscheck', [file('results/plate.cgns')], { encoding: 'utf8' })).not.toMatch(/warning|error/i);
		expect(readFileSync(file('results/plate.txt'), 'utf8')).toMatch(/^\d+ nodes\n(?:0\.0\n)+(?:1\.0\n)+$/);
		expect(readFileSync(file('results/plate-tables/nodes.csv'), 'utf8')).toMatch(/^node,x,y,z\n0,0,0,0\n/);
		expect(readFileSync(file('results/plate.xdmf'), 'utf8')).toContain('plate.h5:/geometry');
		expect(run('mesh', 'plate.tessellon', '--out', 'one.xdmf').status).toBe(0);
		expect(readFileSync(file('one.xdmf'), 'utf8')).toContain('one.h5:/geometry');
		write('bad.tessellon', `${recipe}deliver cgs\n`);
		expect(run('mesh', 'bad.tessellon', '--deliver')).toMatchObject({
			status: 1,
			stderr: expect.stringMatching(/there is no format “cgs”; did you mean “cgns”/)
		});
		write('none.tessellon', recipe);
		expect(run('mesh', 'none.tessellon', '--deliver').stderr).toMatch(
			/the recipe asks for no delivery; write one, like “deliver cgns”/
		);
		write('lost.tessellon', `${recipe}deliver deck "gone.liquid"\n`);
		expect(run('mesh', 'lost.tessellon').stderr).toMatch(/no file “gone.liquid” stands beside the recipe/);
	});

	it('prints the figures as JSON, and takes values of parameters', () => {
		const { status, stdout } = run('mesh', 'venturi.tessellon', '--set', 'rows=10', '--set', 'D=100 mm', '--json');
		expect(status).toBe(0);
		const figures = JSON.parse(stdout);
		expect(Object.keys(figures)).toEqual([
			'nodes',
			'elements',
			'triangles',
			'quads',
			'delivered',
			'regions',
			'groups',
			'periodic',
			'walls',
			'layers',
			'promises',
			'unfilled',
			'irregular',
			'blocks',
			'quality',
			'timings',
			'findings'
		]);
		expect(figures.quads).toBe(1580);
		expect(figures.groups[0]).toMatchObject({
			name: 'inlet',
			kind: 'inflow',
			pieces: 1,
			edges: 10,
			length: expect.closeTo(50, 9)
		});
		expect(figures.quality.minimumAngle.min).toBeGreaterThan(45);
	});

	it('gives the same file every time', () => {
		run('mesh', 'cold-plate.tessellon', '--out', 'one.cgns');
		run('mesh', 'cold-plate.tessellon', '--out', 'two.cgns');
		expect(readFileSync(file('one.cgns')).equals(readFileSync(file('two.cgns')))).toBe(true);
	});

	it('ends with 1 when no mesh comes out, and leaves no file behind', () => {
		const recipe = write(
			'open.tessellon',
			'recipe 1\nline a = (0, 0) to (1, 0)\nline b = (1, 0) to (1, 1)\nregion r bounded by a, b\n'
		);
		const before = readdirSync(folder);
		const { status, stderr } = run('mesh', recipe, '--out', file('open.cgns'));
		expect(status).toBe(1);
		expect(stderr).toMatch(/open.tessellon:4:1: error: a, b do not close around a region; the outline is open at \(0, 0\)/);
		expect(readdirSync(folder)).toEqual(before);
	});

	it('names the mistake in a call and ends with 2', () => {
		for (const [args, message] of [
			[['mesh', 'nowhere.tessellon'], /there is no file nowhere.tessellon/],
			[['mesh', 'venturi.tessellon', '--out', 'a.xyz'], /no format has the ending “.xyz”; there are .cgns, .vtu/],
			[['mesh', 'venturi.tessellon', '--set', 'rows'], /expected NAME=VALUE/],
			[['mesh', 'venturi.tessellon', '--set', 'rwos=3'], /no “let” statement defines “rwos”; did you mean “rows”/],
			[
				['mesh', 'venturi.tessellon', '--out', '/nowhere/a.vtu'],
				/\/nowhere\/a\.vtu was not written: .*there is no folder \/nowhere/
			],
			[['mesh'], /missing required argument/],
			[['grind', 'x'], /unknown command/]
		] as [string[], RegExp][]) {
			const { status, stderr } = run(...args);
			expect([args, status]).toEqual([args, 2]);
			expect(stderr).toMatch(message);
		}
	});
});

describe('tessellon check', () => {
	it('says place, severity and sentence of every finding, and ends with 1 on errors', () => {
		const recipe = write('bad.tessellon', 'recipe 1\nlet a = b\nlet b = a\nfrobnicate 3\nline l = (0, 0) to p\n');
		const { status, stderr } = run('check', recipe);
		expect(status).toBe(1);
		expect(stderr).toMatch(/bad.tessellon:2:9: error: “a” and “b” are each defined by the other/);
		expect(stderr).toMatch(/bad.tessellon:4:1: error: “frobnicate” starts no statement/);
		expect(stderr).toMatch(/bad.tessellon:5:20: error: nothing is named “p”/);
	});

	it('ends with 0 on a sound recipe, doubtful or not', () => {
		expect(run('check', 'cold-plate.tessellon')).toMatchObject({ status: 0, stderr: '' });
		expect(run('check', write('doubt.tessellon', 'line l = (0, 0) to (1, 0)\n')).status).toBe(0);
	});

	it('has a sentence for files that are no recipes', () => {
		for (const [name, content, message] of [
			['empty.tessellon', '', /is empty; a recipe starts with the line “recipe 1”/],
			['binary.tessellon', Uint8Array.of(1, 0, 2), /no text file/],
			['latin.tessellon', Uint8Array.of(0x74, 0xe9, 0x0a), /not UTF-8/],
			['huge.tessellon', new Uint8Array(50_000_000).fill(35), /50 MB, above the limit/]
		] as [string, string | Uint8Array, RegExp][]) {
			const { status, stderr } = run('check', write(name, content));
			expect([name, status]).toEqual([name, 1]);
			expect(stderr).toMatch(message);
		}
	});

	it('has a sentence for coordinate files that are none, with the line of the recipe', () => {
		for (const [name, content, message] of [
			['empty.csv', '', /“empty.csv”: the file is empty/],
			['column.csv', '1\n2\n', /“column.csv”: line 1: found only “1”/],
			['nan.csv', '0,0\nNaN,1\n', /“nan.csv”: line 2: “NaN” is no finite number/],
			['huge.csv', new Uint8Array(50_000_000).fill(49), /“huge.csv”: the file has 50 MB/]
		] as [string, string | Uint8Array, RegExp][]) {
			write(name, content);
			const { status, stderr } = run('check', write('c.tessellon', `recipe 1\nspline s = from "${name}"\n`));
			expect([name, status]).toEqual([name, 1]);
			expect(stderr).toMatch(message);
			expect(stderr).toMatch(/c.tessellon:2:17: error/);
		}
		expect(run('check', write('c.tessellon', 'spline s = from "../secret.csv"\n')).stderr).toMatch(/named without a folder/);
	});
});
