import { describe, expect, it } from 'vitest';
import { numbers } from '../fill/domains.test-support.ts';
import { gridOf, type DeliveryGrid, type GridCells } from '../mesh/grid.ts';
import { regionAreas } from '../mesh/mesh.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { solidOf } from '../recipe/statements/solid.ts';
import { solidGrid } from './solid.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const made = (text: string) => {
	const result = run(text);
	const errors = result.findings.filter((f) => f.severity === 'error').map((f) => f.message);
	expect(errors, text).toEqual([]);
	return { result, grid: solidGrid(gridOf(result.mesh, result.model), solidOf(result.model)!, result.model.frame) };
};
type V = [number, number, number];
const minus = (a: V, b: V): V => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: V, b: V): V => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
const dot = (a: V, b: V) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** Faces of the cells of the SIDS, outward. */
const faces: Record<string, number[][]> = {
	tetrahedron: [
		[0, 2, 1],
		[0, 1, 3],
		[1, 2, 3],
		[2, 0, 3]
	],
	pyramid: [
		[0, 3, 2, 1],
		[0, 1, 4],
		[1, 2, 4],
		[2, 3, 4],
		[3, 0, 4]
	],
	prism: [
		[0, 1, 4, 3],
		[1, 2, 5, 4],
		[2, 0, 3, 5],
		[0, 2, 1],
		[3, 4, 5]
	],
	hexahedron: [
		[0, 3, 2, 1],
		[0, 1, 5, 4],
		[1, 2, 6, 5],
		[2, 3, 7, 6],
		[0, 4, 7, 3],
		[4, 5, 6, 7]
	]
};
const sizes: Record<string, number> = { tetrahedron: 4, pyramid: 5, prism: 6, hexahedron: 8, triangle: 3, quadrilateral: 4 };

/** Everything that must hold of a solid; answers its volume. */
function check({ coordinates: [x, y, z], sections, patches }: DeliveryGrid, where: string, hasAllSides = true): number {
	const at = (k: number): V => [x![k]!, y![k]!, z![k]!];
	/** The vector of a face: half the cross product of its diagonals, or of two edges. */
	const vector = (nodes: number[]): V => {
		const [a, b, c, d] = nodes.map(at) as [V, V, V, V?];
		const v = d ? cross(minus(c, a), minus(d, b)) : cross(minus(b, a), minus(c, a));
		return [v[0] / 2, v[1] / 2, v[2] / 2];
	};
	const open = new Map<string, number[]>();
	let volume = 0;
	for (const { shape, nodes } of sections)
		for (let k = 0; k < nodes.length; k += sizes[shape]!) {
			const cell = [...nodes.subarray(k, k + sizes[shape]!)];
			expect(new Set(cell).size, `${where}: a ${shape} has a node twice`).toBe(cell.length);
			let faceVolume = 0;
			for (const face of faces[shape]!) {
				const list = face.map((i) => cell[i]!);
				// Divergence theorem: a third of the sum of centre times vector; exact for flat faces.
				const centre = list
					.map(at)
					.reduce((s, p): V => [s[0] + p[0] / list.length, s[1] + p[1] / list.length, s[2] + p[2] / list.length], [0, 0, 0]);
				faceVolume += dot(centre, vector(list)) / 3;
				const key = [...list].sort((a, b) => a - b).join(' ');
				if (!open.delete(key)) open.set(key, list);
			}
			expect(faceVolume, `${where}: a ${shape} of negative volume`).toBeGreaterThan(0);
			volume += faceVolume;
		}
	// What is left over is the boundary; every side of a patch is one of its faces, and looks outward.
	const listed = new Set<string>();
	let sum: V = [0, 0, 0];
	let surface = 0;
	const add = ({ shape, nodes }: GridCells) => {
		for (let k = 0; k < nodes.length; k += sizes[shape]!) {
			const side = [...nodes.subarray(k, k + sizes[shape]!)];
			const key = [...side].sort((a, b) => a - b).join(' ');
			const face = open.get(key);
			expect(face, `${where}: a side that is no face of the boundary`).toBeDefined();
			expect(dot(vector(side), vector(face!)), `${where}: a side that looks inward`).toBeGreaterThan(0);
			listed.add(key);
			const v = vector(side);
			surface += Math.sqrt(dot(v, v));
			sum = [sum[0] + v[0], sum[1] + v[1], sum[2] + v[2]];
		}
	};
	for (const patch of patches) patch.sides.forEach(add);
	if (hasAllSides) {
		expect(listed.size, `${where}: sides of the boundary in no patch`).toBe(open.size);
		for (const s of sum) expect(Math.abs(s)).toBeLessThan(1e-12 * surface);
	}
	return volume;
}

