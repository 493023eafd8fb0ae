import { mapped } from '../text/typed.ts';
import { addTo } from '../numeric/lists.ts';
import type { Arrangement, CurvePiece } from '../geometry/pieces.ts';
import { flatten } from '../geometry/parts.ts';
import { distanceToSegment } from '../geometry/segments.ts';
import { cos, hypot, sin } from '../numeric/elementary.ts';
import type { Model } from '../recipe/model/model.ts';
import type { CurveReference, PieceSet } from '../recipe/language/syntax.ts';
import { didYouMean } from '../text/nearest.ts';
import { Report } from '../findings/report.ts';
import { placeText, short } from '../text/sentences.ts';

/** A region as descriptions see it: the name of its statement, its face, and whether it holds elements. */
export interface NamedFace {
	statement: string;
	face: number;
	fill: string;
}

/** What descriptions of pieces are found in. */
export interface SetScope {
	model: Model;
	arrangement: Arrangement;
	regions: readonly NamedFace[];
	report: Report;
	/** The pieces of references; what is wrong with them is reported there, or nowhere. */
	resolve(references: readonly CurveReference[], report?: Report): CurvePiece[];
}

/** A piece faces a direction if at least this share of its length does. */
const facingShare = 0.5;

/** The pieces that a description stands for, in their order; a description that finds nothing is a finding. */
export function piecesOfSet(set: PieceSet, reference: CurveReference, scope: SetScope): CurvePiece[] {
	const { arrangement, report } = scope;
	const found = candidates(set, reference, scope);
	if (!found) return [];
	const facing = 'facing' in set ? set.facing : undefined;
	const isFilled = filledFaces(scope.regions);
	const kept = facing ? found.filter((p) => faces(arrangement, p, isFilled, facing)) : found;
	if (kept.length === 0)
		report.add(
			'nothing-described',
			{ source: reference.source ?? '', found: found.length, facing: facing !== undefined },
			{ within: reference }
		);
	return kept.map((piece) => ({ piece, reversed: false }));
}

/** The pieces of a description, whichever way they face; undefined where what it names is not there. */
function candidates(set: PieceSet, reference: CurveReference, scope: SetScope): number[] | undefined {
	const { arrangement, model, regions } = scope;
	const { sides, pieces } = arrangement;
	const all = [...pieces.keys()];
	switch (set.kind) {
		case 'outer': {
			const beyond = facesBeyond(scope);
			const isFilled = filledFaces(regions);
			return all.filter((p) =>
				[0, 1].some((side) => isFilled(sides[2 * p + side]!) && beyond(sides[2 * p + 1 - side]!) === 'outside')
			);
		}
		case 'holes': {
			const faces = facesOf(set.regions[0]!, reference, scope);
			if (!faces) return undefined;
			const beyond = facesBeyond(scope);
			return all.filter((p) =>
				[0, 1].some((side) => faces.has(sides[2 * p + side]!) && beyond(sides[2 * p + 1 - side]!) === 'hole')
			);
		}
		case 'between': {
			const [a, b] = set.regions.map((name) => facesOf(name, reference, scope));
			if (!a || !b) return undefined;
			return all.filter((p) => {
				const [left, right] = [sides[2 * p]!, sides[2 * p + 1]!];
				return (a.has(left) && b.has(right)) || (a.has(right) && b.has(left));
			});
		}
		case 'layer': {
			const curves = model.curvesByName.get(set.layer);
			if (!curves) {
				const message = `no layer is named “${set.layer}”${didYouMean(set.layer, model.curvesByName.keys())}; a layer of a drawing is written like “part.walls”`;
				scope.report.add('unknown-curve', { message }, { within: reference });
				return undefined;
			}
			return [...new Set(curves.flatMap((c) => arrangement.byCurve[c]!.map(({ piece }) => piece)))].sort((a, b) => a - b);
		}
		case 'rest':
			return inNoGroup(scope);
		case 'except': {
			const but = new Set(scope.resolve(set.but).map(({ piece }) => piece));
			return [...new Set(scope.resolve(set.of).map(({ piece }) => piece))].filter((p) => !but.has(p));
		}
		case 'piece': {
			const of = scope.resolve([set.curve]).map(({ piece }) => piece);
			const away = of.map((p) => distanceFrom(flatten(pieces[p]!, 1e-4 * arrangement.diagonal), set.at));
			const least = away.indexOf(Math.min(...away));
			if (of.length > 0 && !(away[least]! <= nearPiece * arrangement.diagonal)) {
				const message = `${placeText(set.at)} does not lie on “${set.curve.name}”, but ${short(away[least]!)} from it`;
				scope.report.add('unknown-curve', { message }, { within: reference });
				return undefined;
			}
			return of.length > 0 ? [of[least]!] : undefined;
		}
		case 'touching':
			return all.filter((p) => touches(flatten(pieces[p]!, 1e-4 * arrangement.diagonal), set.box));
	}
}

