import type { Division } from '../divide/division.ts';
import { piecesAround } from '../divide/jumps.ts';
import { hypot } from '../numeric/elementary.ts';
import { nodesAlong, type BoundaryNumbering } from '../fill/boundary.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';
import type { Model } from '../recipe/model.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { isStraight } from '../geometry/parts.ts';
import type { Region } from '../domain/regions.ts';
import type { Fill } from '../fill/method.ts';
import { keepHeights, type NodeLayout } from '../fill/structured/fill-structured.ts';
import { smoothQuads, worstCorner } from '../fill/structured/smooth.ts';
import { stretchLine } from '../fill/structured/walls.ts';

/** A region of a mesh that is smoothed together with others. */
export interface SmoothedRegion {
	index: number;
	fill: Fill;
	/** Mesh node of each node that was given to the fill. */
	global: Uint32Array;
	layout: NodeLayout;
}

/** Regions that one statement has smoothed, and the borders between them that are no curves of the shape. */
export interface SmoothedTogether {
	regions: SmoothedRegion[];
	sweeps: number;
	pieces: number[];
	junctions: number[];
}

/** What a smoothing was made from and gave, so that the same is not done twice. */
export interface RememberedSmoothing {
	fills: Fill[];
	key: string;
	/** The places of the nodes that may move: those of the borders, then those inside the regions. */
	x: Float64Array;
	y: Float64Array;
}

/**
 * The regions that are smoothed as one mesh: those that one statement names, where straight pieces
 * lie between them that no group holds and that part no groups of regions. Such a piece is but a
 * border of blocks, and its nodes move with the others; a curve, an edge with a name, a border of
 * materials and an outer edge stay as they are drawn.
 */
export function smoothedTogether(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	filled: (region: number) => SmoothedRegion | undefined,
	groups: readonly MeshGroup[]
): SmoothedTogether[] {
	const byLine = new Map<number, number[]>();
	regions.forEach((region, r) => {
		if (region.fill !== 'structured' || region.halved || !region.sweeps || !filled(r)) return;
		byLine.set(region.fillLine, [...(byLine.get(region.fillLine) ?? []), r]);
	});
	const together = [...byLine.values()].filter((members) => members.length > 1);
	if (together.length === 0) return [];
	const meeting = piecesAround(arrangement);
	const nodes = new Set(
		model.nodes.flatMap((point) => {
			const j = arrangement.x.findIndex((x, k) => hypot(x - point.x, arrangement.y[k]! - point.y) <= arrangement.tolerance);
			return j < 0 ? [] : [j];
		})
	);
	const labelled = new Set(groups.flatMap((group) => group.pieces));
	const materials = new Map(
		regions.map(({ face }, r) => [face, groups.flatMap((group, g) => (group.regions.includes(r) ? [g] : [])).join(' ')])
	);
	return together.flatMap((members): SmoothedTogether[] => {
		const faces = new Set(members.map((r) => regions[r]!.face));
		const isFree = (p: number) =>
			faces.has(arrangement.sides[2 * p]!) &&
			faces.has(arrangement.sides[2 * p + 1]!) &&
			materials.get(arrangement.sides[2 * p]!) === materials.get(arrangement.sides[2 * p + 1]!) &&
			!labelled.has(p) &&
			isStraight(arrangement.pieces[p]!);
		const pieces = arrangement.pieces.flatMap((_, p) => (isFree(p) ? [p] : []));
		if (pieces.length === 0) return [];
		const free = new Set(pieces);
		const ends = new Set(pieces.flatMap((p) => [arrangement.pieces[p]!.start, arrangement.pieces[p]!.end]));
		const junctions = [...ends].filter((j) => !nodes.has(j) && meeting[j]!.every((p) => free.has(p)));
		return [{ regions: members.map((r) => filled(r)!), sweeps: regions[members[0]!]!.sweeps!, pieces, junctions }];
	});
}

/**
 * Smooths regions of a mesh as one, in place, with the nodes on the borders between them; heights at
 * walls are kept. What gets worse by it is left as it was.
 */