/** ∫ r dA of a plane mesh, by its elements: area times the distance of the centroid. */
function moment({ mesh }: ReturnType<typeof run>, axis: 'x' | 'y'): number {
	const r = axis === 'x' ? mesh.y : mesh.x;
	let sum = 0;
	const triangle = (a: number, b: number, c: number) => {
		const area =
			((mesh.x[b]! - mesh.x[a]!) * (mesh.y[c]! - mesh.y[a]!) - (mesh.x[c]! - mesh.x[a]!) * (mesh.y[b]! - mesh.y[a]!)) / 2;
		sum += (area * (r[a]! + r[b]! + r[c]!)) / 3;
	};
	for (let k = 0; k < mesh.triangles.length; k += 3) triangle(mesh.triangles[k]!, mesh.triangles[k + 1]!, mesh.triangles[k + 2]!);
	for (let k = 0; k < mesh.quads.length; k += 4) {
		const [a, b, c, d] = mesh.quads.subarray(k, k + 4) as unknown as [number, number, number, number];
		triangle(a, b, c);
		triangle(a, c, d);
	}
	return sum;
}

describe('a slab', () => {
	it('has the volume of area times thickness, its layers grow, and its sides are groups', () => {
		const { result, grid } = made(`rectangle box = (0, 0) to (40, 20)
rectangle block = (40, 0) to (60, 20)
circle hole = around (20, 10) radius 4
region r at (1, 1)
region s at (50, 10)
region bore at (20, 10)
size 3
divide block.top into 5
fill r triangles
fill s structured
fill bore none
group outside = outer
group pins = hole
solid slab 10 into 4 growth 1.5 sides front, back as wall`);
		const volume = check(grid, 'slab');
		const area = regionAreas(result.mesh).reduce((a, b) => a + b, 0);
		expect(volume / (10 * area)).toBeCloseTo(1, 12);
		expect(grid.patches.map((p) => [p.name, p.kind])).toEqual([
			['outside', 'general'],
			['pins', 'general'],
			['front', 'wall'],
			['back', 'wall']
		]);
		const heights = [...new Set(grid.coordinates[2])].sort((a, b) => a - b);
		expect(heights).toHaveLength(5);
		expect((heights[2]! - heights[1]!) / (heights[1]! - heights[0]!)).toBeCloseTo(1.5, 12);
		expect(heights.at(-1)).toBe(10);
		expect(grid.sections.map((s) => [s.shape, s.region])).toEqual([
			['prism', 0],
			['hexahedron', 1]
		]);
	});
});

