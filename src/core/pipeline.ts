import { log } from './numeric/elementary.ts';
import { sameNumbers } from './numeric/same.ts';
import { largestJump } from './divide/jumps.ts';
import { divide, PlacementCache } from './divide/divide.ts';
import type { Divisions, RegionLayout } from './divide/division.ts';
import { elementLimit, type SizeRule } from './sizing/size-rule.ts';
import { FillError, type Fill, type FillInput } from './fill/method.ts';
import type { Work } from './numeric/work.ts';
import { fillStructured, type NodeLayout } from './fill/structured/fill-structured.ts';
import { halveQuads } from './fill/structured/halve.ts';
import { findLayout, layoutWalks } from './blocks/layout.ts';
import { layoutNodes, sameLayout } from './fill/structured/layout-nodes.ts';
import { smoothAcross, smoothedTogether, type RememberedSmoothing, type SmoothedRegion } from './assembly/smooth-across.ts';
import { expectedTriangles } from './fill/triangles/expected.ts';
import { fillTriangles } from './fill/triangles/fill-triangles.ts';
import type { Finding } from './text/finding.ts';
import { assembleMesh } from './assembly/assemble.ts';
import { gatherBoundary, numberBoundary, type RegionBoundary } from './fill/boundary.ts';
import { checkGroups, resolveGroups } from './domain/groups.ts';
import type { Mesh } from './mesh/mesh.ts';
import { elementCentre, measureQuality, type Quality } from './quality/quality.ts';
import { addStatement } from './recipe/edits.ts';
import { evaluateRecipe, type Settings } from './recipe/evaluate.ts';
import type { CoordinateFiles, Model } from './recipe/model.ts';
import { parseRecipe, syntaxFindings, type Recipe } from './recipe/parse.ts';
import { arrange } from './geometry/arrangement.ts';
import type { Arrangement } from './geometry/pieces.ts';
import type { Curve, Point } from './geometry/curve.ts';
import { sizeField, type SizeField } from './sizing/size-field.ts';
import { checkShape } from './findings/shape-checks.ts';
import type { Shape } from './domain/lasting.ts';
import { defaultGrowth, findRegions, type Region } from './domain/regions.ts';

/** What the pipeline works from. */
export interface PipelineInput {
	text: string;
	files: CoordinateFiles;
	settings?: Settings;
	/** More elements than this are only predicted, not made; the result says how many in `held`. */
	askAbove?: number;
}

/** Everything that a recipe gives. */
export interface Result {
	recipe: Recipe;
	model: Model;
	arrangement: Arrangement;
	regions: Region[];
	/** How the structured regions are laid out in blocks. */
	layouts: RegionLayout[];
	divisions: Divisions;
	/** The largest ratio of cells that touch where one piece goes on into another, and one of the two. */
	largestJump: { ratio: number; piece: number } | undefined;
	mesh: Mesh;
	quality: Quality;
	findings: Finding[];
	/** Outlines of zones with a size of their own, flat x, y pairs. */
	zoneOutlines: Float64Array[];
	/** How many elements were to be expected, before any fill. */
	predicted: number;
	/** Set where nothing was filled, because so many elements were to be expected. */
	held?: number;
	/** The element size used where the recipe gives none. */
	fallbackSize: number;
	/** Milliseconds per stage. */
	timings: Record<string, number>;
	/** Names of the regions that had to be filled anew. */
	refilled: string[];
}

/** What one region's fill was made from, and what came out. */
interface RememberedFill {
	input: FillInput;
	rule: string;
	layout: NodeLayout | FillError | undefined;
	/** The numbers of the size field, for a fill with triangles. */
	field: Float64Array | undefined;
	outcome: Fill | FillError;
	predicted: number;
}

/** A region with all that its fill is made from. */
interface PreparedFill {
	/** Its place among the regions. */
	index: number;
	region: Region;
	boundary: RegionBoundary;
	layout: NodeLayout | FillError | undefined;
	rule: string;
	sizes: SizeRule;
	numbers: Float64Array | undefined;
	/** The last fill, where it was made from the same. */
	known: RememberedFill | undefined;
	predicted: number;
}

/**
 * The one place that runs the stages in order. It keeps the last result of each stage under the
 * inputs of that stage, so an edit runs again only what it touches: one region's bias does not
 * refill the others.
 */
