import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import type { CoordinateFile, DrawingFile } from '../core/recipe/model/model.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { curveLength, pointAt, segmentCount, type Curve } from '../core/geometry/curve.ts';
import { partArea } from '../core/geometry/parts.ts';
import { writeDxf } from './dxf-writer.ts';
import { readGeometryFile } from './geometry-file.ts';
import type { MaterialRule } from './material.ts';
import { recipeOfFiles } from './recipe-of-files.ts';
import { writeSvg } from './svg-writer.ts';

const read = (text: string): CoordinateFile => readGeometryFile(new TextEncoder().encode(text));
const drawing = (text: string): DrawingFile => {
	const file = read(text);
	if (!('drawing' in file)) throw new Error('error' in file ? file.error : 'read as coordinates');
	return file.drawing;
};
const lengths = (d: DrawingFile) => d.curves.map(({ curve }) => Number(curveLength(curve).toFixed(6)));
const area = (curve: Curve) => partArea({ curve, t0: 0, t1: segmentCount(curve) }, pointAt(curve, 0));

/** A DXF file from pairs of group code and value. */
const dxf = (entities: string, head = '', blocks = '') => {
	const lines = (pairs: string) => pairs.trim().split(/\s+/).join('\n');
	const section = (name: string, body: string) => (body ? `0\nSECTION\n2\n${name}\n${lines(body)}\n0\nENDSEC\n` : '');
	return `${section('HEADER', head)}${section('BLOCKS', blocks)}${section('ENTITIES', entities)}0\nEOF\n`;
};

describe('DXF', () => {
	it('gives lines, arcs, circles and ellipses with their layers and unit', () => {
		const d = drawing(
			dxf(
				`0 LINE 8 walls 10 0 20 0 11 3 21 4
				 0 ARC 8 walls 10 0 20 0 40 2 50 350 51 80
				 0 CIRCLE 8 holes 10 5 20 5 40 1
				 0 ELLIPSE 8 holes 10 0 20 0 11 2 21 0 40 0.5 41 0 42 6.283185307179586`,
				'9 $INSUNITS 70 5'
			)
		);
		expect(d.unit).toBe('cm');
		expect(d.curves.map((c) => c.layer)).toEqual(['walls', 'walls', 'holes', 'holes']);
		expect(lengths(d)).toEqual([5, Number(Math.PI.toFixed(6)), Number((2 * Math.PI).toFixed(6)), 9.688448]);
	});

	it('gives polylines with bulges as lines and arcs', () => {
		// A stadium: two straight sides of 10 and two half circles of radius 2.
		const d = drawing(dxf('0 LWPOLYLINE 8 0 90 4 70 1 10 0 20 0 10 10 20 0 42 1 10 10 20 4 10 0 20 4 42 1'));
		expect(d.curves[0]!.curve.closed).toBe(true);
		expect(lengths(d)[0]).toBeCloseTo(20 + 4 * Math.PI, 5);
		expect(area(d.curves[0]!.curve)).toBeCloseTo(40 + 4 * Math.PI, 10);
	});

	it('gives splines with knots and weights', () => {
		const d = drawing(
			dxf(
				`0 SPLINE 8 s 70 12 71 2 72 6 73 3 40 0 40 0 40 0 40 1 40 1 40 1
				 41 1 41 0.7071067811865476 41 1 10 1 20 0 10 1 20 1 10 0 20 1`
			)
		);
		expect(curveLength(d.curves[0]!.curve)).toBeCloseTo(Math.PI / 2, 12);
	});

	it('places nested blocks, scaled, turned and mirrored', () => {
		const blocks = `0 BLOCK 8 0 2 inner 70 0 10 1 20 0 0 LINE 8 0 10 1 20 0 11 2 21 0 0 ENDBLK
			0 BLOCK 8 0 2 outer 70 0 10 0 20 0 0 INSERT 8 0 2 inner 10 0 20 0 41 3 42 3 0 ENDBLK`;
		const d = drawing(dxf('0 INSERT 8 parts 2 outer 10 10 20 10 50 90', '', blocks));
		expect(d.curves[0]!.layer).toBe('parts');
		const { curve } = d.curves[0]!;
		expect(pointAt(curve, 0)).toEqual({ x: expect.closeTo(10, 12), y: expect.closeTo(10, 12) });
		expect(pointAt(curve, 1)).toEqual({ x: expect.closeTo(10, 12), y: expect.closeTo(13, 12) });
	});

	it('counts what it does not read, and says when there is nothing else', () => {
		const d = drawing(dxf('0 LINE 8 0 10 0 20 0 11 1 21 0 0 TEXT 8 0 1 hello 0 TEXT 8 0 1 there 0 HATCH 8 0'));
		expect(d.skipped).toEqual(expect.arrayContaining(['2 TEXT', '1 HATCH']));
		expect(read(dxf('0 TEXT 8 0 1 hello'))).toEqual({ error: expect.stringContaining('it holds only 1 TEXT') });
		expect(read('AutoFormat Binary DXF\r\n\u001a')).toEqual({ error: expect.stringContaining('binary DXF') });
	});
});

