import type { GlobalFill } from '../assembly/assemble.ts';
import type { Division } from '../divide/division.ts';
import type { Domain } from '../domain/domain.ts';
import { layersInRows, type LayersInRows } from '../promises/layers-in-rows.ts';
import type { MeshView } from '../promises/mesh-view.ts';
import type { LayerProfile, LayerResult } from '../fill/method.ts';
import { log } from '../numeric/elementary.ts';
import { addStatement, setClause } from '../recipe/edits/edits.ts';
import { referenceText } from '../recipe/edits/intents.ts';
import { mostLayers, stackThickness } from '../recipe/model/layer-numbers.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { LayerStatement } from '../recipe/statements/layers.ts';
import type { TextEdit } from '../text/edit.ts';
import type { Report } from '../findings/report.ts';
import { placeText } from '../text/sentences.ts';

/** What the layers of one statement came to; lengths in recipe units, angles in degrees. */
export interface LayerFigures extends LayersInRows {
	/** The walls, as the statement names them. */
	walls: string[];
	/** Its stacks along the walls, by region; none in regions of rows. */
	profiles: LayerProfile[];
	/** How its stacks are spread; not in regions of rows. */
	spread?: Record<'complete' | 'growth' | 'firstOverAsked' | 'lean', Spread>;
}

/** How values are spread: the least, of ten the lowest, the middle one, of ten the highest, the largest. */
export type Spread = Record<'min' | 'p10' | 'median' | 'p90' | 'max', number>;

/** How values are spread; zeros where there is none. */
function spreadOf(values: number[]): Spread {
	const sorted = Float64Array.from(values).sort();
	const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
	return { min: at(0), p10: at(0.1), median: at(0.5), p90: at(0.9), max: at(1) };
}

/** A value of every stack of some walls. */
const ofStacks = (profiles: readonly LayerProfile[], value: (profile: LayerProfile, k: number) => number): number[] =>
	profiles.flatMap((profile) => [...profile.count.keys()].map((k) => value(profile, k)));

function spreads(profiles: readonly LayerProfile[]): NonNullable<LayerFigures['spread']> {
	const grown = (value: (profile: LayerProfile, k: number) => number) =>
		ofStacks(profiles, (profile, k) => (profile.count[k] === 0 ? NaN : value(profile, k))).filter(Number.isFinite);
	return {
		complete: spreadOf(ofStacks(profiles, ({ count, wanted }, k) => count[k]! / (wanted[k]! || 1))),
		growth: spreadOf(grown(({ growth }, k) => growth[k]!)),
		firstOverAsked: spreadOf(grown(({ first, firstAsked }, k) => first[k]! / firstAsked[k]!)),
		lean: spreadOf(grown(({ lean }, k) => lean[k]!))
	};
}

const finite = (value: number): number => (Number.isFinite(value) ? value : 0);

/** The height of the elements behind over that of the last cell, above which half of the walls make a finding. */
const highestBehind = 3;

/** Which elements are cells of layers: ranges of their numbers, triangles first, two numbers to a range. */
export function layerRanges(fills: readonly (GlobalFill | undefined)[]): number[] {
	const ranges: number[] = [];
	let first = 0;
	for (const [kind, nodes] of [
		['triangles', 3],
		['quads', 4]
	] as const)
		for (const f of fills) {
			const count = f?.fill.layerCells?.[kind] ?? 0;
			if (count > 0) ranges.push(first, first + count);
			first += (f?.fill[kind].length ?? 0) / nodes;
		}
	return ranges;
}

