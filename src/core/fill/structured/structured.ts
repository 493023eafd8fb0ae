import { atOnce } from '../../numeric/work.ts';
import { demandsOf } from '../../blocks/demands.ts';
import type { Layout } from '../../blocks/layout.ts';
import type { Domain } from '../../domain/domain.ts';
import type { Region } from '../../domain/regions.ts';
import { setClause } from '../../recipe/edits/edits.ts';
import { formatNumber } from '../../recipe/language/literals.ts';
import type { Fill, FillAdvice, FillJob, FillMethod, PreparedFill } from '../method.ts';
import type { NodeLayout } from '../node-layout.ts';
import { blockLayerHeights } from '../layers/heights.ts';
import { type ChosenLayout, chooseLayout } from './choose-corners.ts';
import { fillStructured } from './fill-structured.ts';
import { halveQuads } from './halve.ts';
import { layoutNodes, numbersOf } from './layout-nodes.ts';
import { cutsAtCorners } from './reentrant.ts';

/** How a region is laid out in blocks. */
function layOut(domain: Domain, region: Region): NonNullable<ReturnType<NonNullable<FillMethod['layOut']>>> {
	const chosen = chooseLayout(domain, region);
	if (!('layout' in chosen)) return chosen;
	const { layout, better } = chosen;
	const advice = better
		? betterCorners(domain, region, better)
		: layout.kind === 'ring'
			? undefined
			: cutsAtCorners(domain, region);
	// Layers on its walls are the spacing across it.
	const heights = blockLayerHeights(domain, layout);
	return { layout, demands: { ...demandsOf(layout), ...(heights ? { heights } : {}) }, ...(advice ? { advice } : {}) };
}

/** Says that other corners than those named make a much better block. */
function betterCorners(
	{ model }: Domain,
	{ name, statement, fillLine }: Region,
	{ corners, given, value }: NonNullable<ChosenLayout['better']>
): FillAdvice {
	const places = corners.map((p) => `(${formatNumber(p.x)}, ${formatNumber(p.y)})`);
	const line = model.recipe.lines[fillLine];
	const isAlone = name === statement && line?.statement !== undefined;
	const mend = isAlone ? { mend: setClause(line, 'corners', `corners ${places.join(', ')}`) } : {};
	return (report) => report.add('better-corners', { region: name, given, places, value }, { at: corners[0]!, ...mend });
}

/** The number of quadrilaterals of a layout, but for the blocks of stars and the cores of discs. */
function quadsOf(layout: NodeLayout): number {
	if (layout.kind === 'block') return (layout.sides[0].length - 1) * (layout.sides[1].length - 1);
	if (layout.kind === 'ring') return layout.outer.length * (layout.across.length - 1);
	return 0;
}

/** How long an element takes to make, over a triangle whose size grows; and where it is smoothed. */
const effort = 0.03;
const effortSmoothed = 0.6;

function prepare(job: FillJob, perQuad: number, finish: (fill: Fill) => Fill): PreparedFill {
	const { input, region } = job;
	const layout = layoutNodes(job as FillJob & { layout: Layout });
	return {
		key: { rule: `${layout.kind} ${region.sweeps}`, numbers: numbersOf(layout) },
		expected: () => atOnce(() => perQuad * quadsOf(layout)),
		effort: () => (region.sweeps ? effortSmoothed : effort),
		isPredicted: false,
		*fill() {
			return finish(yield* fillStructured(input, layout, region.sweeps));
		}
	};
}

/** Quadrilaterals in blocks. */
export const structured: FillMethod = {
	source: 'structured',
	title: 'structured',
	takesSize: false,
	keepsPoints: false,
	fills: ({ fill, halved, blocks }) => fill === 'structured' && !halved && !blocks,
	layOut,
	prepare: (job) => prepare(job, 1, (fill) => fill)
};

/** Triangles with a right angle, two to a cell of a structured layout. */
export const rightTriangles: FillMethod = {
	source: 'triangles halved',
	title: 'triangles, right-angled',
	takesSize: true,
	keepsPoints: false,
	fills: ({ fill, halved }) => fill === 'structured' && halved === true,
	layOut,
	prepare: (job) => prepare(job, 2, (fill) => halveQuads(job.input, fill))
};