describe('SVG', () => {
	const svg = (body: string, head = 'viewBox="0 0 100 100"') => `<svg xmlns="http://www.w3.org/2000/svg" ${head}>${body}</svg>`;

	it('reads basic shapes, y turned up', () => {
		const d = drawing(
			svg(
				'<rect x="10" y="20" width="30" height="40"/><circle cx="50" cy="50" r="10"/><ellipse cx="5" cy="5" rx="2" ry="1"/><line x1="0" y1="0" x2="3" y2="4"/><polygon points="0,0 10,0 10,10"/>'
			)
		);
		expect(lengths(d)).toEqual([140, 62.831853, 9.688448, 5, 34.142136]);
		expect(pointAt(d.curves[0]!.curve, 0)).toEqual({ x: 10, y: 80 });
	});

	it('reads every path command', () => {
		const d = drawing(
			svg(
				'<path fill="none" d="M0 0h10v10H5V5L0 5l-1 1C1 2 3 4 5 6c1 1 2 2 3 0S9 9 8 8s1 1 2 1Q3 3 4 4q1 1 2 0T9 9t1 1A5 5 0 0 1 20 20a5 3 10 1 0 4 4"/>'
			)
		);
		expect(d.curves).toHaveLength(1);
		const { curve } = d.curves[0]!;
		expect(segmentCount(curve)).toBeGreaterThanOrEqual(16);
		expect(pointAt(curve, segmentCount(curve))).toEqual({ x: 24, y: 76 });
	});

	it('applies groups, transforms and use; the group’s id is the layer', () => {
		const d = drawing(
			svg(
				'<defs><circle id="c" r="1"/></defs><g id="pins" transform="translate(10 20) scale(2)"><use href="#c" x="5"/></g><g transform="matrix(0 1 -1 0 0 0)"><line id="edge" x1="1" y1="0" x2="2" y2="0"/></g>'
			)
		);
		expect(d.curves.map((c) => c.layer)).toEqual(['pins', 'edge']);
		expect(d.curves[0]!.curve.data[4]).toBeCloseTo(20, 12);
		expect(d.curves[0]!.curve.data[6]).toBeCloseTo(2, 12);
		expect(pointAt(d.curves[1]!.curve, 1)).toEqual({ x: expect.closeTo(0, 12), y: expect.closeTo(98, 12) });
	});

	it('takes its unit from the width, closes what is filled, reports the rest', () => {
		const d = drawing(
			svg(
				'<path d="M0 0L10 0L10 10"/><text>no</text><rect display="none" width="3" height="3"/>',
				'width="50mm" viewBox="0 0 100 100"'
			)
		);
		expect(d.unit).toBe('mm');
		expect(d.curves).toHaveLength(1);
		expect(d.curves[0]!.curve.closed).toBe(true);
		expect(curveLength(d.curves[0]!.curve)).toBeCloseTo(10 + Math.SQRT1_2 * 10, 10);
		expect(d.skipped).toEqual(['1 text']);
	});

	it('has a sentence for what is none', () => {
		expect(read('<svg><path d="M0 0L1')).toEqual({ error: expect.stringMatching(/SVG/) });
		expect(read(svg('<text>only words</text>'))).toEqual({
			error: expect.stringContaining('holds no shapes; it holds only 1 text')
		});
	});

	it('never throws, whatever stands in a path', () => {
		fc.assert(
			fc.property(fc.string({ unit: fc.constantFrom(...'MLHVCSQTAZmlhvcsqtaz0123456789 .,-e') }), (d) => {
				const file = read(svg(`<path d="${d}"/>`));
				expect('error' in file || 'drawing' in file).toBe(true);
			}),
			{ numRuns: 300 }
		);
	});
});

