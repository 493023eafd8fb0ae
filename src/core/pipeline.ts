import { mapped } from './text/typed.ts';
import type { GlobalFill } from './assembly/assemble.ts';
import { periodicNodes } from './assembly/periodic-nodes.ts';
import { reportJumps } from './divide/doubts.ts';
import { jumpsBetween, largestJump } from './divide/jumps.ts';
import type { Divisions } from './divide/division.ts';
import { checkGroups, resolveGroups } from './domain/groups.ts';
import type { Domain } from './domain/domain.ts';
import type { Shape } from './domain/lasting.ts';
import { defaultGrowth, missingRegions } from './domain/regions.ts';
import { numberBoundary } from './fill/boundary.ts';
import type { Fill, FillError } from './fill/method.ts';
import { checkLabels } from './checks/label-checks.ts';
import { checkOverruled } from './checks/overruled.ts';
import { isBoundary, type Mesh } from './mesh/mesh.ts';
import { atOnce, finish, part, type Work } from './numeric/work.ts';
import { methodOf } from './fill/methods.ts';
import { elementCentre, type Quality } from './quality/quality.ts';
import { evaluateRecipe } from './recipe/model/evaluate.ts';
import type { Model } from './recipe/model/model.ts';
import type { Arrangement } from './geometry/pieces.ts';
import { secondOrder } from './assembly/second-order.ts';
import { orderOf } from './recipe/statements/order.ts';
import { globalSizes } from './recipe/statements/size.ts';
import { checkPromises, type PromiseCheck, PromiseMemory, reportPromises } from './promises/check.ts';
import { parseRecipe, syntaxFindings } from './recipe/language/parse.ts';
import type { Recipe } from './recipe/language/recipe.ts';
import { recipe as recipeStatement } from './recipe/statements/recipe.ts';
import { isA, stated } from './recipe/language/statement.ts';
import { owner as ownerStatement } from './recipe/statements/owner.ts';
import { type DividedDomain, DivideStage, type RegionPlan } from './stages/divide-stage.ts';
import { type RemoteFills, type RegionFills, FillStage } from './stages/fill-stage.ts';
import type { RegionRequest, FillHelpers, FillSource } from './stages/helpers.ts';
import { type RefinedFill, refinedDivisions, refinedDomain, refinedRows } from './stages/refined.ts';
import { MeshView } from './promises/mesh-view.ts';
import { layerFigures, layerRanges, type LayerFigures } from './stages/layer-figures.ts';
import { MeshStage } from './stages/mesh-stage.ts';
import { QualityStage } from './stages/quality-stage.ts';
import { ShapeStage } from './stages/shape-stage.ts';
import { type RegionWallFigures, WallStage } from './stages/wall-stage.ts';
import type { Finding } from './text/finding.ts';
import { Report } from './findings/report.ts';

/** What the pipeline works from. */
export interface PipelineInput extends FillSource {
	/** More elements than this are only predicted, not made; the result says how many in `held`. */
	askAbove?: number;
	/** Into how many every edge is divided, for a level of a study of grid convergence; 1 without. */
	refine?: number;
}

/** The blocks that a region was filled with by itself. */
export interface RegionBlocks {
	region: string;
	count: number;
	/** At which try they were found. */
	tries: number;
	/** Lines between blocks, each as flat x, y pairs. */
	cuts: readonly Float64Array[];
}

/** Everything that a recipe gives. */
export interface Result extends Domain {
	recipe: Recipe;
	/** How each region is filled, and its layout where it has one. */
	plans: RegionPlan[];
	divisions: Divisions;
	/** The largest ratio of cells that touch where one piece goes on into another, and one of the two. */
	largestJump: { ratio: number; piece: number } | undefined;
	mesh: Mesh;
	/** What the layers on walls came to, by statement. */
	layerFigures: LayerFigures[];
	/** Which elements are cells of layers: ranges of their numbers, triangles first, two numbers to a range. */
	layerRanges: number[];
	/** What the statements ask, and what came: nothing where the mesh was not made, or is a finer level of it. */
	promises: PromiseCheck[];
	/** The blocks of regions that find them by themselves, with the lines between them. */
	blocks: RegionBlocks[];
	/** What the cells along walls with a first height came to, by structured region. */
	walls: RegionWallFigures[];
	quality: Quality;
	findings: Finding[];
	/** Outlines of zones with a size of their own, flat x, y pairs. */
	zoneOutlines: Float64Array[];
	/** How many elements were to be expected, before any fill. */
	predicted: number;
	/** Set where nothing was filled, because so many elements were to be expected. */
	held?: number;
	/** Names of the regions that ought to hold elements and do not, because they could not be bounded or filled. */
	unfilled: string[];
	/** Milliseconds per stage. */
	timings: Record<string, number>;
	/** Names of the regions that had to be filled anew. */
	refilled: string[];
}

