import { atOnce } from '../../numeric/work.ts';
import { demandsOf } from '../../blocks/demands.ts';
import { findLayout, type Layout } from '../../blocks/layout.ts';
import type { Domain } from '../../domain/domain.ts';
import type { Region } from '../../domain/regions.ts';
import type { Fill, FillJob, FillMethod, PreparedFill } from '../method.ts';
import type { NodeLayout } from '../node-layout.ts';
import { fillStructured } from './fill-structured.ts';
import { halveQuads } from './halve.ts';
import { layoutNodes, numbersOf } from './layout-nodes.ts';

/** How a region is laid out in blocks. */
function layOut({ arrangement }: Domain, { face, corners, seam }: Region): ReturnType<NonNullable<FillMethod['layOut']>> {
	const layout = findLayout(arrangement, face, corners, seam);
	return 'kind' in layout ? { layout, demands: demandsOf(layout) } : layout;
}

/** The number of quadrilaterals of a layout, but for the blocks of stars and the cores of discs. */
function quadsOf(layout: NodeLayout): number {
	if (layout.kind === 'block') return (layout.sides[0].length - 1) * (layout.sides[1].length - 1);
	if (layout.kind === 'ring') return layout.outer.length * (layout.across.length - 1);
	return 0;
}

function prepare(job: FillJob, perQuad: number, finish: (fill: Fill) => Fill): PreparedFill {
	const { input, region } = job;
	const layout = layoutNodes(job as FillJob & { layout: Layout });
	return {
		key: { rule: `${layout.kind} ${region.sweeps}`, numbers: numbersOf(layout) },
		expected: () => perQuad * quadsOf(layout),
		isPredicted: false,
		fill: () => atOnce(() => finish(fillStructured(input, layout, region.sweeps)))
	};
}

/** Quadrilaterals in blocks. */
export const structured: FillMethod = {
	source: 'structured',
	title: 'structured',
	takesSize: false,
	keepsPoints: false,
	fills: ({ fill, halved }) => fill === 'structured' && !halved,
	layOut,
	prepare: (job) => prepare(job, 1, (fill) => fill)
};

/** Triangles with a right angle, two to a cell of a structured layout. */
export const rightTriangles: FillMethod = {
	source: 'triangles right',
	title: 'triangles, right-angled',
	takesSize: true,
	keepsPoints: false,
	fills: ({ fill, halved }) => fill === 'structured' && halved === true,
	layOut,
	prepare: (job) => prepare(job, 2, (fill) => halveQuads(job.input, fill))
};