describe('a wedge', () => {
	const valve = (fill: string, solid: string) => `frame axisymmetric about x
polyline wall = (0, 8) to (10, 5) to (30, 8)
line inlet = (0, 0) to (0, 8)
line axis_line = (0, 0) to (30, 0)
line outlet = (30, 0) to (30, 8)
region r at (5, 2)
size 1.5
fill r ${fill}
group wall = wall as wall
group inlet = inlet as inflow
group outlet = outlet as outflow
group axis_line = axis_line as axis
solid ${solid}`;

	it.each(['triangles', 'structured corners (0, 0), (30, 0), (30, 8), (0, 8)'])(
		'of %s has the volume of sin(angle) times the moment of its section, and nodes on the axis once',
		(fill) => {
			const { result, grid } = made(valve(fill, 'wedge 4 deg sides wedge_front, wedge_back'));
			expect(check(grid, fill) / (Math.sin((4 * Math.PI) / 180) * moment(result, 'x'))).toBeCloseTo(1, 12);
			const [x, y, z] = grid.coordinates;
			const places = new Set([...x!.keys()].map((k) => `${x![k]} ${y![k]} ${z![k]}`));
			expect(places.size).toBe(x!.length);
			// The two planes mirror one another to the last bit.
			const [front, back] = grid.patches.slice(-2).map((p) => p.sides.flatMap((s) => [...s.nodes]));
			const planeOf = (nodes: number[]) => new Set(nodes.map((k) => `${x![k]} ${y![k]} ${Math.abs(z![k]!)}`));
			expect(planeOf(front!)).toEqual(planeOf(back!));
			for (const k of front!) expect(z![k]! >= 0).toBe(true);
			for (const k of back!) expect(z![k]! <= 0).toBe(true);
			// The axis has no side.
			expect(grid.patches.find((p) => p.name === 'axis_line')!.sides).toEqual([]);
		}
	);

	it('about the y axis, and of several cells around, or a full turn', () => {
		const about = valve('triangles', 'revolve 90 deg into 6 sides a, b')
			.replace('about x', 'about y')
			.replaceAll(/\((\d+), (\d+)\)/g, '($2, $1)');
		const turned = made(about);
		const angle = Math.PI / 2 / 6;
		expect(check(turned.grid, 'about y') / (6 * Math.sin(angle) * moment(turned.result, 'y'))).toBeCloseTo(1, 12);
		const full = made(valve('triangles', 'revolve 360 deg into 12'));
		expect(check(full.grid, 'full') / (12 * Math.sin(Math.PI / 6) * moment(full.result, 'x'))).toBeCloseTo(1, 12);
		expect(full.grid.patches.map((p) => p.name)).toEqual(['wall', 'inlet', 'outlet', 'axis_line']);
	});

	it('of random meshes with cells on the axis in every way has positive cells that fit', () => {
		const random = numbers(17);
		const shapes = new Set<string>();
		for (let n = 0; n < 25; n++) {
			const xs = [0, 6, 12, 18].map((x) => x + 2 * random.next());
			const low = xs.map(() => (random.below(2) === 0 ? 0 : 1 + 2 * random.next()));
			// The section touches the axis along lines, at single points, or not.
			const bottom = xs.map((x, k) => `(${x}, ${low[k]})`);
			const quads = random.below(2) === 0;
			const text = `frame axisymmetric about x
polyline low_line = ${bottom.join(' to ')}
polyline rest = ${bottom.at(-1)} to (${xs[3]}, 9) to (${xs[0]}, 9) to ${bottom[0]}
region r at (10, 8)
size ${1 + 2 * random.next()}
fill r ${quads ? `structured corners ${bottom[0]}, ${bottom.at(-1)}, (${xs[3]}, 9), (${xs[0]}, 9)` : 'triangles'}
group all = outer
solid revolve ${10 + 80 * random.next()} deg into ${1 + random.below(3)} sides a, b`;
			const result = run(text);
			if (result.findings.some((f) => f.severity === 'error') || result.mesh.x.length === 0) continue;
			const { grid } = made(text);
			check(grid, `${n}: ${text}`);
			for (const { shape } of grid.sections) shapes.add(shape);
		}
		expect([...shapes].sort()).toEqual(['hexahedron', 'prism', 'pyramid', 'tetrahedron']);
	});
});

describe('a solid that cannot be', () => {
	it.each([
		['solid wedge 4 deg', /a wedge turns about the axis; write “frame axisymmetric about x” above/],
		['solid slab -1', /a thickness/],
		['solid slab 1 into 2.5', /layers are a whole number from 1/],
		['frame axisymmetric about x\nsolid wedge 120 deg', /a wedge opens by more than 0° and up to 90°/],
		['frame axisymmetric about x\nsolid revolve 360 deg into 2', /turns by 90° at most; use more of them/],
		['group front = box.left\nsolid slab 1 sides front, back', /a group “front” exists already/]
	])('%s is told', (text, message) => {
		const { findings } = run(`rectangle box = (0, 0) to (4, 2)\n${text}`);
		expect(findings.map((f) => f.message).join()).toMatch(message);
	});
});