describe('a drawing that is written', () => {
	const recipe = `units mm
rectangle r = (0, 0) to (40, 20)
fillet f = r.bottom with r.right radius 5
circle c = around (10, 10) radius 3
ellipse e = around (25, 10) radii 4, 2 turned 20 deg
spline s = (0, 30) to (10, 34) to (20, 30) to (30, 35)
polyline p = (0, 40) to (5, 44) to (9, 40) closed`;
	const model = evaluateRecipe(parseRecipe(recipe), {});
	const total = model.curves.reduce((sum, c) => sum + curveLength(c), 0);

	it.each([
		['DXF', writeDxf(model.curves, 'mm'), 9],
		['SVG', writeSvg(model.curves, 'mm'), 4]
	])('as %s reads back as what it was', (_, text, digits) => {
		const back = drawing(text);
		expect(back.unit).toBe('mm');
		expect(back.curves.reduce((sum, { curve }) => sum + curveLength(curve), 0)).toBeCloseTo(total, digits);
		const part = evaluateRecipe(parseRecipe('units mm\ndrawing d = from "d"'), { d: { drawing: back } });
		expect([...part.curvesByName.keys()].some((name) => /r_bottom|r\.bottom/.test(name))).toBe(true);
	});
});

describe('a recipe made of files', () => {
	it('fills outlines and islands, and leaves holes empty', () => {
		const files = {
			'rings.svg': read(
				'<svg viewBox="0 0 100 100"><g id="ring"><circle cx="50" cy="50" r="40"/><circle cx="50" cy="50" r="30"/><circle cx="50" cy="50" r="10"/></g></svg>'
			)
		};
		const text = recipeOfFiles(files);
		const result = finish(new Pipeline(() => 0).run({ text, files }));
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		const filled = result.regions.filter((r) => r.fill === 'triangles').map((r) => result.arrangement.faces[r.face]!.area);
		expect(filled.sort((a, b) => a - b)).toEqual([expect.closeTo(100 * Math.PI, 6), expect.closeTo(700 * Math.PI, 6)]);
	});

	const filledArea = (svg: string, rule?: MaterialRule): number => {
		const files = { 'f.svg': read(`<svg viewBox="0 0 100 100">${svg}</svg>`) };
		const result = finish(new Pipeline(() => 0).run({ text: recipeOfFiles(files, rule), files }));
		return result.regions.reduce((sum, r) => sum + (r.fill === 'triangles' ? result.arrangement.faces[r.face]!.area : 0), 0);
	};
	const square = (at: number, size: number, back = false) =>
		`M${at} ${at}${back ? `v${size}h${size}v${-size}` : `h${size}v${size}h${-size}`}Z`;

	it('takes for material what a shape fills by its own rule, and what the user says otherwise', () => {
		// Two outlines run the same way round, two the other way.
		const along = `d="${square(0, 100)}${square(10, 50)}"`;
		const against = `d="${square(0, 100)}${square(10, 50, true)}"`;
		expect(filledArea(`<path ${along}/>`)).toBeCloseTo(10_000, 6);
		expect(filledArea(`<path ${against}/>`)).toBeCloseTo(7500, 6);
		expect(filledArea(`<path fill-rule="evenodd" ${along}/>`)).toBeCloseTo(7500, 6);
		expect(filledArea(`<g style="fill-rule:evenodd"><path ${along}/></g>`)).toBeCloseTo(7500, 6);
		expect(filledArea(`<path ${along}/>`, 'alternate')).toBeCloseTo(7500, 6);
		expect(filledArea(`<path ${against}/>`, 'all')).toBeCloseTo(10_000, 6);
	});

	it('leaves out layers that are off or frozen in a DXF file', () => {
		const layer = (name: string, flag: number, colour: number) => `0 LAYER 2 ${name} 70 ${flag} 62 ${colour}`;
		const text = dxf(
			'0 CIRCLE 8 walls 10 0 20 0 40 9 0 CIRCLE 8 notes 10 0 20 0 40 5 0 CIRCLE 8 old 10 0 20 0 40 3',
			'',
			''
		).replace(
			'0\nSECTION\n2\nENTITIES',
			`0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n70\n3\n${[layer('walls', 0, 7), layer('notes', 0, -7), layer('old', 1, 7)].join(' ').split(' ').join('\n')}\n0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES`
		);
		expect(drawing(text).hidden).toEqual(['notes', 'old']);
		expect(recipeOfFiles({ 'p.dxf': read(text) })).toContain('drawing part1 = from "p.dxf" only "walls"\n');
	});

	it('puts the point of a region far from its outline', () => {
		const files = { 'p.csv': read('0,0\n10,0\n10,10\n0,10\n0,0\n\n3,3\n7,3\n7,5\n3,5\n3,3') };
		const text = recipeOfFiles(files);
		const [, solid] = /fill (\w+) triangles/.exec(text)!;
		const [, x, y] = new RegExp(`region ${solid} at \\(([\\d.]+), ([\\d.]+)\\)`).exec(text)!.map(Number);
		// The hole reaches up to y = 5; the room above it is the widest.
		expect(Math.min(y! - 5, 10 - y!, x!, 10 - x!)).toBeGreaterThan(2);
	});

	it('takes every outline of a coordinate file', () => {
		const files = { 'w.csv': read('0,0\n4,0\n4,4\n0,4\n0,0\n\n1,1\n2,1\n2,2\n1,1') };
		expect(recipeOfFiles(files)).toMatch(
			/polyline outline_1 = from "w.csv" outline 1\npolyline outline_2 = from "w.csv" outline 2/
		);
	});
});