/** What looking along a piece takes, and along each of its segments, in elements that fills make meanwhile. */
const [effortOfPiece, effortOfSegment] = [200, 5];
/** Of fewer elements than these nobody waits for either; there may be far more of them, where sizes become finer. */
const fewElements = 50_000;

/** The share of the time that has passed when fills start: they take as long as they have elements, what comes before as there are pieces. */
function shareBeforeFills({ arrangement: { pieces, faces }, regions, fallbackSize }: Domain): number {
	const along = pieces.reduce((sum, { t0, t1 }) => sum + effortOfPiece + effortOfSegment * (t1 - t0), 0);
	const elements = regions.reduce((sum, { fill, face, size = fallbackSize }) => {
		return sum + (fill === 'none' ? 0 : ((4 / Math.sqrt(3)) * faces[face]!.area) / (size * size));
	}, 0);
	return 0.05 + Math.min(0.45, Math.max(0.05, along / (along + elements + fewElements)));
}

/**
 * The one place that runs the stages in order. Each stage keeps its last result under the inputs of that stage, so an
 * edit runs again only what it touches: one region's bias does not refill the others, and a label touches no node.
 */
export class Pipeline {
	private shapes = new ShapeStage();
	private divides = new DivideStage();
	private fills = new FillStage();
	private meshes = new MeshStage();
	private walls = new WallStage();
	private qualities = new QualityStage();
	private promises = new PromiseMemory();

	/**
	 * @param clock milliseconds from any origin, for the timings
	 * @param helpers other threads that fill regions too; whoever drives a run then waits for {@link waiting}
	 */
	constructor(
		private readonly clock: () => number,
		private readonly helpers?: FillHelpers
	) {}

	/** Set while a run has nothing to do but to wait for its helpers: fulfilled when it can go on. */
	get waiting(): Promise<void> | undefined {
		return this.fills.waiting;
	}

