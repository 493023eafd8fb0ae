import { describe, expect, it } from 'vitest';
import { numbers } from '../fill/domains.test-support.ts';
import { type BoundaryGroup, groupEdges, isBoundary, regionAreas, type Mesh } from '../mesh/mesh.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const box = 'rectangle box = (0, 0) to (40, 20)\nregion r at (1, 1)\nsize 2\nfill r triangles\n';
const serious = ({ findings }: ReturnType<typeof run>) => findings.filter((f) => f.severity === 'error').map((f) => f.message);
/** How often nodes stand at a place. */
const nodesAt = ({ x, y }: Mesh, px: number, py: number) =>
	[...x.keys()].filter((k) => Math.hypot(x[k]! - px, y[k]! - py) < 1e-9).length;

/** Vertices − edges + faces, with the undirected edges of all elements. */
function euler({ x, triangles, quads }: Mesh): number {
	const edges = new Set<string>();
	for (const [list, size] of [
		[triangles, 3],
		[quads, 4]
	] as const)
		for (let e = 0; e < list.length; e += size)
			for (let k = 0; k < size; k++) {
				const [a, b] = [list[e + k]!, list[e + ((k + 1) % size)]!];
				edges.add(a < b ? `${a} ${b}` : `${b} ${a}`);
			}
	return x.length - edges.size + triangles.length / 3 + quads.length / 4;
}

const boundaryGroup = ({ mesh }: { mesh: Mesh }, k: number): BoundaryGroup => mesh.groups.filter(isBoundary)[k]!;

/** Edges that one element alone has: the boundary of the opened mesh. */
function boundary({ triangles, quads }: Mesh): Set<string> {
	const open = new Set<string>();
	for (const [list, size] of [
		[triangles, 3],
		[quads, 4]
	] as const)
		for (let e = 0; e < list.length; e += size)
			for (let k = 0; k < size; k++) {
				const [a, b] = [list[e + k]!, list[e + ((k + 1) % size)]!];
				if (!open.delete(`${b} ${a}`)) open.add(`${a} ${b}`);
			}
	return open;
}

