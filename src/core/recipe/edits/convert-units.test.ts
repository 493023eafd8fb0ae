import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readGeometryFile } from '../../../formats/geometry-file.ts';
import { regionAreas } from '../../mesh/mesh.ts';
import { finish } from '../../numeric/work.ts';
import { Pipeline } from '../../pipeline.ts';
import { convertUnits, setFrame, setUnits } from './convert-units.ts';
import { parseRecipe } from '../language/parse.ts';
import type { CoordinateFiles } from '../model/model.ts';

const converted = (text: string, unit: string, files: CoordinateFiles = {}) => {
	const done = convertUnits(parseRecipe(text), unit, files);
	if ('error' in done) throw new Error(done.error);
	return done.text;
};

describe('units that are converted', () => {
	it('change the numbers that are lengths, and no others', () => {
		const text = `recipe 1
units mm
let D = 80 range 40 to 100
let beta = 0.6 range 0.4 to 0.75
let d = beta*D
let turn = 15 deg
let n = 12
point p = (0, D/2)
line a = p to p + (1.5*D, (d - D)/2 + 25)
circle c = around (2*D, 3 in) radius sqrt(D*4)
ellipse e = around (300, 0) radii 8, 3 turned turn
rectangle r = (0, 100) to (60, 140)
region q at (10, 120)
divide r.bottom into n first 0.5 at r.left
divide r.top into 12 bias 3 toward r.left
size 5 growth 1.2
fill q triangles
`;
		const lines = converted(text, 'm').split('\n');
		expect(lines.slice(1, 11)).toEqual([
			'units m',
			'let D = 0.08 range 0.04 to 0.1',
			'let beta = 0.6 range 0.4 to 0.75',
			'let d = beta*D',
			'let turn = 15 deg',
			'let n = 12',
			'point p = (0, D/2)',
			'line a = p to p + (1.5*D, (d - D)/2 + 0.025)',
			// The square root of D times a length.
			'circle c = around (2*D, 3 in) radius sqrt(D*0.004)',
			'ellipse e = around (0.3, 0) radii 0.008, 0.003 turned turn'
		]);
		expect(lines.slice(13)).toEqual([
			'divide r.bottom into n first 0.0005 at r.left',
			'divide r.top into 12 bias 3 toward r.left',
			'size 0.005 growth 1.2',
			'fill q triangles',
			''
		]);
	});

	it('add the statement where none says the unit', () => {
		expect(converted('recipe 1\nline a = (0, 0) to (10, 0)\n', 'cm')).toBe('recipe 1\nunits cm\nline a = (0, 0) to (1, 0)\n');
	});

	it('refuse with the place where the drawing would not keep its size', () => {
		const done = convertUnits(parseRecipe('let a = 3\nline wall = (0, 0) to (floor(a/2), 5)'), 'm', {});
		expect(done).toMatchObject({ error: expect.stringContaining('“wall” would not keep its size') });
	});

	it.each(['venturi', 'cold-plate', 'relief-valve', 'splitter-elbow', 'gasket-groove'])('keep the mesh of %s', (demo) => {
		const text = readFileSync(`demo/${demo}.tessellon`, 'utf8');
		const files = { 'throat-wall.csv': readGeometryFile(readFileSync('demo/throat-wall.csv')) };
		const run = (of: string) => finish(new Pipeline(() => 0).run({ text: of, files }));
		const [before, after] = [run(text), run(converted(text, 'm', files))];
		expect(after.findings.map((f) => f.code)).toEqual(before.findings.map((f) => f.code));
		// Counts of triangles follow from roundings; areas do not.
		expect(Math.abs(after.mesh.x.length / before.mesh.x.length - 1)).toBeLessThan(0.02);
		const areas = regionAreas(before.mesh);
		regionAreas(after.mesh).forEach((area, r) => expect(area * 1e6).toBeCloseTo(areas[r]!, 2));
	});
});

describe('unit and frame', () => {
	it('are set where they stand, or added', () => {
		expect(setUnits(parseRecipe('units mm\nline a = (0, 0) to (10, 0)'), 'm')).toBe('units m\nline a = (0, 0) to (10, 0)');
		expect(setFrame(parseRecipe('recipe 1\nframe planar\n'), 'y')).toBe('recipe 1\nframe axisymmetric about y\n');
		expect(setFrame(parseRecipe('recipe 1\nframe axisymmetric about x\n'), 'planar')).toBe('recipe 1\nframe planar\n');
		expect(setFrame(parseRecipe('recipe 1\n'), 'x')).toContain('frame axisymmetric about x\n');
	});
});
