import { mapped } from '../text/typed.ts';
import { addTo } from '../numeric/lists.ts';
import type { Division } from '../divide/division.ts';
import { piecesAround } from '../divide/jumps.ts';
import { spacingFigures } from '../divide/spacing.ts';
import { nodesAlong } from '../fill/boundary.ts';
import type { Fill } from '../fill/method.ts';
import type { NodeLayout, SideHeights } from '../fill/node-layout.ts';
import { isNoWorse, keepHeights, leanAtWalls, littleLean, measured, turnToWalls } from '../fill/structured/fill-structured.ts';
import { largestGrowth, smoothQuads, stencils } from '../fill/structured/smooth.ts';
import { stretchLine } from '../fill/structured/walls.ts';
import { isStraight, leavingDirection, sineBetween } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { isBoundary, type MeshGroup } from '../mesh/mesh.ts';
import { hypot } from '../numeric/elementary.ts';
import { atOnce, finish } from '../numeric/work.ts';
import type { GlobalFill, MeshParts } from './assemble.ts';
import type { Pass, PassResult } from './pass.ts';

/** A region of a mesh that is smoothed together with others. */
interface SmoothedRegion extends GlobalFill {
	index: number;
	layout: NodeLayout;
	/** Mesh node of the first that its fill added. */
	firstInner: number;
}

/** Regions that one statement has smoothed, and the borders between them that are no curves of the shape. */
interface SmoothedTogether {
	regions: SmoothedRegion[];
	sweeps: number;
	pieces: number[];
	junctions: number[];
}

/** What a smoothing was made from and gave, so that the same is not done twice. */
interface RememberedSmoothing {
	fills: Fill[];
	key: string;
	/** The mesh nodes that may move, those of the borders first, and their places. */
	moving: number[];
	x: Float64Array;
	y: Float64Array;
}

/** Smooths structured regions that one statement names as one mesh, with the nodes on the borders between them. */
export class SmoothAcross implements Pass {
	private remembered: RememberedSmoothing[] = [];
	private last: { before: PassResult; after: PassResult; used: RememberedSmoothing[] } | undefined;

	run(before: PassResult, parts: MeshParts): PassResult {
		const all = smoothedTogether(before.mesh.groups, parts);
		const smoothings = all.map((together, k) => smoothing(before, together, parts, this.remembered[k]));
		this.remembered = smoothings;
		if (smoothings.length === 0) return before;
		const { last } = this;
		const isKnown =
			last?.before.mesh.x === before.mesh.x &&
			last.before.mesh.y === before.mesh.y &&
			last.used.length === smoothings.length &&
			last.used.every((s, k) => s === smoothings[k]);
		const [x, y] = isKnown ? [last.after.mesh.x, last.after.mesh.y] : [before.mesh.x.slice(), before.mesh.y.slice()];
		if (!isKnown)
			for (const { moving, x: mx, y: my } of smoothings)
				moving.forEach((p, k) => {
					x[p] = mx[k]!;
					y[p] = my[k]!;
				});
		const pieces = new Set(all.flatMap((together) => together.pieces));
		const divisions = before.divisions.map((d, p) => (pieces.has(p) ? movedDivision(d, p, x, y, parts) : d));
		const after = { mesh: { ...before.mesh, x, y }, divisions };
		this.last = { before, after, used: smoothings };
		return after;
	}
}

/** How much longer the cell at an end of a border is to be, so that it is as high as before off the fixed piece that it meets there, now that it leans otherwise. */
function lengthened(
	arrangement: Arrangement,
	p: number,
	end: 'start' | 'end',
	px: readonly number[],
	py: readonly number[],
	moves: ReadonlySet<number>,
	nodeOf: Int32Array
): number {
	const { pieces } = arrangement;
	const j = pieces[p]![end];
	if (moves.has(nodeOf[j]!)) return 1;
	const n = px.length - 1;
	const [a, b] = end === 'start' ? [0, 1] : [n, n - 1];
	const [dx, dy] = [px[b]! - px[a]!, py[b]! - py[a]!];
	const length = hypot(dx, dy);
	let factor = 1;
	let straightest = 0;
	for (const q of piecesAround(arrangement)[j]!)
		for (const at of ['start', 'end'] as const) {
			if (q === p || pieces[q]![at] !== j) continue;
			// The piece that the border meets most squarely is its wall.
			const sine = sineBetween(pieces[p]!, end, pieces[q]!, at);
			if (sine <= straightest) continue;
			straightest = sine;
			const wall = leavingDirection(pieces[q]!, at);
			factor = sine / Math.max(0.3, Math.abs(dx * wall.y - dy * wall.x) / length);
		}
	return factor;
}

