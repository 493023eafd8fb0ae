import { elementLimit, type SizeRule } from '../../sizing/size-rule.ts';
import { layerHeights } from '../layers/heights.ts';
import { fillBehindLayers, layerCellsOf, wallsOf } from '../layers/layered.ts';
import { FillError, type FillInput, type FillJob, type FillMethod, type PreparedFill } from '../method.ts';
import { expectedTriangles } from './expected.ts';
import { fillTriangles } from './fill-triangles.ts';

function prepare(job: FillJob, even: boolean): PreparedFill {
	const { input, region, domain, field } = job;
	const { growth } = region;
	const size = region.size ?? domain.fallbackSize;
	const rule: SizeRule = { size, growth, field: field.at, plateaus: field.plateaus, even };
	const layered = wallsOf(job);
	const cells = layered ? layerCellsOf(layered) : 0;
	const inTriangles = (rest: FillInput, expected?: number) => fillTriangles(rest, rule, expected);
	return {
		key: {
			rule: `${size} ${growth}${layered ? ` ${JSON.stringify([layered.statements, layered.walls])}` : ''}`,
			numbers: [field.numbers, ...(layered ? [layered.wallOf, ...(layered.scales ? [layered.scales] : [])] : [])]
		},
		expected: () => expectedTriangles(input, rule) + cells,
		isPredicted: true,
		*fill(expected) {
			if (expected > elementLimit)
				throw new FillError(
					'too-many',
					`the sizes asked would take about ${expected.toExponential(1)} triangles, above the limit of ${elementLimit}; use larger sizes`,
					{ x: input.x[0]!, y: input.y[0]! }
				);
			return yield* layered ? fillBehindLayers(input, layered, (rest) => inTriangles(rest)) : inTriangles(input, expected);
		}
	};
}

/** A fill that takes the divisions that it gets, but for nodes that layers put on pieces beside a wall. */
export const layOutBesideWalls: FillMethod['layOut'] = (domain, region) => {
	const heights = layerHeights(domain, region);
	return heights && { demands: { blocks: [], walks: [], equations: () => ({ equations: [], own: [] }), heights } };
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