	/** Runs a recipe; yields progress between 0 and 1, so that it can be stopped in between. */
	*run(input: PipelineInput): Work<Result> {
		const timings: Record<string, number> = {};
		let last = this.clock();
		const lap = (stage: string) => {
			const now = this.clock();
			timings[stage] = now - last;
			last = now;
		};

		const recipe = parseRecipe(input.text);
		const model = evaluateRecipe(recipe, input.files, input.settings);
		const report = new Report(recipe.lines, [...syntaxFindings(recipe), ...model.findings]);
		checkHeader(recipe, report);
		lap('recipe');
		yield 0.01;

		const shaped = yield* part(
			this.safely(this.shapes.run(model, report), 'the drawing', report, () =>
				this.shapes.run(withoutCurves(model), new Report())
			),
			0.01,
			0.05
		);
		const domain = shaped.model === model ? shaped : { ...shaped, model };
		const { arrangement, regions } = domain;
		lap('shape');
		yield 0.05;

		const filling = shareBeforeFills(domain);
		const coarse = yield* part(
			this.safely(this.divides.run(domain, report), 'the division of the pieces', report, () =>
				this.divides.run({ ...domain, model: { ...model, stated: {} }, regions: [] }, new Report())
			),
			0.05,
			filling
		);
		const by = input.refine ?? 1;
		const divided = by > 1 ? refinedDivisions(domain, coarse, by) : coarse;
		const { plans, field } = divided;
		lap('divide');
		yield filling;

		const numbering = numberBoundary(arrangement, divided.divisions.pieces, regions);
		const work =
			by > 1
				? this.refined(domain, coarse, divided, by, report)
				: this.fills.run(domain, divided, numbering, input.askAbove ?? Infinity, report, this.remote(input));
		const unfilled: RegionFills = { fills: regions.map(() => undefined), predicted: 0, refilled: [], share: 1 };
		const { fills, share, ...filled } = yield* part(
			this.safely(work, 'the fill of the regions', report, () => atOnce(() => unfilled)),
			filling,
			1
		);
		lap('fill');
		// What is left is assembly, by and large, and then quality.
		const filledAt = filling + (1 - filling) * share;
		const assembledAt = (1 + filledAt) / 2;

		const groups =
			attempt('the groups', report, () => {
				const resolved = resolveGroups(model, arrangement, regions, report);
				checkGroups(arrangement, regions, resolved, report);
				return resolved;
			}) ?? [];
		const parts = { domain, divisions: divided.divisions.pieces, numbering, fills };
		yield filledAt;
		const { mesh: unowned, divisions: pieces } = yield* part(
			this.safely(this.meshes.run(parts, groups), 'the mesh', report, () => {
				fills.fill(undefined);
				return this.meshes.run(parts, groups);
			}),
			filledAt,
			assembledAt
		);
		yield assembledAt;
		const owners = stated(model, ownerStatement);
		const pairs = periodicNodes(unowned, domain.periodic);
		const mesh = {
			...unowned,
			...(owners.length > 0 ? { owners } : {}),
			...(pairs.length > 0 ? { periodic: pairs } : {})
		};
		attempt('a check of the labels', report, () => checkLabels({ domain, mesh, report }));
		attempt('a look for what is overruled', report, () => checkOverruled(domain, report));
		attempt('a check of elements of second order', report, () => checkOrder(model, arrangement, mesh, report));
		const divisions = { ...divided.divisions, pieces: [...pieces] };
		lap('assemble');
		yield assembledAt;

		const isMeshed = (p: number) => numbering.piece[p]! >= 0;
		const jumps = jumpsBetween(arrangement, pieces, (p) => isMeshed(p) && !divided.carrying.has(p));
		attempt('a check of jumps', report, () =>
			reportJumps(jumps, {
				arrangement,
				recipe,
				growth: regions[0]?.growth ?? defaultGrowth,
				above: globalSizes(model).findLast(({ jump }) => jump !== undefined)?.jump,
				report
			})
		);
		const walls = attempt('the figures of walls', report, () => this.walls.run(mesh, parts, report)) ?? [];
		const view = new MeshView({ ...domain, mesh });
		const layers =
			attempt('the figures of layers', report, () => layerFigures(domain, view, fills, divisions.pieces, recipe, report)) ?? [];
		const promises =
			by === 1 && filled.held === undefined
				? attempt('the check of what was asked', report, () => this.promised(view, recipe, report))
				: undefined;
		lap('promises');
		const quality = yield* part(this.qualities.run(mesh, parts, report), assembledAt, 1);
		lap('quality');
		// An inner edge that is labelled is meant to end where it ends.
		const labelled = new Set(groups.filter(isBoundary).flatMap((group) => group.pieces));
		const isMeant = (p: number) => labelled.has(p);
		const findings = report.findings.filter(({ code, pieces }) => !(code === 'inner-edge' && pieces?.every(isMeant)));
		findings.sort((a, b) => severityRank[a.severity] - severityRank[b.severity]);
		return {
			...domain,
			...filled,
			recipe,
			plans,
			divisions,
			largestJump: largestJump(jumps),
			mesh,
			walls,
			blocks: fills.flatMap((made, r) => (made?.fill.blocks ? [{ region: regions[r]!.name, ...made.fill.blocks }] : [])),
			layerFigures: layers,
			layerRanges: layerRanges(fills),
			promises: promises ?? [],
			quality,
			findings,
			zoneOutlines: field.outlines,
			unfilled: filled.held === undefined ? unfilledRegions(domain, fills) : [],
			timings
		};
	}

	/**
	 * A stage, or what stands for it where it fails: one finding says what is missing and which statement was at hand, and the
	 * results of the stages before it stay. What stages had kept goes, as it may be half of something.
	 */
	private *safely<T>(work: Work<T>, what: string, report: Report, instead: () => Work<T>): Work<T> {
		try {
			return yield* work;
		} catch (error) {
			this.shapes = new ShapeStage();
			this.divides = new DivideStage();
			this.fills = new FillStage();
			this.meshes = new MeshStage();
			this.walls = new WallStage();
			this.qualities = new QualityStage();
			this.promises = new PromiseMemory();
			report.failed(what, error);
			return yield* instead();
		}
	}

	/** What the recipe asks, held against the mesh. */
	private promised(view: MeshView, recipe: Recipe, report: Report): PromiseCheck[] {
		const checks = checkPromises(view, this.promises);
		reportPromises(checks, recipe, view.model.units, report);
		return checks;
	}