describe('profile files', () => {
	const notes = (file: CoordinateFile) => ('outlines' in file ? (file.notes ?? []).join('\n') : '');
	const first = (file: CoordinateFile) => {
		if (!('outlines' in file)) throw new Error('no outline');
		expect(file.outlines).toHaveLength(1);
		return [...file.outlines[0]!.x].map((x, k) => [x, file.outlines[0]!.y[k]]);
	};
	const around = [
		[1, 0.001],
		[0.5, 0.06],
		[0, 0],
		[0.5, -0.04],
		[1, -0.001]
	];

	it('with a name and one continuous outline', () => {
		const file = read('Blade section 24\n1.0 0.001\n0.5 0.06\n0.0 0.0\n0.5 -0.04\n1.0 -0.001\n');
		expect(first(file)).toEqual(around);
		expect(notes(file)).toContain('its name: Blade section 24');
	});

	it('with an upper and a lower run are put end to end', () => {
		expect(first(read('Blade\n0 0\n0.5 0.06\n1 0.001\n\n0 0\n0.5 -0.04\n1 -0.001\n'))).toEqual(around);
		expect(first(read('0 0\n0.5 -0.04\n1 -0.001\n\n0 0\n0.5 0.06\n1 0.001\n'))).toEqual(around);
	});

	it('with counts before the runs lose the counts', () => {
		const file = read('Blade\n3. 3.\n\n0 0\n0.5 0.06\n1 0.001\n\n0 0\n0.5 -0.04\n1 -0.001\n');
		expect(first(file)).toEqual(around);
		expect(notes(file)).toContain('Two runs of 3 and 3 points');
	});

	it('two outlines that are no profile stay two', () => {
		const file = read('0 0\n1 0\n1 1\n\n0 5\n1 5\n1 6\n');
		expect('outlines' in file && file.outlines).toHaveLength(2);
	});

	it('notice repeats, direction, names of rows and further columns', () => {
		const file = read('name,x,y,z\nP1,0,0,7\nP2,0,4,8\nP3,0,4,8\nP4,4,4,9\nP5,0,0,7\n');
		expect(notes(file)).toContain('x and y are columns 2 and 3');
		expect(notes(file)).toContain('closed and runs clockwise');
		expect(notes(file)).toContain('1 point repeats its neighbour');
		expect('outlines' in file && file.outlines[0]!.columns).toHaveLength(4);
	});
});