/** How a piece is divided whose nodes were moved. */
function movedDivision(
	division: Division,
	p: number,
	x: Float64Array,
	y: Float64Array,
	{ domain, divisions, numbering }: MeshParts
): Division {
	const nodes = nodesAlong(2 * p, domain.arrangement, divisions, numbering);
	const at = new Float64Array(nodes.length);
	for (let k = 1; k < nodes.length; k++)
		at[k] = at[k - 1]! + hypot(x[nodes[k]!]! - x[nodes[k - 1]!]!, y[nodes[k]!]! - y[nodes[k - 1]!]!);
	const length = at.at(-1)!;
	for (let k = 1; k < nodes.length; k++) at[k]! /= length;
	at[nodes.length - 1] = 1;
	return {
		...division,
		spacing: { law: 'smoothed' },
		at,
		figures: spacingFigures(at, length),
		x: Float64Array.from(nodes, (n) => x[n]!),
		y: Float64Array.from(nodes, (n) => y[n]!)
	};
}

/**
 * The regions that are smoothed as one mesh: those that one statement names, where straight pieces
 * lie between them that no group holds and that part no groups of regions. Such a piece is but a
 * border of blocks, and its nodes move with the others; a curve, an edge with a name, a border of
 * materials and an outer edge stay as they are drawn.
 */