export function smoothAcross(
	mesh: Mesh,
	together: SmoothedTogether,
	arrangement: Arrangement,
	divisions: readonly Division[],
	numbering: BoundaryNumbering,
	firstInner: readonly number[],
	remembered: RememberedSmoothing | undefined
): RememberedSmoothing {
	const { regions, pieces, junctions, sweeps } = together;
	// Phase 1: a mesh of these regions alone, the nodes that stay first.
	const along = pieces.map((p) => nodesAlong(2 * p, arrangement, divisions, numbering));
	const border = [...junctions.map((j) => numbering.junction[j]!), ...along.flatMap((nodes) => nodes.slice(1, -1))];
	const moving = [...border];
	for (const { index, fill } of regions) for (let k = 0; k < fill.x.length; k++) moving.push(firstInner[index]! + k);
	const key = `${sweeps} ${border.join(' ')}`;
	const fills = regions.map((r) => r.fill);
	const isKnown = remembered?.key === key && remembered.fills.every((fill, k) => fill === fills[k]);
	if (isKnown) {
		moving.forEach((p, k) => {
			mesh.x[p] = remembered.x[k]!;
			mesh.y[p] = remembered.y[k]!;
		});
		return remembered;
	}
	const moves = new Set(moving);
	const staying = [...new Set(regions.flatMap(({ global }) => Array.from(global)))].filter((p) => !moves.has(p));
	const nodes = Uint32Array.from([...staying, ...moving]);
	const local = new Map(Array.from(nodes, (p, k) => [p, k]));
	const x = Float64Array.from(nodes, (p) => mesh.x[p]!);
	const y = Float64Array.from(nodes, (p) => mesh.y[p]!);
	const nodeOf = ({ index, global }: SmoothedRegion, i: number) =>
		local.get(i < global.length ? global[i]! : firstInner[index]! + i - global.length)!;
	const quads = Uint32Array.from(regions.flatMap((region) => Array.from(region.fill.quads, (i) => nodeOf(region, i))));
	// Phase 2: smoothing.
	const before = worstCorner(x, y, quads).value;
	const controlled = regions.every(({ layout }) => layout.kind === 'block' || layout.kind === 'ring');
	smoothQuads(x, y, quads, staying.length, sweeps, controlled);
	// Phase 3: heights at walls, those on the borders first.
	const isWalled = regions.some(({ layout }) => layout.kind === 'block' && layout.walls.some(Boolean));
	along.forEach((line, k) => {
		if (!isWalled) return;
		const { count, figures } = divisions[pieces[k]!]!;
		const own = line.map((p) => local.get(p)!);
		const moved =
			count > 2 &&
			stretchLine(
				own.map((i) => x[i]!),
				own.map((i) => y[i]!),
				figures.first,
				figures.last
			);
		if (!moved) return;
		for (let i = 1; i < count; i++) {
			x[own[i]!] = moved.x[i]!;
			y[own[i]!] = moved.y[i]!;
		}
	});
	for (const region of regions) {
		const { layout, index } = region;
		if (layout.kind !== 'block' || !layout.walls.some(Boolean)) continue;
		const sides = layout.sides.map((side) => side.map((i) => nodeOf(region, i))) as typeof layout.sides;
		keepHeights(x, y, local.get(firstInner[index]!)!, { ...layout, sides });
	}
	// Phase 4: what folds by it, or is worse at a poor corner, is not taken.
	const after = worstCorner(x, y, quads).value;
	const isTaken = after > before || after > 0.01;
	const [movedX, movedY] = [new Float64Array(moving.length), new Float64Array(moving.length)];
	moving.forEach((p, k) => {
		if (isTaken) {
			mesh.x[p] = x[staying.length + k]!;
			mesh.y[p] = y[staying.length + k]!;
		}
		movedX[k] = mesh.x[p]!;
		movedY[k] = mesh.y[p]!;
	});
	return { fills, key, x: movedX, y: movedY };
}
