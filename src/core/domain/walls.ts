import type { Point } from '../geometry/curve.ts';
import { flatten } from '../geometry/parts.ts';
import type { Arrangement, Walk } from '../geometry/pieces.ts';
import { exp, hypot, log } from '../numeric/elementary.ts';
import type { Model, WithLine } from '../recipe/model/model.ts';
import { isA } from '../recipe/language/statement.ts';
import { layers, layersOf, type LayerStatement } from '../recipe/statements/layers.ts';
import type { Report } from '../findings/report.ts';
import { sideMeant } from './wall-sides.ts';
import { resolvePieces } from './references.ts';
import { type Region, walksOf } from './regions.ts';

/** Layers on walls: for half-pieces (`2 p` to the left of piece p, `2 p + 1` to its right) the statement that rules. */
export interface WallLayers {
	statements: readonly WithLine<LayerStatement>[];
	/** By half-piece, the statement as an index. */
	of: ReadonlyMap<number, number>;
	/** Where first heights vary along a half-piece: places as fractions of its length, in its direction, and the heights there. */
	firsts: ReadonlyMap<number, FirstHeights>;
}

/** First heights along a half-piece; between two places their logarithm changes evenly. */
export interface FirstHeights {
	/** Fractions of the half-piece's length, rising; below the first and above the last the height stays as it is there. */
	at: number[];
	first: number[];
}

/** The first height at a fraction of a half-piece's length. */
export function firstAt({ at, first }: FirstHeights, fraction: number): number {
	const k = at.findIndex((t) => t >= fraction);
	if (k <= 0) return k < 0 ? first.at(-1)! : first[0]!;
	const share = (fraction - at[k - 1]!) / (at[k]! - at[k - 1]! || 1);
	return first[k - 1]! * exp(share * log(first[k]! / first[k - 1]!));
}

/**
 * The first heights at the nodes along a half-piece, in its direction.
 *
 * @param nodes their coordinates in the direction of the piece
 * @returns undefined where it grows no layers
 */
export function firstHeights(
	{ of, statements, firsts }: WallLayers,
	half: number,
	nodes: { x: Float64Array; y: Float64Array }
): Float64Array | undefined {
	const layer = of.get(half);
	if (layer === undefined) return undefined;
	const [x, y] = half & 1 ? [nodes.x.toReversed(), nodes.y.toReversed()] : [nodes.x, nodes.y];
	const varying = firsts.get(half);
	if (!varying) return new Float64Array(x.length).fill(statements[layer]!.first);
	const along = new Float64Array(x.length);
	for (let k = 1; k < x.length; k++) along[k] = along[k - 1]! + hypot(x[k]! - x[k - 1]!, y[k]! - y[k - 1]!);
	return along.map((s) => firstAt(varying, s / along.at(-1)!));
}

/** Which sides of which pieces grow layers; of two statements about one the later rules. */
export function findWalls(model: Model, arrangement: Arrangement, regions: readonly Region[], report: Report): WallLayers {
	const statements = layersOf(model);
	const of = new Map<number, number>();
	const names = new Set(regions.map((r) => r.statement));
	const regionAt = new Map(regions.map((region) => [region.face, region]));
	statements.forEach((statement, k) => {
		const lineReport = report.about(statement.line);
		if (statement.region !== undefined && !names.has(statement.region)) {
			const syntax = model.recipe.lines[statement.line]!.statement;
			const within = isA(layers, syntax) ? syntax.region : undefined;
			if (!model.failed.has(statement.region)) lineReport.add('unknown-region', { name: statement.region, names }, { within });
			return;
		}
		const pieces = resolvePieces(model, arrangement, statement.pieces, lineReport, regions);
		const isMeant = sideMeant(
			arrangement,
			pieces.map(({ piece }) => piece),
			statement.side
		);
		let found = 0;
		for (const { piece } of pieces)
			for (const half of [2 * piece, 2 * piece + 1]) {
				if (!isMeant(half)) continue;
				const region = regionAt.get(arrangement.sides[half]!);
				if (!region || (statement.region !== undefined && region.statement !== statement.region)) continue;
				if (region.fill === 'none') continue;
				of.set(half, k);
				found++;
			}
		if (pieces.length > 0 && found === 0) lineReport.add('layers-nowhere', {});
	});
	return { statements, of, firsts: firstsAlong(statements, of, arrangement, regions) };
}

