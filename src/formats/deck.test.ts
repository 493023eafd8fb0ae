import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { gridOf } from '../core/mesh/grid.ts';
import { groupEdges, isBoundary } from '../core/mesh/mesh.ts';
import { nodeSets } from '../core/mesh/node-sets.ts';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { DeckOptions } from './deck-options.ts';
import { writeDeck } from './deck.ts';
import * as v from 'valibot';

const text = `recipe 1
title "Plate"
let w = 4
rectangle box = (0, 0) to (w, 2)
region r at (1, 1)
divide box.bottom into 2
divide box.left into 1
fill r structured
group inlet = box.left as inflow
group rest = box.bottom, box.right, box.top as wall
group steel = region r`;
const result = finish(new Pipeline(() => 0).run({ text, files: {} }));
const grid = gridOf(result.mesh, result.model);
const deck = (template: string, options: Record<string, string> = {}, most?: number) =>
	writeDeck(grid, v.parse(DeckOptions, options), result, { name: 'own.liquid', text: template }, 'plate.txt', most);
const only = (template: string, options?: Record<string, string>) => new TextDecoder().decode(deck(template, options)[0]!.bytes);

describe('a deck', () => {
	it('names all that there is, with numbers in the form that is asked', () => {
		expect(only('{{ title }} {{ units }} {{ node_count }} {{ element_count }} {{ parameters.w }}')).toBe('Plate mm 6 2 4');
		expect(only('{% each n in nodes %}{{ n.id }}:{{ n.x | fixed: 2 }},{{ n.y | exponent: 3 | width: 12 }};{% endeach %}')).toBe(
			[...result.mesh.x.keys()]
				.map(
					(k) =>
						`${k + 1}:${result.mesh.x[k]!.toFixed(2)},${result.mesh.y[k]!.toExponential(3)
							.replace(/e([+-])(\d)$/, 'E$10$2')
							.padStart(12)};`
				)
				.join('')
		);
		expect(
			only('{% for e in elements %}{{ e.shape }} {{ e.region }}{% for n in e.nodes %} {{ n }}{% endfor %};{% endfor %}', {
				ids: '0'
			})
		).toBe(
			`quadrilateral r ${[...result.mesh.quads.subarray(0, 4)].join(' ')};quadrilateral r ${[...result.mesh.quads.subarray(4)].join(' ')};`
		);
		const [inlet, rest] = nodeSets(result.mesh);
		expect(
			only('{% each n in nodes_of.inlet %}{{ n }} {% endeach %}|{% each n in owned_nodes_of.rest %}{{ n }} {% endeach %}')
		).toBe(`${[...inlet!.all].map((n) => `${n + 1} `).join('')}|${[...rest!.owned].map((n) => `${n + 1} `).join('')}`);
		const [inletEdges, restEdges] = result.mesh.groups.filter(isBoundary).map((g) => groupEdges(result.mesh, g).length);
		expect(
			only('{% for g in groups %}{{ g.name }} {{ g.condition }} {{ g.count }};{% endfor %}{{ materials[0].regions[0] }}')
		).toBe(`inlet BCInflow ${inletEdges};rest BCWall ${restEdges};r`);
	});

	it('sees zones of rows: their sizes, nodes, groups and neighbours', () => {
		expect(
			only(
				'{% for z in zones %}{{ z.region }} {{ z.ni }}x{{ z.nj }}{% for row in z.rows %} {{ row | join: "," }}{% endfor %}{% for f in z.faces %} {{ f.group }}({{ f.from.i }},{{ f.from.j }})-({{ f.to.i }},{{ f.to.j }}){% endfor %}{% endfor %}'
			)
		).toMatch(/^r (3x2|2x3)( \d(,\d)+){2,3}( (inlet|rest)\(\d,\d\)-\(\d,\d\)){4}$/);
	});

	it('walks rows alike whether the engine does it or not', () => {
		const rows = (filter: string) => only(`{% each n in nodes %}{{ n.id }} {{ n.x ${filter} }} {{ index }}\n{% endeach %}`);
		// `plus` is the engine's own filter, so these rows go its way.
		expect(rows('| plus: 0 | fixed: 3')).toBe(rows('| fixed: 3'));
		const loops = (filter: string) =>
			only(`{% each e in elements %}{{ index }}{% for n in e.nodes %} {{ n${filter} }}/{{ e.id }}{% endfor %};{% endeach %}`);
		expect(loops(' | plus: 0')).toBe(loops(''));
	});

	it('may be several files', () => {
		const parts = deck('{% file "a.dat" %}\nfirst {{ node_count }}\n{% file "b.dat" %}\nsecond');
		expect(parts.map(({ name, bytes }) => [name, new TextDecoder().decode(bytes)])).toEqual([
			['a.dat', 'first 6\n'],
			['b.dat', 'second']
		]);
		expect(() => deck('{% file "../a" %}')).toThrow(/a file is named in quotes and without a folder/);
		expect(() => deck('{% file "a" %}x{% file "a" %}y')).toThrow(/“a” is begun twice/);
	});

	it.each([
		['a\nb {{ nodez }}', /^own.liquid, line 2: there is no “nodez” here$/],
		['{% each n in nodes %}{{ n.q }}{% endeach %}', /^own.liquid, line 1: there is no “n.q” here$/],
		['{% each n in nodes %}{{ n.constructor }}{% endeach %}', /there is no “n.constructor” here/],
		['{% each e in elements %}{% for n in e.nods %}{{ n }}{% endfor %}{% endeach %}', /there is no “e.nods” here/],
		['{{ title | shout }}', /there is no filter “shout”; numbers have fixed, exponent, width and shortest/],
		['{{ title | fixed: 2 }}', /a number is wanted here, found “Plate”/],
		['{{ 2 | fixed: 40 }}', /a whole number from 0 to 17 is wanted here, found 40/],
		['{% each n in nodes %}', /\{% each %\} has no \{% endeach %\}/],
		['x\n\n{% each in nodes %}{% endeach %}', /^own.liquid, line 3: rows are walked like/],
		['{% include "other" %}', /a deck is one template; “include” reads no other/],
		['{{ "now" | date: "%Y" }}', /a deck knows no clock/],
		['{% each n in title.x %}{% endeach %}', /there is no/],
		['{{ title', /own.liquid, line 1: /]
	])('says what is wrong with %j, and where', (template, message) => {
		expect(() => deck(template)).toThrow(message);
	});

	it('begins files by its tag alone, whatever a text holds', () => {
		const mark = '%00file:../../escaped.txt%00';
		const parts = deck(`{{ "${mark}" | url_decode }}{% file "nodes.dat" %}{{ "${mark}" | url_decode }}`);
		expect(parts.map((p) => p.name)).toEqual(['plate.txt', 'nodes.dat']);
		expect(new TextDecoder().decode(parts[0]!.bytes)).toBe('\0file:../../escaped.txt\0');
		expect(() => deck('{% capture x %}{% file "a" %}{% endcapture %}')).toThrow(/not within a tag that keeps it/);
		for (const name of ['..', 'a:b', 'tail.', 'x'.repeat(250)])
			expect(() => deck(`{% file "${name}" %}x`)).toThrow(/cannot be named|without a folder/);
	});

	const doubled = `{% assign a = "x" %}${'{% assign a = a | append: a %}'.repeat(27)}`;
	it.each([
		['doubling by append', `${doubled}{% assign b = a | split: "" %}{{ b.size }}`],
		['a range of a thousand million', '{% for i in (1..1000000000) %}x{% endfor %}'],
		['doubling by capture', `{% assign a = "x" %}${'{% capture a %}{{ a }}{{ a }}{% endcapture %}'.repeat(40)}`],
		['doubling by concat', `{% assign a = "x" | split: "" %}${'{% assign a = a | concat: a %}'.repeat(40)}`],
		['doubling by replace', `{% assign a = "x" %}${'{% assign a = a | replace: "x", "xx" %}'.repeat(40)}`],
		['doubling by join', `{% assign a = "x,x" %}${'{% assign a = a | split: "," | join: a %}'.repeat(60)}`],
		[
			'many long texts',
			`${doubled.slice(0, -150)}${Array.from({ length: 99 }, (_, k) => `{% assign b${k} = a | append: "${k}" %}`).join('')}`
		],
		['loops in loops', `${'{% for i in (1..100000) %}'.repeat(5)}x${'{% endfor %}'.repeat(5)}`],
		['a depth of tags', `${'{% if true %}'.repeat(20000)}x${'{% endif %}'.repeat(20000)}`]
	])('ends what would take all the memory or time: %s', (_, template) => {
		const before = process.memoryUsage().rss;
		expect(() => deck(template)).toThrow(/longer texts or lists|more memory|million steps|nests/);
		expect(process.memoryUsage().rss - before).toBeLessThan(900e6);
	});

	it('is the same every time: it knows no clock and no chance', () => {
		expect(() => deck('{{ "now" | date: "%s" }}')).toThrow(/knows no clock/);
		expect(() => deck('{{ "a,b" | split: "," | shuffle | first }}')).toThrow(/knows no chance/);
		expect(() => deck('{{ nodes }}')).toThrow(/a whole list or record is written here/);
	});

	it('reaches no file, code or object of the machine', () => {
		for (const source of ['process', 'globalThis', 'require', 'nodes.constructor', 'title.constructor.constructor'])
			expect(() => only(`{{ ${source} }}`), source).toThrow(/there is no/);
	});

	it('stops at the rows of a preview', () => {
		const [part] = deck('{% each n in nodes %}{{ n.id }} {% endeach %}', {}, 2);
		expect(new TextDecoder().decode(part!.bytes)).toBe('1 2 ');
	});

	it.each(['keyword-deck', 'indexed-deck'])('is made by the template %s that comes with the demos', (name) => {
		const parts = deck(readFileSync(`demo/${name}.liquid`, 'utf8'));
		const all = parts.map(({ bytes }) => new TextDecoder().decode(bytes)).join('\n');
		expect(all).toContain('inlet');
		// As many rows of nodes as there are nodes.
		if (name === 'indexed-deck') expect(new TextDecoder().decode(parts[0]!.bytes).trim().split('\n')).toHaveLength(7);
		else expect(all).toMatch(/NODES 6\n(?: +\d+ .*\n){6}ELEMENTS 2 REGION r MATERIAL steel\n/);
	});
});