/** A place is on a piece that it is no farther from than this share of the drawing. */
const nearPiece = 1e-3;

/** Pieces on the boundary of what is filled that are in no group or two-sided wall, but for those that are themselves what is left. */
function inNoGroup({ model, arrangement, regions, resolve }: SetScope): number[] {
	const { sides, pieces } = arrangement;
	const isFilled = filledFaces(regions);
	const said = ['group', 'baffle'].flatMap((kind) => (model.stated[kind] ?? []) as { pieces?: CurveReference[] }[]);
	const isRest = ({ name, found }: CurveReference): boolean =>
		(name === 'rest' && !model.curvesByName.has(name)) ||
		found?.kind === 'rest' ||
		(found?.kind === 'except' && found.of.some(isRest));
	const silent = new Report([]);
	const taken = new Set(
		said.flatMap(({ pieces: list = [] }) => (list.some(isRest) ? [] : resolve(list, silent).map(({ piece }) => piece)))
	);
	return [...pieces.keys()].filter((p) => isFilled(sides[2 * p]!) !== isFilled(sides[2 * p + 1]!) && !taken.has(p));
}

/** How far a place is from a line. */
function distanceFrom(line: Float64Array, { x, y }: { x: number; y: number }): number {
	let least = Infinity;
	for (let k = 0; k + 3 < line.length; k += 2)
		least = Math.min(least, distanceToSegment(x, y, line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!));
	return least;
}

const filledFaces = (regions: readonly NamedFace[]): ((face: number) => boolean) => {
	const filled = new Set(regions.filter((r) => r.fill !== 'none').map((r) => r.face));
	return (face) => filled.has(face);
};

/** The faces of a region, or of the regions of a material. */
function facesOf(name: string, reference: CurveReference, { model, regions, report }: SetScope): Set<number> | undefined {
	const groups = (model.stated.group ?? []) as { name: string; regions?: string[] }[];
	const members = groups.find((g) => g.name === name && g.regions)?.regions ?? [name];
	const found = regions.filter((r) => members.includes(r.statement));
	if (found.length > 0) return new Set(found.map((r) => r.face));
	const names = [...new Set([...regions.map((r) => r.statement), ...groups.flatMap((g) => (g.regions ? [g.name] : []))])];
	report.add('unknown-region', { name, names }, { within: reference });
	return undefined;
}

/**
 * Whether a face without elements belongs to what lies outside of everything that is filled, or to a hole in it: parts
 * without elements that touch along a piece are one.
 */
function facesBeyond({ arrangement, regions }: SetScope): (face: number) => 'outside' | 'hole' | 'filled' {
	const isFilled = filledFaces(regions);
	const { faces, sides, pieces } = arrangement;
	// The outside stands behind the last face.
	const outside = faces.length;
	const root = Array.from({ length: outside + 1 }, (_, f) => f);
	const find = (f: number): number => {
		let at = f;
		while (root[at] !== at) at = root[at] = root[root[at]!]!;
		return at;
	};
	for (let p = 0; p < pieces.length; p++) {
		const [left, right] = [sides[2 * p]!, sides[2 * p + 1]!];
		if (isFilled(left) || isFilled(right)) continue;
		root[find(left < 0 ? outside : left)] = find(right < 0 ? outside : right);
	}
	return (face) => {
		if (face >= 0 && isFilled(face)) return 'filled';
		return face < 0 || find(face) === find(outside) ? 'outside' : 'hole';
	};
}