export class Pipeline {
	private arrangement: Arrangement | undefined;
	private nodeKey = '';
	private placements = new PlacementCache();
	private fills = new Map<string, RememberedFill>();
	private smoothings: RememberedSmoothing[] = [];

	/** @param clock milliseconds from any origin, for the timings */
	constructor(private readonly clock: () => number) {}

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
		const findings: Finding[] = [...syntaxFindings(recipe), ...model.findings];
		checkHeader(recipe, findings);
		lap('recipe');

		const arrangement = this.arranged(model.curves, model.nodes);
		const regions = findRegions(model, arrangement, findings);
		checkShape(model, arrangement, regions, findings);
		lap('shape');
		yield 0.05;

		const fallbackSize = roundSize(arrangement.diagonal / 40);
		checkSizes(model, regions, fallbackSize, findings);
		const growth = regions[0]?.growth ?? defaultGrowth;
		const background = Math.max(...regions.map((r) => r.size ?? fallbackSize), model.sizes.at(-1)?.size ?? fallbackSize);
		const field = sizeField(model, arrangement, background, growth, findings);
		const layouts = findLayouts(model, arrangement, regions, findings);
		const divisions = divide(model, arrangement, regions, layouts, fallbackSize, field, findings, this.placements);
		lap('divide');
		yield 0.1;

		const numbering = numberBoundary(arrangement, divisions.pieces, regions);
		const prepared = regions.flatMap((region, r): PreparedFill[] => {
			if (region.fill === 'none') return [];
			const k = layouts.findIndex((l) => l.region === r);
			const layout = layouts[k]?.layout;
			const clashes = layout && layoutWalks(layout).some((walk) => walk.some((h) => divisions.clashing.has(h >> 1)));
			if (region.fill === 'structured' && (!layout || clashes)) return [];
			const boundary = gatherBoundary(region, arrangement, divisions.pieces, numbering);
			const nodes =
				layout &&
				layoutNodes(
					layout,
					boundary,
					{ model, arrangement, divisions: divisions.pieces, region, size: fallbackSize },
					divisions.own[k]!
				);
			return [this.prepared(r, region, boundary, nodes, fallbackSize, field)];
		});
		let predicted = prepared.reduce((sum, p) => sum + p.predicted, 0);
		// A region above the limit is refused in any case, and no question.
		const possible = prepared.reduce((sum, p) => sum + (p.predicted > elementLimit ? 0 : p.predicted), 0);
		const isAsked = possible > (input.askAbove ?? Infinity) && prepared.some((p) => !p.known);
		const held = isAsked ? predicted : undefined;
		const refilled: string[] = [];
		const fills: ({ fill: Fill; global: Uint32Array } | undefined)[] = regions.map(() => undefined);
		const structured = new Map<number, SmoothedRegion>();
		const kept = new Map<string, RememberedFill>();
		for (const [k, own] of (held === undefined ? prepared : []).entries()) {
			const { region, boundary } = own;
			const remembered =
				own.known ?? (yield* this.filled(own, refilled, 0.1 + (0.8 * k) / prepared.length, 0.8 / prepared.length));
			kept.set(region.name, remembered);
			predicted += remembered.predicted - own.predicted;
			const { outcome } = remembered;
			if (outcome instanceof FillError) reportFill(model, region, outcome, findings);
			else {
				fills[own.index] = { fill: outcome, global: boundary.global };
				if (remembered.layout && !(remembered.layout instanceof FillError))
					structured.set(own.index, {
						index: own.index,
						fill: outcome,
						global: boundary.global,
						layout: remembered.layout
					});
			}
		}
		// What is held back may be asked for next.
		if (held === undefined) this.fills = kept;
		lap('fill');

		const groups = resolveGroups(model, arrangement, regions, findings);
		checkGroups(arrangement, regions, groups, findings);
		const mesh = assembleMesh(arrangement, divisions.pieces, numbering, regions, fills, groups);
		let inner = numbering.count;
		const firstInner = fills.map((f) => (inner += f?.fill.x.length ?? 0) - (f?.fill.x.length ?? 0));
		this.smoothings = smoothedTogether(model, arrangement, regions, (r) => structured.get(r), groups).map((together, k) =>
			smoothAcross(mesh, together, arrangement, divisions.pieces, numbering, firstInner, this.smoothings[k])
		);
		lap('assemble');
		yield 0.93;

