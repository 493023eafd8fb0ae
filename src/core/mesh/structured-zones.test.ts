import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { structuredZones, type StructuredZones } from './structured-zones.ts';
import { groupEdges, isBoundary, type Mesh } from './mesh.ts';

const run = (text: string) => {
	const { mesh, findings } = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
	expect(findings.filter((f) => f.severity === 'error').map((f) => f.message)).toEqual([]);
	return { mesh, made: structuredZones(mesh) };
};

/** Every quadrilateral of the zoned regions is a cell of one zone, right-handed; joins name the same nodes on both sides. */
function check(mesh: Mesh, { zones, joins, stretches, inner }: StructuredZones): void {
	const cells = new Set<string>();
	for (const { ni, nj, nodes } of zones) {
		expect(nodes).toHaveLength(ni * nj);
		for (let j = 0; j + 1 < nj; j++)
			for (let i = 0; i + 1 < ni; i++) {
				const [a, b, c, d] = [nodes[i + ni * j]!, nodes[i + 1 + ni * j]!, nodes[i + 1 + ni * (j + 1)]!, nodes[i + ni * (j + 1)]!];
				cells.add([a, b, c, d].sort((p, q) => p - q).join(' '));
				const area =
					(mesh.x[c]! - mesh.x[a]!) * (mesh.y[d]! - mesh.y[b]!) - (mesh.x[d]! - mesh.x[b]!) * (mesh.y[c]! - mesh.y[a]!);
				expect(area).toBeGreaterThan(0);
			}
	}
	const zoned = new Set(zones.map((z) => z.region));
	const quads = [...mesh.quadRegion.keys()].filter((q) => zoned.has(mesh.quadRegion[q]!));
	expect(cells.size).toBe(quads.length);
	for (const q of quads) expect(cells.has([...mesh.quads.subarray(4 * q, 4 * q + 4)].sort((a, b) => a - b).join(' '))).toBe(true);
	const nodeAt = (z: number, [i, j]: readonly [number, number]) => zones[z]!.nodes[i + zones[z]!.ni * j]!;
	let joined = 0;
	for (const { zone, donor, from, to, donorFrom, donorTo, transform } of joins) {
		const length = Math.abs(to[0] - from[0]) + Math.abs(to[1] - from[1]);
		joined += length;
		for (let k = 0; k <= length; k++) {
			const along = (a: readonly [number, number], b: readonly [number, number]): [number, number] => [
				a[0] + Math.round(((b[0] - a[0]) * k) / length),
				a[1] + Math.round(((b[1] - a[1]) * k) / length)
			];
			expect(nodeAt(zone, along(from, to))).toBe(nodeAt(donor, along(donorFrom, donorTo)));
		}
		// The transform takes the zone's step along the side to the donor's, and keeps the hand.
		const step = to[0] !== from[0] ? Math.sign(to[0] - from[0]) : 2 * Math.sign(to[1] - from[1]);
		const theirs = donorTo[0] !== donorFrom[0] ? Math.sign(donorTo[0] - donorFrom[0]) : 2 * Math.sign(donorTo[1] - donorFrom[1]);
		expect(transform[Math.abs(step) - 1]! * Math.sign(step)).toBe(theirs);
		const matrix = [0, 1].map((axis) =>
			[0, 1].map((index) => (Math.abs(transform[index]!) - 1 === axis ? Math.sign(transform[index]!) : 0))
		);
		expect(matrix[0]![0]! * matrix[1]![1]! - matrix[0]![1]! * matrix[1]![0]!).toBe(1);
	}
	// Every edge of a group is on the side of a zone, once for each group it is in, or between elements that are in none.
	const onSides = new Map<string, number>();
	for (const { zone, from, to, group } of [...stretches, ...inner]) {
		if (group < 0) continue;
		const length = Math.abs(to[0] - from[0]) + Math.abs(to[1] - from[1]);
		const [di, dj] = [Math.sign(to[0] - from[0]), Math.sign(to[1] - from[1])];
		for (let k = 0; k < length; k++) {
			const at = (k: number) => nodeAt(zone, [from[0] + k * di, from[1] + k * dj]);
			const key = [group, ...[at(k), at(k + 1)].sort((a, b) => a - b)].join(' ');
			onSides.set(key, (onSides.get(key) ?? 0) + 1);
		}
	}
	const ofZones = new Set(zones.flatMap(({ nodes }) => [...nodes]));
	mesh.groups.forEach((group, g) => {
		if (!isBoundary(group)) return;
		for (const e of groupEdges(mesh, group)) {
			const ends = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
			if (ends.every((n) => ofZones.has(n)))
				expect(onSides.get([g, ...ends.sort((a, b) => a - b)].join(' ')), `an edge of ${group.name}`).toBe(1);
		}
	});
	const free = stretches.reduce((sum, { from, to }) => sum + Math.abs(to[0] - from[0]) + Math.abs(to[1] - from[1]), 0);
	const around = zones.reduce((sum, { ni, nj }) => sum + 2 * (ni + nj - 2), 0);
	expect(joined + free).toBe(around);
}