/** A run of wall along the boundary of a region that one statement rules, each half-piece with where it begins on the run. */
interface Run {
	halves: number[];
	starts: number[];
	length: number;
	closed: boolean;
}

/** First heights that vary: along each run of wall, between the places on it that the statement gives. */
function firstsAlong(
	statements: WallLayers['statements'],
	of: WallLayers['of'],
	arrangement: Arrangement,
	regions: readonly Region[]
): Map<number, FirstHeights> {
	const found = new Map<number, FirstHeights>();
	statements.forEach(({ firsts }, k) => {
		if (!firsts) return;
		const runs = regions.flatMap((region) =>
			walksOf(arrangement, region).flatMap((walk) => runsOf(walk, (half) => of.get(half) === k, arrangement))
		);
		// A place holds for the walls that are nearest to it, both sides of one among them.
		const knots = runs.map((): { s: number; first: number }[] => []);
		for (const { first, at } of firsts) {
			const nearest = runs.map((run) => nearestOn(run, at, arrangement));
			const least = nearest.reduce((a, b) => Math.min(a, b.distance), Infinity);
			nearest.forEach(({ s, distance }, r) => {
				if (distance <= least + 1e-9 * arrangement.diagonal) knots[r]!.push({ s, first });
			});
		}
		runs.forEach((run, r) => {
			const places = knots[r]!.sort((a, b) => a.s - b.s);
			if (places.length === 0) return;
			const around = run.closed
				? [{ ...places.at(-1)!, s: places.at(-1)!.s - run.length }, ...places, { ...places[0]!, s: places[0]!.s + run.length }]
				: places;
			const whole = { at: around.map(({ s }) => s), first: around.map(({ first }) => first) };
			run.halves.forEach((half, i) => {
				const [from, length] = [run.starts[i]!, arrangement.pieces[half >> 1]!.length];
				const inside = around.map(({ s }) => (s - from) / length).filter((t) => t > 0 && t < 1);
				const at = [0, ...inside, 1];
				found.set(half, { at, first: at.map((t) => firstAt(whole, from + t * length)) });
			});
		});
	});
	return found;
}

function runsOf(walk: Walk, isWall: (half: number) => boolean, { pieces }: Arrangement): Run[] {
	const first = walk.findIndex((half, k) => isWall(half) && !isWall(walk[(k + walk.length - 1) % walk.length]!));
	const closed = first < 0 && walk.some(isWall);
	if (first < 0 && !closed) return [];
	const runs: Run[] = [];
	let run: Run | undefined;
	for (let k = 0; k < walk.length; k++) {
		const half = walk[(Math.max(0, first) + k) % walk.length]!;
		if (!isWall(half)) run = undefined;
		else {
			if (!run) runs.push((run = { halves: [], starts: [], length: 0, closed }));
			run.halves.push(half);
			run.starts.push(run.length);
			run.length += pieces[half >> 1]!.length;
		}
	}
	return runs;
}

/** Where on a run a point comes nearest to it, and how near. */
function nearestOn({ halves, starts }: Run, { x, y }: Point, { pieces, diagonal }: Arrangement): { s: number; distance: number } {
	let best = { s: 0, distance: Infinity };
	halves.forEach((half, i) => {
		const piece = pieces[half >> 1]!;
		const line = flatten(piece, 1e-6 * diagonal);
		let [before, nearest, distance] = [0, 0, Infinity];
		for (let k = 0; k + 3 < line.length; k += 2) {
			const [ax, ay] = [line[k]!, line[k + 1]!];
			const [dx, dy] = [line[k + 2]! - ax, line[k + 3]! - ay];
			const length = hypot(dx, dy);
			const t = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (length * length))) : 0;
			const away = hypot(ax + t * dx - x, ay + t * dy - y);
			if (away < distance) [distance, nearest] = [away, before + t * length];
			before += length;
		}
		const share = before > 0 ? nearest / before : 0;
		if (distance < best.distance) best = { s: starts[i]! + (half & 1 ? 1 - share : share) * piece.length, distance };
	});
	return best;
}