		const quality = measureQuality(mesh);
		reportInverted(mesh, quality, findings);
		lap('quality');
		findings.sort((a, b) => severityRank[a.severity] - severityRank[b.severity]);
		return {
			recipe,
			model,
			arrangement,
			regions,
			layouts,
			divisions,
			largestJump: largestJump(arrangement, divisions.pieces, (p) => numbering.piece[p]! >= 0),
			mesh,
			quality,
			findings,
			zoneOutlines: field.outlines,
			predicted,
			...(held === undefined ? {} : { held }),
			fallbackSize,
			timings,
			refilled
		};
	}

	/** The drawing of a recipe alone; a run of the same recipe afterwards takes it over. */
	shape(input: PipelineInput): Shape {
		const model = evaluateRecipe(parseRecipe(input.text), input.files, input.settings);
		return { model, arrangement: this.arranged(model.curves, model.nodes) };
	}

	private arranged(curves: Curve[], nodes: readonly Point[]): Arrangement {
		const known = this.arrangement;
		const key = nodes.map((p) => `${p.x} ${p.y}`).join(',');
		const same = known?.curves.length === curves.length && curves.every((c, i) => sameCurve(c, known.curves[i]!));
		if (known && same && key === this.nodeKey) return known;
		this.nodeKey = key;
		return (this.arrangement = arrange(curves, nodes));
	}

	/** What a region is to be filled from, what is known of that already, and how many elements to expect. */
	private prepared(
		index: number,
		region: Region,
		boundary: RegionBoundary,
		layout: NodeLayout | FillError | undefined,
		fallbackSize: number,
		field: SizeField
	): PreparedFill {
		const size = region.size ?? fallbackSize;
		const isTriangles = region.fill === 'triangles';
		const rule = isTriangles ? `${size} ${region.growth} ${region.even}` : `${region.sweeps} ${region.halved}`;
		const sizes: SizeRule = {
			size,
			growth: region.growth,
			field: field.at,
			plateaus: field.plateaus,
			even: region.even === true
		};
		const own = { index, region, boundary, layout, rule, sizes, numbers: isTriangles ? field.numbers : undefined };
		const last = this.fills.get(region.name);
		const isKnown =
			last?.rule === rule &&
			sameNumbers(last.field ?? [], own.numbers ?? []) &&
			sameLayout(last.layout, layout) &&
			sameInput(last.input, boundary.input);
		const known = isKnown ? last : undefined;
		const predicted =
			known?.predicted ??
			(isTriangles ? expectedTriangles(boundary.input, sizes) : (region.halved ? 2 : 1) * expectedQuads(layout));
		return { ...own, known, predicted };
	}

	private *filled(
		{ region, boundary: { input }, layout, rule, sizes, numbers, predicted }: PreparedFill,
		refilled: string[],
		done: number,
		share: number
	): Work<RememberedFill> {
		refilled.push(region.name);
		let outcome: Fill | FillError;
		try {
			if (layout instanceof FillError) outcome = layout;
			else if (layout) {
				outcome = fillStructured(input, layout, region.sweeps);
				if (region.halved) outcome = halveQuads(input, outcome);
			} else {
				checkAmount(predicted, input);
				const work = fillTriangles(input, sizes, predicted);
				let step = work.next();
				while (!step.done) {
					yield done + share * step.value;
					step = work.next();
				}
				outcome = step.value;
			}
		} catch (error) {
			if (!(error instanceof FillError)) throw error;
			outcome = error;
		}
		const own = layout ? amount(outcome) : predicted;
		return { input, rule, layout, field: numbers, outcome, predicted: own };
	}
}

/** The number of elements of a fill that needs no prediction. */
const amount = (outcome: Fill | FillError) =>
	outcome instanceof FillError ? 0 : outcome.quads.length / 4 + outcome.triangles.length / 3;

/** The number of quadrilaterals of a layout, but for the blocks of stars and the cores of discs. */
function expectedQuads(layout: NodeLayout | FillError | undefined): number {
	if (!layout || layout instanceof FillError) return 0;
	if (layout.kind === 'block') return (layout.sides[0].length - 1) * (layout.sides[1].length - 1);
	if (layout.kind === 'ring') return layout.outer.length * (layout.across.length - 1);
	return 0;
}

const severityRank = { error: 0, warning: 1, note: 2 } as const;

