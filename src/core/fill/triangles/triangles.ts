import { elementLimit, type SizeRule } from '../../sizing/size-rule.ts';
import { FillError, type FillJob, type FillMethod, type PreparedFill } from '../method.ts';
import { expectedTriangles } from './expected.ts';
import { fillTriangles } from './fill-triangles.ts';

function prepare({ input, region, domain, field }: FillJob, even: boolean): PreparedFill {
	const { growth } = region;
	const size = region.size ?? domain.fallbackSize;
	const rule: SizeRule = { size, growth, field: field.at, plateaus: field.plateaus, even };
	return {
		key: { rule: `${size} ${growth}`, numbers: [field.numbers] },
		expected: () => expectedTriangles(input, rule),
		isPredicted: true,
		*fill(expected) {
			if (expected > elementLimit)
				throw new FillError(
					'too-many',
					`the sizes asked would take about ${expected.toExponential(1)} triangles, above the limit of ${elementLimit}; use larger sizes`,
					{ x: input.x[0]!, y: input.y[0]! }
				);
			return yield* fillTriangles(input, rule, expected);
		}
	};
}

/** Triangles that grow from the divisions of the boundary, by the sizes wanted. */
export const triangles: FillMethod = {
	source: 'triangles',
	title: 'triangles',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, even }) => fill === 'triangles' && !even,
	prepare: (job) => prepare(job, false)
};

/** Triangles that are equilateral as near to the outline as they can be. */
export const evenTriangles: FillMethod = {
	source: 'triangles even',
	title: 'triangles, even',
	takesSize: true,
	keepsPoints: true,
	fills: ({ fill, even }) => fill === 'triangles' && even === true,
	prepare: (job) => prepare(job, true)
};