describe('two-sided walls', () => {
	it('double the nodes of a wall inside, but for its free tips, and have an edge for either side', () => {
		const vane = 'line vane = (10, 10) to (30, 10)\n';
		const without = run(`${vane}${box}`);
		const result = run(`${vane}${box}baffle wall = vane as no_slip_wall sides low, high`);
		expect(serious(result)).toEqual([]);
		const { mesh } = result;
		const edges = groupEdges(without.mesh, {
			...boundaryGroup(without, 0),
			pieces: [boundaryGroup(result, 0).pieces[0]!]
		}).length;
		expect(mesh.x.length - without.mesh.x.length).toBe(edges - 1);
		expect([nodesAt(mesh, 10, 10), nodesAt(mesh, 30, 10)]).toEqual([1, 1]);
		const [left, right] = [boundaryGroup(result, 0), boundaryGroup(result, 1)];
		expect([left!.name, right!.name, left!.kind]).toEqual(['low', 'high', 'no_slip_wall']);
		const of = (group: BoundaryGroup) =>
			[...groupEdges(mesh, group)].map((e) => [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!] as const);
		expect([of(left!).length, of(right!).length]).toEqual([edges, edges]);
		// Each has the mesh to its left: one runs with the curve, the other against it.
		for (const [a, b] of of(left!)) expect(mesh.x[b]!).toBeGreaterThan(mesh.x[a]!);
		for (const [a, b] of of(right!)) expect(mesh.x[b]!).toBeLessThan(mesh.x[a]!);
		const open = boundary(mesh);
		for (const [a, b] of [...of(left!), ...of(right!)]) expect(open.has(`${a} ${b}`)).toBe(true);
		expect(regionAreas(mesh)).toEqual(regionAreas(without.mesh));
	});

	it('have as many nodes as sectors where they cross, branch, and meet the boundary', () => {
		const { mesh } = run(`line a = (5, 10) to (35, 10)
line b = (20, 10) to (20, 20)
line c = (10, 5) to (10, 15)
${box}baffle walls = a, b, c`);
		// A crossing of two walls, a branch, a wall that ends on the boundary, free tips.
		expect([nodesAt(mesh, 10, 10), nodesAt(mesh, 20, 10), nodesAt(mesh, 20, 20)]).toEqual([4, 3, 2]);
		expect([nodesAt(mesh, 5, 10), nodesAt(mesh, 10, 15)]).toEqual([1, 1]);
		expect(mesh.groups).toHaveLength(1);
		expect(mesh.groups[0]).toMatchObject({ name: 'walls', baffle: 'walls', kind: 'wall' });
	});

	it('open where they are short: a wall alone has two edges at least, and is told where one is pinned', () => {
		const short = (more: string) => run(`line plate = (10, 10) to (10.5, 10)\n${box}${more}baffle wall = plate`);
		const open = short('');
		expect(nodesAt(open.mesh, 10.25, 10)).toBe(2);
		expect(open.findings.map((f) => f.code)).not.toContain('wall-shut');
		expect(short('divide plate into 1\n').findings.find((f) => f.code === 'wall-shut')!.message).toMatch(
			/one edge between two free tips, which cannot open; divide it into 2 at least/
		);
	});

	it('part structured blocks, materials, and layers that grow from both sides', () => {
		const blocks = run(`rectangle a = (0, 0) to (10, 10)
rectangle b = (10, 0) to (20, 10)
region l at (5, 5)
region m at (15, 5)
divide a.left into 6
fill l, m structured
baffle plate = a.right sides from_l, from_m`);
		expect(serious(blocks)).toEqual([]);
		expect(blocks.mesh.groups.filter(isBoundary).map((g) => groupEdges(blocks.mesh, g).length)).toEqual([6, 6]);
		expect(euler(blocks.mesh)).toBe(2);
		const layered = run(`line vane = (10, 10) to (30, 10)
${box}layers on vane first 0.1 growth 1.2 count 5
baffle wall = vane`);
		expect(serious(layered)).toEqual([]);
		expect(layered.layerFigures[0]!.complete).toBe(1);
		expect(nodesAt(layered.mesh, 20, 10)).toBeLessThan(3);
	});

	it('come and go with one label, while nothing is filled again', () => {
		const pipeline = new Pipeline(() => 0);
		const of = (more: string) =>
			finish(pipeline.run({ text: `recipe 1\nline vane = (10, 10) to (30, 10)\n${box}${more}`, files: {} }));
		const plain = of('');
		const wall = of('baffle wall = vane');
		expect(wall.refilled).toEqual([]);
		expect(wall.mesh.x.length).toBeGreaterThan(plain.mesh.x.length);
		const again = of('baffle wall = vane as slip_wall');
		expect(again.mesh.x).toBe(wall.mesh.x);
		expect(of('').mesh.x.length).toBe(plain.mesh.x.length);
	});

	it('open random arrangements by Euler’s formula, and change nothing else', () => {
		const random = numbers(11);
		const rounds = Number(process.env.FUZZ ?? 25);
		for (let n = 0; n < rounds; n++) {
			const lines: string[] = [];
			const count = 1 + random.below(6);
			const at = () => `(${Math.round(random.next() * 42 - 1)}, ${Math.round(random.next() * 22 - 1)})`;
			for (let k = 0; k < count; k++) {
				const kind = random.below(4);
				if (kind === 0) lines.push(`circle w${k} = around ${at()} radius ${1 + random.below(5)}`);
				else if (kind === 1)
					lines.push(`rectangle w${k} = (${5 + k}, ${3 + random.below(5)}) to (${20 + k}, ${12 + random.below(5)})`);
				else {
					// Long enough for two edges by its size: a shorter one gets a second edge as a wall, which is another mesh.
					const far = () => [Math.round(random.next() * 42 - 1), Math.round(random.next() * 22 - 1)] as const;
					let [a, b] = [far(), far()];
					while (Math.hypot(a[0] - b[0], a[1] - b[1]) < 9) [a, b] = [far(), far()];
					lines.push(`line w${k} = (${a.join(', ')}) to (${b.join(', ')})`);
				}
			}
			// All parts of the box are filled, whatever cuts them up.
			const text = `${lines.join('\n')}\nrectangle box = (0, 0) to (40, 20)\nregion r bounded by box\nsize 3\nfill r triangles\n`;
			const plain = run(text);
			if (plain.mesh.triangles.length === 0 || plain.findings.some((f) => f.severity === 'error')) continue;
			const chosen = lines.map((_, k) => `w${k}`).filter(() => random.below(3) > 0);
			if (chosen.length === 0) continue;
			const { mesh, findings, arrangement } = run(`${text}baffle walls = ${chosen.join(', ')}`);
			const where = `${n}: ${text}baffle ${chosen.join()}`;
			expect(
				findings.filter((f) => f.severity === 'error').map((f) => f.message),
				where
			).toEqual([]);
			expect([...regionAreas(mesh)], where).toEqual([...regionAreas(plain.mesh)]);
			expect(mesh.triangles.length, where).toBe(plain.mesh.triangles.length);
			// Every wall edge with elements on both sides stands twice, with opposite directions and nodes of its own side.
			const open = boundary(mesh);
			const walls = mesh.groups.filter(isBoundary)[0]!;
			const before = boundary(plain.mesh);
			const listed = [...mesh.edgePiece.keys()].map((e) => `${mesh.edges[2 * e]} ${mesh.edges[2 * e + 1]}`);
			const wallEdges = [...groupEdges(mesh, walls)];
			for (const e of wallEdges) expect(open.has(listed[e]!), where).toBe(true);
			const twoSided = wallEdges.filter((e) => mesh.edgeSide[e] === 1).length;
			const outside = wallEdges.length - 2 * Math.min(twoSided, wallEdges.length - twoSided);
			// The boundary has grown by both sides of each wall that lies inside.
			expect(open.size - before.size, where).toBe(wallEdges.filter((e) => !isOuter(plain.mesh, before, mesh, e)).length);
			expect(outside).toBeGreaterThanOrEqual(0);
			// Sectors: the nodes at a place, less one, sum up to what was added.
			const places = new Map<string, number>();
			for (let k = 0; k < mesh.x.length; k++) {
				const place = `${mesh.x[k]} ${mesh.y[k]}`;
				places.set(place, (places.get(place) ?? 0) + 1);
			}
			const doubled = [...places.values()].reduce((sum, k) => sum + k - 1, 0);
			expect(mesh.x.length - plain.mesh.x.length, where).toBe(doubled);
			// Euler: opening along E edges with A added nodes changes V − E + F by A − E.
			const opened = (open.size - before.size) / 2;
			expect(euler(mesh) - euler(plain.mesh), where).toBe(doubled - opened);
			expect(arrangement.pieces.length).toBeGreaterThan(0);
		}
	}, 120_000);
});

/** Whether an edge of the opened mesh lies on the outer boundary of the one before. */
function isOuter(plain: Mesh, before: Set<string>, mesh: Mesh, e: number): boolean {
	const at = (m: Mesh, k: number) => `${m.x[k]} ${m.y[k]}`;
	const places = new Set(
		[...before].map((edge) =>
			edge
				.split(' ')
				.map((k) => at(plain, Number(k)))
				.join(' ')
		)
	);
	return places.has(`${at(mesh, mesh.edges[2 * e]!)} ${at(mesh, mesh.edges[2 * e + 1]!)}`);
}