	private remote(input: PipelineInput): RemoteFills | undefined {
		const { helpers } = this;
		if (!helpers) return undefined;
		const { count, worthwhile } = helpers;
		return { count, worthwhile, ask: (helper, regions) => helpers.ask(helper, input, regions) };
	}

	/** The fills of some regions alone: what a helper does. */
	*someFills({ text, files, settings }: FillSource, regions: readonly RegionRequest[]): Work<Map<string, Fill | FillError>> {
		const recipe = parseRecipe(text);
		const model = evaluateRecipe(recipe, files, settings);
		const report = new Report(recipe.lines, []);
		const domain = yield* part(this.shapes.run(model, report), 0, 0.05);
		yield 0.05;
		const divided = yield* part(this.divides.run(domain, report), 0.05, 0.1);
		yield 0.1;
		const numbering = numberBoundary(domain.arrangement, divided.divisions.pieces, domain.regions);
		return yield* part(this.fills.some(domain, divided, numbering, regions), 0.1, 1);
	}

	/** The fills of a finer level: rows are parted, all else is filled with finer sizes. */
	private *refined(domain: Domain, coarse: DividedDomain, fine: DividedDomain, by: number, report: Report): Work<RegionFills> {
		const { arrangement, regions } = domain;
		const isRow = ({ layout }: RegionPlan) => layout !== undefined;
		const [from, to] = mapped([coarse, fine], ({ divisions: { pieces } }): RefinedFill => ({
			divisions: pieces,
			numbering: numberBoundary(arrangement, pieces, regions)
		}));
		// Triangles in rows are cut from the parted quadrilaterals.
		const whole = { ...domain, regions: regions.map((r) => (r.halved ? { ...r, halved: false } : r)) };
		const rows = coarse.plans.filter(isRow).map((plan) => ({ ...plan, method: methodOf(whole.regions[plan.region]!)! }));
		const first = yield* part(new FillStage().run(whole, { ...coarse, plans: rows }, from.numbering, Infinity, report), 0, 0);
		const rest = yield* part(
			this.fills.run(
				refinedDomain(domain, by),
				{ ...fine, plans: fine.plans.filter((plan) => !isRow(plan)) },
				to.numbering,
				Infinity,
				report
			),
			0,
			1
		);
		const fills = rest.fills.map((fill, r) => {
			const plan = rows.find(({ region }) => region === r);
			const made = plan && first.fills[r];
			return made ? refinedRows(domain, plan, { fill: made.fill, coarse: from, fine: to }, by) : fill;
		});
		return { ...rest, fills, predicted: rest.predicted + by * by * first.predicted };
	}

	/** The drawing of a recipe alone; a run of the same recipe afterwards takes it over. */
	shape(input: PipelineInput): Shape {
		return finish(this.shapes.shape(evaluateRecipe(parseRecipe(input.text), input.files, input.settings)));
	}
}

function unfilledRegions({ model, regions }: Domain, fills: readonly (GlobalFill | undefined)[]): string[] {
	return [...regions.flatMap((r, k) => (r.fill !== 'none' && !fills[k] ? [r.name] : [])), ...missingRegions(model, regions)];
}

/** A model of which nothing is drawn. */
const withoutCurves = (model: Model): Model => ({
	...model,
	nodes: [],
	curves: [],
	curveLines: [],
	curvesByName: new Map(),
	stated: {}
});

/** What a check or a figure gives; undefined where it fails, and then a finding says so. */
function attempt<T>(what: string, report: Report, run: () => T): T | undefined {
	try {
		return run();
	} catch (error) {
		report.failed(what, error);
		return undefined;
	}
}

const severityRank = { error: 0, warning: 1, note: 2 } as const;

/** Elements that fold where their sides are curved, when they are asked to be of second order. */
function checkOrder(model: Model, arrangement: Arrangement, mesh: Mesh, report: Report): void {
	const order = orderOf(model);
	if (!order) return;
	const [first, ...more] = secondOrder(mesh, arrangement).folded;
	if (first === undefined) return;
	const at = elementCentre(mesh, first);
	report.about(order.line).add('order-fold', { at, more: more.length }, { at });
}

function checkHeader({ lines: [first] }: Recipe, report: Report): void {
	if (first?.error || isA(recipeStatement, first?.statement)) return;
	report.add('no-header', {}, { mend: [{ from: 0, to: 0, insert: 'recipe 1\n' }] });
}