/** The figures of all layers; findings where there was no room for all of them, and where the elements behind are far higher. */
export function layerFigures(
	domain: Domain,
	view: MeshView,
	fills: readonly (GlobalFill | undefined)[],
	divisions: readonly Division[],
	recipe: Recipe,
	report: Report
): LayerFigures[] {
	const { layers } = domain;
	const made = fills.flatMap((f) => f?.fill.layers ?? []);
	const wallsOf = (statement: LayerStatement) => statement.pieces.map(referenceText);
	const inRows = layersInRows(domain, view).map((figures): LayerFigures => {
		const statement = layers.statements.find(({ line }) => line === figures.line)!;
		return { ...figures, walls: wallsOf(statement), profiles: [] };
	});
	const inStacks = layers.statements.flatMap((statement, k) => {
		const parts = made.filter((m) => m.statement === k);
		if (parts.length === 0) return [];
		const most = (of: (m: LayerResult) => number) => Math.max(...parts.map(of));
		const least = (of: (m: LayerResult) => number) => Math.min(...parts.map(of));
		const mean = (of: (m: LayerResult) => number) => parts.reduce((sum, m) => sum + of(m), 0) / parts.length;
		const figures: LayerFigures = {
			walls: wallsOf(statement),
			line: statement.line,
			cells: parts.reduce((sum, m) => sum + m.cells, 0),
			// Where no cell fits there is no first height.
			first: { min: finite(least((m) => m.first.min)), max: finite(most((m) => m.first.max)) },
			thickness: { min: least((m) => m.thickness.min), mean: mean((m) => m.thickness.mean), max: most((m) => m.thickness.max) },
			complete: mean((m) => m.complete),
			angle: { min: finite(least((m) => m.smallestAngle)) },
			profiles: parts.map((m) => m.profile),
			spread: spreads(parts.map((m) => m.profile))
		};
		const lowered = parts.flatMap((m) => m.lowered?.stretches ?? []).sort((a, b) => a.scale - b.scale || a.growth - b.growth);
		if (lowered[0]) {
			const share = mean((m) => m.lowered?.share ?? 0);
			const growth = Math.min(...lowered.map((s) => s.growth));
			report.about(statement.line).add(
				'layers-squeezed',
				{
					growth: growth < statement.growth * (1 - 1e-6) ? growth : undefined,
					scale: lowered[0].scale,
					share,
					stretches: lowered
				},
				{ at: lowered[0].at }
			);
		}
		const reduced = parts.flatMap((m) => m.reduced?.stretches ?? []).sort((a, b) => a.count - b.count);
		if (reduced[0]) {
			const of = most((m) => m.reduced?.of ?? 0);
			report
				.about(statement.line)
				.add(
					'layers-reduced',
					{ count: reduced[0].count, of, complete: figures.complete, stretches: reduced },
					{ at: reduced[0].at }
				);
		}
		const grows = (p: number) => layers.of.get(2 * p) === k || layers.of.get(2 * p + 1) === k;
		const areFree = () => !divisions.some(({ countLine }, p) => countLine >= 0 && grows(p));
		reportBehind(statement, figures.profiles, areFree, recipe, report);
		return [figures];
	});
	return [...inStacks, ...inRows];
}

/** Layers that would become thicker than so many widths of their cells are not proposed, where finer cells along the walls can be. */
const thickestProposed = 3;

/** Reports where whole stacks end far below the height of the elements behind them, and what would bring the two together. */
function reportBehind(
	statement: LayerStatement & { line: number },
	profiles: readonly LayerProfile[],
	areFree: () => boolean,
	recipe: Recipe,
	report: Report
): void {
	const { first, growth, count, pieces } = statement;
	const stacks = profiles.flatMap(({ x, y, width, last, behind, count: cells }) =>
		[...cells.keys()].flatMap((k) =>
			cells[k] === count && behind[k]! > 0
				? [{ ratio: behind[k]! / last[k]!, last: last[k]!, width: width[k]!, x: x[k]!, y: y[k]! }]
				: []
		)
	);
	stacks.sort((a, b) => b.ratio - a.ratio);
	// The ratio that half of the whole length is above; where cells are left out there is no room for more.
	let length = profiles.reduce((sum, { width }) => sum + width.reduce((a, b) => a + b, 0), 0) / 2;
	const middle = stacks.find(({ width }) => (length -= width) <= 0);
	if (!middle || middle.ratio <= highestBehind) return;
	const { ratio, x, y } = stacks[0]!;
	const isFree = areFree();
	const more = growth > 1 ? count + Math.round(log(middle.ratio / growth) / log(growth)) : Infinity;
	// An equilateral triangle that is as high as the next cell would be.
	const size = Number(((growth * middle.last * 2) / Math.sqrt(3)).toPrecision(2));
	const ways = [
		...(more <= mostLayers ? [`with ${more} cells the layers would grow to them`] : []),
		...(isFree ? [`with cells ${size} wide along the walls they would match the last layer`] : [])
	];
	const thickness = more <= mostLayers ? stackThickness({ first, growth, count: more }) : Infinity;
	const edits = isFree && thickness > thickestProposed * middle.width ? undefined : withCount(statement, more, recipe);
	const finer = {
		label: `Cells ${size} wide`,
		edits: addStatement(recipe, `size ${size} near ${pieces.map(referenceText).join(', ')}`)
	};
	const mend = edits ? { label: `Grow ${more} cells`, edits } : isFree ? finer : undefined;
	const message = `on half of these walls the elements behind are more than ${middle.ratio.toPrecision(2)} times as high as the last cell, up to ${ratio.toPrecision(2)} times at ${placeText({ x, y })}${ways.map((way) => `; ${way}`).join('')}`;
	report.about(statement.line).add('layers-behind', { message }, { at: { x, y }, ...(mend ? { mend } : {}) });
}

/** The edits that give layers another count, by its clause or by the thickness; undefined where they are written otherwise. */
function withCount(
	{ line: at, first, growth }: LayerStatement & { line: number },
	count: number,
	recipe: Recipe
): TextEdit[] | undefined {
	const line = recipe.lines[at]!;
	const has = (name: string) => line.statement!.clauses.some((c) => c.name === name);
	if (count > mostLayers || has('last')) return undefined;
	if (has('count')) return setClause(line, 'count', `count ${count}`);
	if (!has('first') || !has('growth') || !has('thickness')) return undefined;
	return setClause(line, 'thickness', `thickness ${Number(stackThickness({ first, growth, count }).toPrecision(6))}`);
}
