import type { RegionDemands } from '../blocks/demands.ts';
import type { Layout } from '../blocks/layout.ts';
import { divide } from '../divide/divide.ts';
import type { Divisions } from '../divide/division.ts';
import { PlacementCache } from '../divide/placement.ts';
import { SizeCache } from '../sizing/size-cache.ts';
import type { Domain } from '../domain/domain.ts';
import { defaultGrowth } from '../domain/regions.ts';
import type { FillMethod } from '../fill/method.ts';
import { methodOf } from '../fill/methods.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import { globalSizes } from '../recipe/statements/size.ts';
import { sizeField, type SizeField } from '../sizing/size-field.ts';
import type { Work } from '../numeric/work.ts';
import type { Report } from '../findings/report.ts';

/** How one region is to be filled. */
export interface RegionPlan {
	region: number;
	method: FillMethod;
	/** Its layout in blocks, where the method lays regions out. */
	layout?: Layout;
	/** The counts that the layout has inside. */
	innerCounts: readonly number[];
}

/** Divisions of every piece, and what they were made for. */
export interface DividedDomain {
	field: SizeField;
	divisions: Divisions;
	plans: RegionPlan[];
	/** Pieces with nodes of layers beside them: their cells are fine at one end on purpose. */
	carrying: ReadonlySet<number>;
}

/** From the domain to nodes on its pieces. Places of nodes, sizes and gaps are kept from one time to the next. */
export class DivideStage {
	private readonly placed = new PlacementCache();
	private readonly knownSizes = new SizeCache();

	*run(domain: Domain, report: Report): Work<DividedDomain> {
		const { model, arrangement, regions, fallbackSize } = domain;
		checkSizes(domain, report);
		const growth = growthOf(domain, report);
		const background = Math.max(...regions.map((r) => r.size ?? fallbackSize), globalSizes(model).at(-1)?.size ?? fallbackSize);
		const field = sizeField(domain, background, growth, report);
		const plans: RegionPlan[] = [];
		const demands: RegionDemands[] = [];
		regions.forEach((region, r) => {
			const method = methodOf(region);
			if (!method) return;
			const found = method.layOut?.(domain, region);
			if (!found) plans.push({ region: r, method, innerCounts: [] });
			else if ('demands' in found) {
				found.advice?.(report.about(region.fillLine));
				demands.push({ region: r, demands: found.demands });
				plans.push({ region: r, method, ...(found.layout ? { layout: found.layout } : {}), innerCounts: [] });
			} else
				report.about(region.fillLine).add(
					'not-structured',
					{ region: region.name, reason: found.reason },
					{
						...(found.at ? { at: found.at } : {}),
						pieces: arrangement.faces[region.face]!.outer.map((h) => h >> 1)
					}
				);
		});
		const divisions = yield* divide({ ...domain, demands, field, report, placed: this.placed, knownSizes: this.knownSizes });
		const planOf = new Map(plans.map((plan) => [plan.region, plan]));
		demands.forEach(({ region }, k) => (planOf.get(region)!.innerCounts = divisions.inner[k]!));
		const clashes = new Set(
			demands
				.filter(({ demands: { walks } }) => walks.some((walk) => walk.some((h) => divisions.clashing.has(h >> 1))))
				.map(({ region }) => region)
		);
		const carrying = new Set(demands.flatMap(({ demands: needs }) => [...(needs.heights?.keys() ?? [])].map((h) => h >> 1)));
		return { field, divisions, carrying, plans: plans.filter(({ region }) => !clashes.has(region)) };
	}
}

function checkSizes({ model, regions, fallbackSize }: Domain, report: Report): void {
	const reported = new Set<string>();
	for (const region of regions) {
		const isFirst = !reported.has(region.statement);
		reported.add(region.statement);
		if (region.fillLine < 0 && isFirst)
			report
				.about(region.line)
				.add('no-fill', { region: region.statement }, { mend: addStatement(model.recipe, `fill ${region.statement} triangles`) });
	}
	const unsized = regions.filter((r) => r.size === undefined && methodOf(r)?.takesSize && r.fill !== 'structured');
	if (unsized.length > 0)
		report.add(
			'no-size',
			{ names: unsized.map((r) => r.name), size: fallbackSize, units: model.units },
			{ mend: { label: `Write size ${fallbackSize}`, edits: addStatement(model.recipe, `size ${fallbackSize}`) } }
		);
}

/**
 * The growth of sizes. Triangles whose sizes rise faster than by half of the way have angles that no mesh keeps: what is added to
 * mend those makes the rise flatter than it would be at this growth (measured: docs/algorithms.md).
 */
function growthOf({ model, regions }: Domain, report: Report): number {
	const growth = regions[0]?.growth ?? defaultGrowth;
	const isByRows = !regions.some(({ fill }) => fill === 'triangles' || fill === 'quads');
	if (growth <= fastestGrowth || isByRows) return growth;
	const line = globalSizes(model).findLast((s) => s.growth !== undefined)?.line ?? -1;
	report.about(line).add('growth-limit', { growth, taken: fastestGrowth });
	return fastestGrowth;
}

/** The fastest growth at which triangles keep their angles. */
const fastestGrowth = 1.5;