/** Whether enough of a piece faces a direction, away from what is filled; between two filled sides either will do. */
function faces(
	arrangement: Arrangement,
	p: number,
	isFilled: (face: number) => boolean,
	{ angle, within }: NonNullable<PieceSet['facing']>
): boolean {
	const line = flatten(arrangement.pieces[p]!, 1e-4 * arrangement.diagonal);
	const [wx, wy, least] = [cos(angle), sin(angle), cos(within) - 1e-12];
	// The normal to the right of a piece points away from what lies to its left.
	const ways = [isFilled(arrangement.sides[2 * p]!) ? 1 : 0, isFilled(arrangement.sides[2 * p + 1]!) ? -1 : 0].filter(Boolean);
	let whole = 0;
	const facing = ways.map(() => 0);
	for (let k = 0; k + 3 < line.length; k += 2) {
		const [dx, dy] = [line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!];
		const length = hypot(dx, dy);
		whole += length;
		ways.forEach((way, i) => {
			if (way * (dy * wx - dx * wy) >= least * length) facing[i]! += length;
		});
	}
	return facing.some((share) => share >= facingShare * whole);
}

/** Whether any part of a line lies in a box. */
function touches(line: Float64Array, [a, b]: readonly [{ x: number; y: number }, { x: number; y: number }]): boolean {
	const [minX, maxX, minY, maxY] = [Math.min(a.x, b.x), Math.max(a.x, b.x), Math.min(a.y, b.y), Math.max(a.y, b.y)];
	for (let k = 0; k + 3 < line.length; k += 2) {
		// Liang & Barsky (ACM Trans. Graphics 3, 1984): what is left of the segment between the four sides.
		const [dx, dy] = [line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!];
		let [from, to] = [0, 1];
		for (const [d, q] of [
			[-dx, line[k]! - minX],
			[dx, maxX - line[k]!],
			[-dy, line[k + 1]! - minY],
			[dy, maxY - line[k + 1]!]
		] as const) {
			if (d === 0) {
				if (q < 0) from = 2;
			} else if (d < 0) from = Math.max(from, q / d);
			else to = Math.min(to, q / d);
		}
		if (from <= to) return true;
	}
	return false;
}

/** The pieces from one to another: along their curve where they are of one, else the shortest way along pieces. */
export function chainBetween(arrangement: Arrangement, first: CurvePiece, last: CurvePiece): CurvePiece[] {
	const { pieces, byCurve } = arrangement;
	for (const entries of byCurve) {
		const [i, j] = mapped([first, last], (one) => entries.findIndex(({ piece }) => piece === one.piece));
		if (i >= 0 && j >= 0) return i <= j ? entries.slice(i, j + 1) : entries.slice(j, i + 1);
	}
	const around = new Map<number, number[]>();
	pieces.forEach(({ start, end }, p) => {
		for (const j of new Set([start, end])) addTo(around, j, p);
	});
	// Dijkstra 1959, from piece to piece; a way costs the pieces between.
	const cost = new Map([[first.piece, 0]]);
	const from = new Map<number, number>();
	const open = new Set([first.piece]);
	while (open.size > 0) {
		let nearest = -1;
		for (const p of open) if (nearest < 0 || cost.get(p)! < cost.get(nearest)!) nearest = p;
		open.delete(nearest);
		if (nearest === last.piece) break;
		for (const j of [pieces[nearest]!.start, pieces[nearest]!.end])
			for (const p of around.get(j)!) {
				const next = cost.get(nearest)! + (p === last.piece ? 0 : pieces[p]!.length);
				if (next >= (cost.get(p) ?? Infinity)) continue;
				cost.set(p, next);
				from.set(p, nearest);
				open.add(p);
			}
	}
	if (!from.has(last.piece)) return [];
	const chain = [last.piece];
	while (chain[0] !== first.piece) chain.unshift(from.get(chain[0]!)!);
	return chain.map((piece) => ({ piece, reversed: false }));
}