function checkHeader(recipe: Recipe, findings: Finding[]): void {
	if (recipe.lines[0]?.statement?.kind === 'recipe' || recipe.lines[0]?.error) return;
	findings.push({
		severity: 'warning',
		code: 'no-header',
		message: 'the first statement should be `recipe 1`, so that later versions know how to read this file',
		mend: { label: 'Add it', edits: [{ from: 0, to: 0, insert: 'recipe 1\n' }] }
	});
}

/** 1, 2 or 5 times a power of ten, at most `value`. */
function roundSize(value: number): number {
	if (!(value > 0)) return 1;
	const power = Number(`1e${Math.floor(log(value) / Math.LN10)}`);
	const lead = value / power;
	return (lead >= 5 ? 5 : lead >= 2 ? 2 : 1) * power;
}

function checkSizes(model: Model, regions: readonly Region[], fallbackSize: number, findings: Finding[]): void {
	for (const [r, region] of regions.entries()) {
		if (region.fillLine < 0 && regions.findIndex((other) => other.statement === region.statement) === r) {
			const { from, to } = model.recipe.lines[region.line]!;
			findings.push({
				severity: 'warning',
				code: 'no-fill',
				message: `nothing says what region \`${region.statement}\` is filled with, so it stays empty`,
				span: { from, to },
				mend: { label: 'Fill it with triangles', edits: addStatement(model.recipe, `fill ${region.statement} triangles`) }
			});
		}
	}
	const unsized = regions.filter((r) => r.fill === 'triangles' && r.size === undefined);
	if (unsized.length > 0)
		findings.push({
			severity: 'note',
			code: 'no-size',
			message: `no size is given for ${unsized.map((r) => `\`${r.name}\``).join(', ')}; ${fallbackSize} ${model.units}, about a fortieth of the drawing, is used`,
			mend: { label: `Write size ${fallbackSize}`, edits: addStatement(model.recipe, `size ${fallbackSize}`) }
		});
}

function findLayouts(model: Model, arrangement: Arrangement, regions: readonly Region[], findings: Finding[]): RegionLayout[] {
	const layouts: RegionLayout[] = [];
	regions.forEach((region, r) => {
		if (region.fill !== 'structured') return;
		const layout = findLayout(arrangement, region.face, region.corners, region.seam);
		if ('kind' in layout) layouts.push({ region: r, layout });
		else {
			const { from, to } = model.recipe.lines[region.fillLine]!;
			findings.push({
				severity: 'error',
				code: 'not-structured',
				message: `region \`${region.name}\` cannot be structured: ${layout.reason}`,
				span: { from, to },
				...(layout.at ? { at: layout.at } : {}),
				pieces: arrangement.faces[region.face]!.outer.map((h) => h >> 1)
			});
		}
	});
	return layouts;
}

function checkAmount(expected: number, { x, y }: FillInput): void {
	if (expected > elementLimit)
		throw new FillError(
			'too-many',
			`the sizes asked would take about ${expected.toExponential(1)} triangles, above the limit of ${elementLimit}; use larger sizes`,
			{ x: x[0]!, y: y[0]! }
		);
}

function reportFill(model: Model, region: Region, error: FillError, findings: Finding[]): void {
	const { from, to } = model.recipe.lines[region.fillLine]!;
	findings.push({
		severity: 'error',
		code: error.code,
		message: `region \`${region.name}\` could not be filled: ${error.message}`,
		at: error.at,
		span: { from, to }
	});
}

function reportInverted(mesh: Mesh, quality: Quality, findings: Finding[]): void {
	const { values, worst } = quality.scaledJacobian!;
	let count = 0;
	for (const v of values) if (!(v > 0)) count++;
	if (count === 0) return;
	findings.push({
		severity: 'error',
		code: 'inverted',
		message: `${count} element${count === 1 ? ' is' : 's are'} folded or inverted; a solver cannot use them`,
		at: elementCentre(mesh, worst)
	});
}

function sameCurve(a: Curve, b: Curve): boolean {
	return (
		a.name === b.name &&
		a.closed === b.closed &&
		sameNumbers(a.kinds, b.kinds) &&
		sameNumbers(a.data, b.data) &&
		sameNumbers(a.control, b.control)
	);
}

function sameInput(a: FillInput, b: FillInput): boolean {
	return sameNumbers(a.x, b.x) && sameNumbers(a.y, b.y) && sameNumbers(a.edges, b.edges);
}