function smoothedTogether(groups: readonly MeshGroup[], { domain, fills, numbering }: MeshParts): SmoothedTogether[] {
	const { model, arrangement, regions } = domain;
	const byLine = new Map<number, SmoothedRegion[]>();
	let firstInner = numbering.count;
	regions.forEach((region, index) => {
		const fill = fills[index];
		if (!fill) return;
		const { layout } = fill.fill;
		if (layout && region.sweeps) addTo(byLine, region.fillLine, { ...fill, index, layout, firstInner });
		firstInner += fill.fill.x.length;
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
	const labelled = new Set(groups.filter(isBoundary).flatMap((group) => group.pieces));
	const materials = new Map(
		regions.map(({ face }, r) => [
			face,
			groups.flatMap((group, g) => (group.members === 'elements' && group.regions.includes(r) ? [g] : [])).join(' ')
		])
	);
	return together.flatMap((members): SmoothedTogether[] => {
		const faces = new Set(members.map((r) => regions[r.index]!.face));
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
		return [{ regions: members, sweeps: regions[members[0]!.index]!.sweeps!, pieces, junctions }];
	});
}

/**
 * Smooths regions of a mesh as one, with the nodes on the borders between them; heights at walls are kept. What gets
 * worse by it is left as it was.
 */
function smoothing(
	{ mesh }: PassResult,
	together: SmoothedTogether,
	{ domain: { arrangement }, divisions, numbering }: MeshParts,
	remembered: RememberedSmoothing | undefined
): RememberedSmoothing {
	const { regions, pieces, junctions, sweeps } = together;
	// Phase 1: a mesh of these regions alone, the nodes that stay first.
	const along = pieces.map((p) => nodesAlong(2 * p, arrangement, divisions, numbering));
	const border = [...junctions.map((j) => numbering.junction[j]!), ...along.flatMap((nodes) => nodes.slice(1, -1))];
	const moving = [...border];
	for (const { firstInner, fill } of regions) for (let k = 0; k < fill.x.length; k++) moving.push(firstInner + k);
	const key = `${sweeps} ${border.join(' ')}`;
	const fills = regions.map((r) => r.fill);
	if (remembered?.key === key && remembered.fills.every((fill, k) => fill === fills[k])) return remembered;
	const moves = new Set(moving);
	const staying = [...new Set(regions.flatMap(({ global }) => Array.from(global)))].filter((p) => !moves.has(p));
	const nodes = Uint32Array.from([...staying, ...moving]);
	const local = new Map(Array.from(nodes, (p, k) => [p, k]));
	const x = Float64Array.from(nodes, (p) => mesh.x[p]!);
	const y = Float64Array.from(nodes, (p) => mesh.y[p]!);
	const nodeOf = ({ firstInner, global }: SmoothedRegion, i: number) =>
		local.get(i < global.length ? global[i]! : firstInner + i - global.length)!;
	const quads = Uint32Array.from(regions.flatMap((region) => Array.from(region.fill.quads, (i) => nodeOf(region, i))));
	// Phase 2: smoothing.
	const around = stencils(x.length, quads, staying.length);
	const growth = (xs: Float64Array, ys: Float64Array) => atOnce(() => largestGrowth(xs, ys, around));
	const before = finish(measured(x, y, quads, growth));
	const walled = regions.flatMap((region) => {
		const { layout, firstInner } = region;
		if (layout.kind !== 'block' || !layout.walls.some(Boolean)) return [];
		const sides = mapped(layout.sides, (side) => side.map((i) => nodeOf(region, i)));
		return [{ first: local.get(firstInner)!, layout: { ...layout, sides } }];
	});
	const lean = () => walled.reduce((sum, { first, layout }) => sum + leanAtWalls(x, y, first, layout), 0);
	const leanBefore = lean();
	const controlled = regions.every(({ layout }) => layout.kind === 'block' || layout.kind === 'ring');
	finish(smoothQuads(x, y, quads, staying.length, sweeps, controlled, around));
	// Phase 3: heights at walls, those on the borders first.
	along.forEach((line, k) => {
		if (walled.length === 0) return;
		const { count, figures } = divisions[pieces[k]!]!;
		const localLine = line.map((p) => local.get(p)!);
		// The first cell of a bent border leans a little otherwise once it is moved.
		for (let turn = 0; turn < 3 && count > 2; turn++) {
			const [px, py] = [localLine.map((i) => x[i]!), localLine.map((i) => y[i]!)];
			const longer = (end: 'start' | 'end') => lengthened(arrangement, pieces[k]!, end, px, py, moves, numbering.junction);
			const moved = stretchLine(px, py, figures.first * longer('start'), figures.last * longer('end'));
			if (!moved) return;
			for (let i = 1; i < count; i++) {
				x[localLine[i]!] = moved.x[i]!;
				y[localLine[i]!] = moved.y[i]!;
			}
		}
	});
	for (const { first, layout } of walled) {
		const { sides } = layout;
		/** How the cell that a side starts with has changed in length, as old over new. */
		const shrunk = (from: Uint32Array) => {
			const [p, q] = [from[0]!, from[1]!];
			const [gp, gq] = [nodes[p]!, nodes[q]!];
			return hypot(mesh.x[gq]! - mesh.x[gp]!, mesh.y[gq]! - mesh.y[gp]!) / hypot(x[q]! - x[p]!, y[q]! - y[p]!);
		};
		const walls = mapped(
			layout.walls,
			(wall, s): SideHeights =>
				wall && {
					...wall,
					ends: [wall.ends[0] * shrunk(sides[(s + 3) % 4]!.slice().reverse()), wall.ends[1] * shrunk(sides[(s + 1) % 4]!)]
				}
		);
		keepHeights(x, y, first, { ...layout, walls });
		turnToWalls(x, y, first, { ...layout, walls }, quads);
	}
	// Phase 4: what folds by it, or is worse at a poor corner or at the walls, is not taken.
	const isTaken = isNoWorse(finish(measured(x, y, quads, growth)), before) && lean() <= leanBefore + walled.length * littleLean;
	const from = isTaken ? { x: x.subarray(staying.length), y: y.subarray(staying.length) } : undefined;
	return {
		fills,
		key,
		moving,
		x: from?.x ?? Float64Array.from(moving, (p) => mesh.x[p]!),
		y: from?.y ?? Float64Array.from(moving, (p) => mesh.y[p]!)
	};
}
