import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { groupFigures } from './group-figures.ts';

describe('figures of groups', () => {
	it('count edges, lengths and nodes, a shared node for the upper group alone', () => {
		const { mesh } = finish(
			new Pipeline(() => 0).run({
				text: `recipe 1
rectangle box = (0, 0) to (4, 3)
region r at (1, 1)
divide box into 5
fill r structured
group low = box.bottom as wall
group side = box.right as outflow
group probe = points (0, 3)
group water = region r`,
				files: {}
			})
		);
		expect(
			groupFigures(mesh).map(({ group, edges, length, nodes, owned }) => [
				group.name,
				group.members,
				edges.length,
				Math.round(length * 1e9) / 1e9,
				nodes,
				owned
			])
		).toEqual([
			['low', 'edges', 5, 4, 6, 6],
			['side', 'edges', 5, 3, 6, 5],
			['probe', 'nodes', 0, 0, 1, 1],
			['water', 'elements', 0, 0, 0, 0]
		]);
	});
});
