import { finish } from '../src/core/numeric/work.ts';
import { blocksInAC } from '../src/core/fill/structured/blocks.test-support.ts';
import { largestGrowth, stencils } from '../src/core/fill/structured/smooth.ts';
import { Pipeline, type Result } from '../src/core/pipeline.ts';

/** Structured layouts, by name. */
const layouts: Record<string, string> = {
	'ten blocks in an O around an ellipse, even cuts': blocksInAnO(),
	'four blocks in a C around a profile': blocksInAC(),
	'an elbow': `arc inner = (1, 0) to (0, 1) around (0, 0)
arc outer = (2, 0) to (0, 2) around (0, 0)
line inlet = (1, 0) to (2, 0)
line outlet = (0, 1) to (0, 2)
region r at (1.06, 1.06)
divide inlet into 20 first 0.005 at both
divide outer into 40
fill r structured`,
	'a T of four blocks': `polyline p = (0, 0) to (6, 0) to (6, 1) to (3.5, 1) to (3.5, 4) to (2.5, 4) to (2.5, 1) to (0, 1) closed
line c1 = (2.5, 1) to (2.5, 0)
line c2 = (3.5, 1) to (3.5, 0)
line c3 = (2.5, 1) to (3.5, 1)
region a at (1, 0.5)
region b at (3, 0.5)
region c at (5, 0.5)
region d at (3, 2)
size 0.1
fill a, b, c, d structured`,
	'a nozzle with a step': `spline wall = (0, 2) to (2, 1.6) to (4, 1) to (6, 1.2)
line inlet = (0, 0) to (0, 2)
line axis = (0, 0) to (6, 0)
line gate = (6, 0) to (6, 1.2)
line step = (6, 1.2) to (6, 2)
line top = (6, 2) to (10, 2)
line outlet = (10, 2) to (10, 1.2)
line low = (10, 1.2) to (10, 0)
line axis2 = (6, 0) to (10, 0)
line shear = (6, 1.2) to (10, 1.2)
region a at (3, 0.5)
region b at (8, 0.5)
region c at (8, 1.6)
divide inlet into 24 bias 8 toward wall
divide axis into 60
divide axis2 into 40
divide step into 16
fill a, b, c structured`,
	'a ring between an off-centre circle and a square': `rectangle box = around (0, 0) size 4, 4
circle hole = around (0.4, 0.2) radius 0.7
region r at (1.8, 1.8)
size 0.15
fill r structured into 12 bias 3 toward hole`,
	'a full disc': `circle o = around (0, 0) radius 1
region r at (0, 0)
size 0.06
fill r structured`,
	'a triangle': `polyline p = (0, 0) to (4, 0) to (1, 3) closed
region r at (1, 1)
size 0.2
fill r structured`,
	'a pentagon': `polygon p = around (0, 0) sides 5 radius 2
region r at (0, 0)
size 0.2
fill r structured`
};

/** Table rows: quads, smallest angle and largest growth of cells without smoothing and with 40 sweeps, and what the cells at walls came to. */
export function layoutRows(): string[] {
	return Object.entries(layouts).map(([name, text]) => {
		const plain = measured(name, text);
		const smoothed = measured(name, text.replace(/^(fill .* structured.*)$/gm, '$1 smooth 40'));
		const { walls } = plain;
		const height = walls.length > 0 ? `${low(walls, 'min')} to ${high(walls, 'max')}` : '–';
		const lean = walls.length > 0 ? `${high(walls, 'meanLean')}°` : '–';
		return `| ${name} | ${plain.quads} | ${plain.smallest.toFixed(1)}° → ${smoothed.smallest.toFixed(1)}° | ${plain.growth.toFixed(2)} → ${smoothed.growth.toFixed(2)} | ${height} | ${lean} |`;
	});
}

const low = (walls: Result['walls'], key: 'min') => Math.min(...walls.map((w) => w[key])).toFixed(3);
const high = (walls: Result['walls'], key: 'max' | 'meanLean') =>
	Math.max(...walls.map((w) => w[key])).toFixed(key === 'max' ? 3 : 1);

function measured(name: string, text: string) {
	const { mesh, findings, walls } = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
	const errors = findings.filter((f) => f.severity === 'error');
	if (errors.length > 0) throw new Error(`${name}: ${errors[0]!.message}`);
	const { x, y, quads, edges } = mesh;
	let smallest = 180;
	for (let q = 0; q < quads.length; q += 4)
		for (let k = 0; k < 4; k++) {
			const [p, a, b] = [quads[q + k]!, quads[q + ((k + 1) & 3)]!, quads[q + ((k + 3) & 3)]!];
			const [ux, uy, vx, vy] = [x[a]! - x[p]!, y[a]! - y[p]!, x[b]! - x[p]!, y[b]! - y[p]!];
			smallest = Math.min(smallest, (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI);
		}
	return {
		quads: quads.length / 4,
		smallest,
		growth: largestGrowth(x, y, stencils(x.length, quads, new Set(edges).size)),
		walls
	};
}

/** Blocks in an O around a body, with cuts that lean. */
function blocksInAnO(): string {
	const cuts = 10;
	const angle = (k: number) => (360 * k) / cuts;
	const lines = ['ellipse body = around (0, 0) radii 1, 0.3', 'circle far = around (0, 0) radius 8', 'divide body into 24'];
	for (let k = 0; k < cuts; k++) {
		lines.push(
			`line cut${k} = (cos(${angle(k)} deg), 0.3*sin(${angle(k)} deg)) to (8*cos(${angle(k)} deg), 8*sin(${angle(k)} deg))`,
			`divide cut${k} into 40 first 0.002 at body`,
			`region b${k} at (4*cos(${angle(k + 0.5)} deg), 4*sin(${angle(k + 0.5)} deg))`
		);
	}
	return [...lines, `fill ${Array.from({ length: cuts }, (_, k) => `b${k}`).join(', ')} structured`].join('\n');
}
