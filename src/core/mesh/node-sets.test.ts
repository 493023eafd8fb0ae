import { describe, expect, it } from 'vitest';
import { numbers } from '../fill/domains.test-support.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { groupEdges, isBoundary } from './mesh.ts';
import { nodeSets, sharedNodes } from './node-sets.ts';

const run = (text: string) => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {} }));
const box = 'rectangle box = (0, 0) to (40, 20)\nregion r at (1, 1)\nsize 4\nfill r triangles\n';
const corner = (result: ReturnType<typeof run>, x: number, y: number) => {
	const { mesh } = result;
	const found = sharedNodes(mesh).find(({ node }) => mesh.x[node] === x && mesh.y[node] === y);
	return found && { groups: found.groups.map((g) => mesh.groups[g]!.name), owner: mesh.groups[found.owner]!.name };
};

describe('nodes of groups', () => {
	const groups = 'group low = box.bottom\ngroup inlet = box.left\ngroup rest = box.top, box.right\n';

	it('that several groups share are owned by the one that stands first', () => {
		const result = run(box + groups);
		expect(corner(result, 0, 0)).toEqual({ groups: ['low', 'inlet'], owner: 'low' });
		expect(corner(result, 0, 20)).toEqual({ groups: ['inlet', 'rest'], owner: 'inlet' });
		expect(corner(result, 40, 20)).toBeUndefined();
		const [low, inlet] = nodeSets(result.mesh);
		expect(low!.owned).toEqual(low!.all);
		expect(inlet!.owned.length).toBe(inlet!.all.length - 1);
	});

	it('are owned otherwise where a statement says so, whatever they are called and wherever they move', () => {
		expect(corner(run(`${box}${groups}owner of (0, 0) = inlet`), 0, 0)!.owner).toBe('inlet');
		const moved = run(
			`let w = 40\npoint p = (w, 0)\n${box.replace('(0, 0)', '(0, 0)').replace('(40, 20)', '(w, 20)')}${groups}owner of p = rest`
		);
		expect(corner(moved, 40, 0)!.owner).toBe('rest');
		const wider = run(`let w = 52\npoint p = (w, 0)\n${box.replace('(40, 20)', '(w, 20)')}${groups}owner of p = rest`);
		expect(corner(wider, 52, 0)!.owner).toBe('rest');
	});

	it('of points are theirs where no group of pieces has them', () => {
		const result = run(`point probe_at = (20, 10)\nnode probe_at\n${box}${groups}group probe = points probe_at, (40, 20)`);
		expect(result.findings.filter((f) => f.severity === 'error')).toEqual([]);
		const probe = nodeSets(result.mesh).at(-1)!;
		expect(probe.all).toHaveLength(2);
		expect(probe.owned).toHaveLength(1);
	});

	it('are owned once each, in any mesh: the owned sets are disjoint and together all', () => {
		const random = numbers(5);
		for (let n = 0; n < 20; n++) {
			const lines = Array.from({ length: 1 + random.below(4) }, (_, k) => {
				const at = () => `(${random.below(41)}, ${random.below(21)})`;
				return random.below(3) === 0
					? `circle c${k} = around ${at()} radius ${1 + random.below(4)}`
					: `line c${k} = ${at()} to ${at()}`;
			});
			const names = ['box.left', 'box.right', 'box.top', 'box.bottom', ...lines.map((_, k) => `c${k}`)];
			const labels = names.map((name, k) => (random.below(3) === 0 ? `baffle g${k} = ${name}` : `group g${k} = ${name}`));
			const corners = Array.from(
				{ length: random.below(3) },
				() => `owner of (${40 * random.below(2)}, 0) = g${random.below(names.length)}`
			);
			const text = `${lines.join('\n')}\nrectangle box = (0, 0) to (40, 20)\nregion r bounded by box\nsize 3\nfill r triangles\n${labels.join('\n')}\n${corners.join('\n')}`;
			const { mesh } = run(text);
			const sets = nodeSets(mesh);
			const owned = sets.flatMap((s) => [...s.owned]);
			const all = new Set(sets.flatMap((s) => [...s.all]));
			expect(new Set(owned).size, text).toBe(owned.length);
			expect(new Set(owned), text).toEqual(all);
			const labelled = mesh.groups
				.filter(isBoundary)
				.flatMap((g) => [...groupEdges(mesh, g)].flatMap((e) => [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!]));
			expect(all).toEqual(new Set(labelled));
		}
	});
});