describe('zones of rows', () => {
	it('are one of a block, with its groups along its sides', () => {
		const { mesh, made } = run(`rectangle box = (0, 0) to (8, 4)
region r at (1, 1)
divide box.bottom into 6
divide box.left into 3
fill r structured
group low = box.bottom
group rest = box.left, box.top`);
		check(mesh, made);
		expect(made.zones.map(({ ni, nj }) => [ni, nj].sort((a, b) => a - b))).toEqual([[4, 7]]);
		expect(made.joins).toEqual([]);
		expect(made.stretches.map((s) => s.group).sort()).toEqual([-1, 0, 1, 1]);
	});

	it('are joined where blocks meet, whichever way their rows run, and along parts of sides', () => {
		const { mesh, made } = run(`rectangle a = (0, 0) to (10, 10)
rectangle b = (10, 0) to (20, 4)
rectangle c = (10, 4) to (18, 10)
region r at (5, 5)
region s at (15, 2)
region t at (15, 8)
size 1
fill r, s, t structured`);
		check(mesh, made);
		expect(made.zones).toHaveLength(3);
		// Each of three joins stands on both sides.
		expect(made.joins).toHaveLength(6);
	});

	it('cut a ring once and join it to itself, and a disc and a star into several', () => {
		const ring = run(`circle rim = around (0, 0) radius 10
circle bore = around (0, 0) radius 4
region r at (7, 0)
region hole at (0, 0)
divide rim into 24
fill r structured
fill hole none`);
		check(ring.mesh, ring.made);
		expect(ring.made.zones).toHaveLength(1);
		expect(ring.made.joins).toHaveLength(2);
		expect(ring.made.joins.every((j) => j.zone === 0 && j.donor === 0)).toBe(true);
		const disc = run('circle rim = around (0, 0) radius 10\nregion r at (0, 0)\ndivide rim into 24\nfill r structured');
		check(disc.mesh, disc.made);
		expect(disc.made.zones.length).toBeGreaterThanOrEqual(5);
		const star = run(`polygon five = around (0, 0) sides 5 radius 10
region r at (0, 0)
size 1
fill r structured`);
		check(star.mesh, star.made);
		expect(star.made.zones).toHaveLength(5);
	});

	it('leave regions of triangles aside', () => {
		const { mesh, made } = run(`rectangle a = (0, 0) to (10, 10)
rectangle b = (10, 0) to (20, 10)
region r at (5, 5)
region s at (15, 5)
size 1
fill r structured
fill s triangles`);
		check(mesh, made);
		expect([made.zones.map((z) => z.region), made.rest]).toEqual([[0], [1]]);
	});

	it('have groups between elements on one side of a zone, once, whatever lies beyond', () => {
		const walls = `rectangle box = (0, 0) to (8, 4)
line between = (4, 0) to (4, 4)
line probe = (1, 2) to (2, 2)
size 0.5
group contact = between as general
group gauge = probe as general
group sides = outer as wall`;
		const both = `${walls}\nregion r at (3, 3)\nregion s at (6, 1)\nfill r quads`;
		for (const other of ['structured', 'triangles']) {
			const { mesh, made } = run(`${both}\nfill s ${other}`);
			check(mesh, made);
			const lengths = new Map<string, number>();
			for (const { from, to, group } of made.inner) {
				const { name } = mesh.groups[group]!;
				lengths.set(name, (lengths.get(name) ?? 0) + Math.abs(to[0] - from[0]) + Math.abs(to[1] - from[1]));
			}
			expect(lengths.get('contact')).toBe(8);
		}
	});
});
