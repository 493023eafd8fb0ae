import { ruleIn } from '../../sizing/size-field.ts';
import type { SizeRule } from '../../sizing/size-rule.ts';
import { layerHeights } from '../layers/heights.ts';
import { fillBehindLayers, keyOfWalls, layerCellsOf, leftBehind, wallsOf } from '../layers/layered.ts';
import { type FillInput, type FillJob, refuseTooMany, type FillMethod, type PreparedFill } from '../method.ts';
import { expectedTriangles } from './expected.ts';
import { effortOf, fillTriangles } from './fill-triangles.ts';

function prepare(job: FillJob, even: boolean): PreparedFill {
	const { input, region, domain, field } = job;
	const { growth } = region;
	const size = region.size ?? domain.fallbackSize;
	const rule: SizeRule = { ...ruleIn(field, size, growth), even };
	const layered = wallsOf(job);
	const walls = keyOfWalls(layered);
	const cells = layerCellsOf(layered);
	const inTriangles = (rest: FillInput, expected?: number) => fillTriangles(rest, rule, expected);
	return {
		key: {
			rule: `${size} ${growth}${walls.rule}`,
			numbers: [field.numbers, ...walls.numbers]
		},
		*expected() {
			return leftBehind(layered, input, rule, yield* expectedTriangles(input, rule)) + cells;
		},
		effort: (expected) => effortOf(input, rule, expected),
		isPredicted: true,
		*fill(expected) {
			refuseTooMany(expected, 'triangles', input);
			// What is left behind layers has no more of them than the whole.
			return yield* layered
				? fillBehindLayers(input, layered, expected, (rest) => inTriangles(rest, expected - cells))
				: inTriangles(input, expected);
		}
	};
}

/** A fill that takes the divisions that it gets, but for nodes that layers put on pieces beside a wall. */
export const layOutBesideWalls: FillMethod['layOut'] = (domain, region) => {
	const heights = layerHeights(domain, region);
	return heights && { demands: { blocks: [], walks: [], equations: () => ({ equations: [], inner: [] }), heights } };
};

/** Triangles that grow from the divisions of the boundary, by the sizes wanted. */
export const triangles: FillMethod = {
	source: 'triangles',
	title: 'triangles',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, even }) => fill === 'triangles' && !even,
	layOut: layOutBesideWalls,
	prepare: (job) => prepare(job, false)
};

/** Triangles that are equilateral as near to the outline as they can be. */
export const evenTriangles: FillMethod = {
	source: 'triangles even',
	title: 'triangles, even',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, even }) => fill === 'triangles' && even === true,
	layOut: layOutBesideWalls,
	prepare: (job) => prepare(job, true)
};
