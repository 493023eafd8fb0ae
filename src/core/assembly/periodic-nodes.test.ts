import { describe, expect, it } from 'vitest';
import { moved } from '../geometry/movement.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const serious = ({ findings }: ReturnType<typeof run>) =>
	findings.filter((f) => f.severity !== 'note' && f.code !== 'unlabelled').map((f) => f.message);

/** Every node of the first side has its counterpart, to 1e-12 of the drawing. */
function expectPairs(result: ReturnType<typeof run>, count: number, extent: number): void {
	const { mesh } = result;
	const [pairs] = mesh.periodic!;
	expect(pairs!.from).toHaveLength(count);
	pairs!.from.forEach((node, k) => {
		const there = moved(pairs!.movement, { x: mesh.x[node]!, y: mesh.y[node]! });
		const other = pairs!.to[k]!;
		expect(Math.hypot(mesh.x[other]! - there.x, mesh.y[other]! - there.y)).toBeLessThan(1e-12 * extent);
	});
	expect(new Set(pairs!.to).size).toBe(count);
}

describe('periodic pairs', () => {
	const cascade = (more: string) => `spline low = (0, 0) to (10, 4) to (20, 6) to (40, 0)
line inlet = (0, 0) to (0, 15)
spline high = (40, 15) to (20, 21) to (10, 19) to (0, 15)
line outlet = (40, 0) to (40, 15)
region r at (20, 12)
size 2
${more}
fill r triangles`;

	it('are moved along, whichever way their curves run, and take the divisions of either side', () => {
		const plain = run(cascade('periodic low with high'));
		expect(serious(plain)).toEqual([]);
		const { divisions } = plain;
		expect(divisions.pieces[0]!.count).toBe(divisions.pieces[2]!.count);
		expectPairs(plain, divisions.pieces[0]!.count + 1, 40);
		const first = run(cascade('divide low into 17 bias 4 toward inlet\nperiodic low with high'));
		expectPairs(first, 18, 40);
		expectPairs(run(cascade('divide high into 13 bias 4 toward inlet\nperiodic low with high')), 14, 40);
		// A fine spot near one side only makes both fine.
		expectPairs(
			run(cascade('size 0.3 at (20, 6)\nperiodic low with high')),
			run(cascade('size 0.3 at (20, 6)')).divisions.pieces[0]!.count + 1,
			40
		);
	});

	it('are turned about a point, over several pieces, with layers between them', () => {
		const sector = `let a = 30 deg
point o = (0, 0)
arc inner = (4, 0) to (4*cos(a), 4*sin(a)) around o
arc outer_rim = (9, 0) to (9*cos(a), 9*sin(a)) around o
line low1 = (4, 0) to (6, 0)
line low2 = (6, 0) to (9, 0)
line high1 = (4*cos(a), 4*sin(a)) to (6*cos(a), 6*sin(a))
line high2 = (9*cos(a), 9*sin(a)) to (6*cos(a), 6*sin(a))
region r at (6, 1)
size 0.7
layers on inner first 0.02 growth 1.3 count 6
periodic low1, low2 with high1, high2 about o
fill r triangles`;
		const result = run(sector);
		expect(serious(result)).toEqual([]);
		expect(result.mesh.periodic![0]!.movement).toMatchObject({ kind: 'turn', angle: expect.closeTo(Math.PI / 6, 12) });
		const [count1, count2] = ['low1', 'low2'].map(
			(name) => result.divisions.pieces[result.arrangement.pieces.findIndex((p) => p.curve.name === name)]!.count
		);
		expectPairs(result, count1! + count2! + 1, 9);
		expect(result.layerFigures[0]!.complete).toBe(1);
	});

	it('hold for walls that part their nodes, and for structured blocks', () => {
		const walled = run(`rectangle box = (0, 0) to (20, 10)
line plate = (0, 5) to (8, 5)
line tail = (14, 5) to (20, 5)
region r at (1, 1)
size 1
baffle walls = plate, tail
periodic box.left with box.right
fill r triangles`);
		expect(serious(walled)).toEqual([]);
		const pairs = walled.mesh.periodic![0]!;
		const at = [...pairs.from].filter((node) => walled.mesh.y[node] === 5);
		expect(at).toHaveLength(2);
		expect(new Set(pairs.to).size).toBe(pairs.to.length);
		expectPairs(
			run(
				`rectangle box = (0, 0) to (20, 10)\nregion r at (1, 1)\nsize 1\ndivide box.left into 9 bias 3 toward box.bottom\nperiodic box.left with box.right\nfill r structured`
			),
			10,
			20
		);
	});

	it('that do not fit together are told, with the place', () => {
		const bent = run(`${cascade('periodic low with outlet')}`);
		expect(serious(bent)[0]).toMatch(/moved, “low” has no counterpart on the other side/);
		const twice = run(cascade('divide low into 10\ndivide high into 12\nperiodic low with high'));
		expect(serious(twice)[0]).toMatch(/12 divisions here, but 10 on the piece that it is periodic with, and that one counts/);
		expect(serious(run(cascade('periodic low with low')))[0]).toMatch(/cannot be periodic with itself/);
	});
});