describe('outlines that close but for rounding', () => {
	const meshOf = (text: string) => {
		const file = read(text);
		const recipe = `${recipeOfFiles({ 'a.file': file })}size 0.1\n`;
		return finish(new Pipeline(() => 0).run({ text: recipe, files: { 'a.file': file } }));
	};

	it.each([
		['a path of relative steps', '<svg viewBox="0 0 1 1"><path d="M.3 .1h.7v.7h-.8l.1-.7z"/></svg>', 4],
		['one that ends without a z', '<svg viewBox="0 0 1 1"><path d="M.3 .1h.7v.7h-.8l.1-.7"/></svg>', 4],
		[
			'one with a step of a rounding',
			'<svg viewBox="0 0 24 24"><path d="M5.22 14.03a.75.75 0 0 1 1.06-1.06l6 6a.75.75 0 0 1-1.06 1.06l-6.0000000000000001-6z"/></svg>',
			4
		]
	])('are closed once: %s', (_, svg, segments) => {
		const { curve } = drawing(svg).curves[0]!;
		expect([curve.closed, segmentCount(curve)]).toEqual([true, segments]);
		const { unfilled, mesh } = meshOf(svg);
		expect(unfilled).toEqual([]);
		expect(mesh.x.length).toBeLessThan(2000);
	});

	it('a closed polyline of a DXF, whose last point is its first but for rounding', () => {
		const d = drawing(
			dxf('0 LWPOLYLINE 8 0 90 5 70 1 10 0.1 20 0.3 10 1.1 20 0.3 10 1.1 20 0.9 10 0.1 20 0.9 10 0.1 20 0.30000000000000004')
		);
		expect([d.curves[0]!.curve.closed, segmentCount(d.curves[0]!.curve)]).toEqual([true, 4]);
	});

	it('rows of a file that come back to their start, far from the origin too', () => {
		for (const far of [0, 5e6]) {
			const rows = [
				[0, 0],
				[1, 0],
				[1, 1],
				[0, 1],
				[2e-16 * far + 1e-15, -1e-15]
			];
			const text = rows.map(([x, y]) => `${far + x!} ${far + y!}`).join('\n');
			const file = read(text);
			expect('notes' in file && file.notes!.join()).toMatch(/closed and runs counter-clockwise/);
			const { curves } = evaluateRecipe(parseRecipe('recipe 1\npolyline p = from "a.csv"\n'), { 'a.csv': file });
			expect([curves[0]!.closed, segmentCount(curves[0]!)]).toEqual([true, 4]);
		}
	});
});
