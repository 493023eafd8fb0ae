import { mapped } from '../../text/typed.ts';
import { type Block, findLayout, junctionTurns, type Layout, type LayoutRefusal, sidesBetween } from '../../blocks/layout.ts';
import type { Domain } from '../../domain/domain.ts';
import type { Region } from '../../domain/regions.ts';
import type { Point } from '../../geometry/curve.ts';
import { partPoint } from '../../geometry/parts.ts';
import type { Arrangement, Walk } from '../../geometry/pieces.ts';
import { finish } from '../../numeric/work.ts';
import { FillError } from '../method.ts';
import type { NodeLayout } from '../node-layout.ts';
import { fillStructured } from './fill-structured.ts';
import { worstCorner } from './smooth.ts';

/** Divisions of a side in a trial: enough to see how a block bends. */
const trialCount = 10;
/** Of so many junctions that turn most, any four may be corners. */
const mostJunctions = 9;
/** So many choices of four, those whose turns are most like right angles, are tried. */
const mostTrials = 6;
/** A choice whose worst corner is better by this, as a scaled Jacobian, is better. */
const clearly = 0.1;
/** A block whose corners turn by more and whose sides by less than these, in radians, needs no trial. */
const [cornerTurn, sideTurn] = [(50 * Math.PI) / 180, (20 * Math.PI) / 180];

/** A layout with how good its worst corner would be, where that was tried, and the corners that would be better than those given. */
export interface ChosenLayout {
	layout: Layout;
	better?: { corners: Point[]; given: number; value: number };
}

/**
 * The layout of a region: that of its corners, where they are named, and otherwise the one whose worst cell is best in a
 * trial with few cells: by its sharp turns, or as a block between any four junctions.
 */
export function chooseLayout({ arrangement }: Domain, region: Region): ChosenLayout | LayoutRefusal {
	let cached = chosenFor.get(arrangement);
	if (!cached) chosenFor.set(arrangement, (cached = new Map()));
	const key = JSON.stringify([region.face, region.corners, region.seam]);
	let chosen = cached.get(key);
	if (!chosen) cached.set(key, (chosen = choose(arrangement, region)));
	return chosen;
}

/** A region of the same drawing is not tried again. */
const chosenFor = new WeakMap<Arrangement, Map<string, ChosenLayout | LayoutRefusal>>();

function choose(arrangement: Arrangement, { face, corners, seam }: Region): ChosenLayout | LayoutRefusal {
	const found = findLayout(arrangement, face, corners, seam);
	if (!('kind' in found) || found.kind === 'ring' || seam) return 'kind' in found ? { layout: found } : found;
	const walk = arrangement.faces[face]!.outer;
	const turns = junctionTurns(arrangement, walk);
	if (found.kind === 'block' && isPlain(found, walk, turns)) return { layout: found };
	const places = walk
		.map((_, k) => k)
		.filter((k) => turns[k]! > -sideTurn)
		.sort((a, b) => turns[b]! - turns[a]! || a - b)
		.slice(0, mostJunctions);
	if (places.length < 4) return { layout: found };
	const trials = fours(places)
		.map((four) => ({ four, strain: strainOf(four, turns) }))
		.sort((a, b) => a.strain - b.strain)
		.slice(0, mostTrials)
		.map(({ four }): { four: number[]; layout: Block; value: number } => {
			const sides = sidesBetween(walk, four) as Block['sides'];
			const layout: Block = { kind: 'block', sides };
			return { four, layout, value: trialOf(arrangement, layout) };
		});
	const best = trials.reduce((a, b) => (b.value > a.value + 1e-6 ? b : a));
	const value = trialOf(arrangement, found);
	if (!(best.value > value + clearly)) return { layout: found };
	if (!corners) return { layout: best.layout };
	const { x, y, pieces } = arrangement;
	const startOf = (h: number) => (h & 1 ? pieces[h >> 1]!.end : pieces[h >> 1]!.start);
	return {
		layout: found,
		better: {
			corners: best.four.map((k) => ({ x: x[startOf(walk[k]!)]!, y: y[startOf(walk[k]!)]! })),
			given: value,
			value: best.value
		}
	};
}

/** Whether the corners of a block are corners and its sides are sides, so that no other choice comes near. */
function isPlain({ sides }: Block, walk: Walk, turns: readonly number[]): boolean {
	const corners = new Set(sides.map((side) => walk.indexOf(side[0]!)));
	return turns.every((turn, k) => (corners.has(k) ? turn > cornerTurn : Math.abs(turn) < sideTurn));
}

function fours(places: readonly number[]): number[][] {
	const all: number[][] = [];
	const sorted = [...places].sort((a, b) => a - b);
	for (let a = 0; a < sorted.length; a++)
		for (let b = a + 1; b < sorted.length; b++)
			for (let c = b + 1; c < sorted.length; c++)
				for (let d = c + 1; d < sorted.length; d++) all.push([sorted[a]!, sorted[b]!, sorted[c]!, sorted[d]!]);
	return all;
}

/** How far the turns are from right angles at the corners, and from none between them. */
const strainOf = (four: readonly number[], turns: readonly number[]): number =>
	turns.reduce((sum, turn, k) => sum + (turn - (four.includes(k) ? Math.PI / 2 : 0)) ** 2, 0);

/** The worst corner of a coarse mesh of a layout, as a scaled Jacobian; −1 where it folds. */
function trialOf(arrangement: Arrangement, layout: Exclude<Layout, { kind: 'ring' }>): number {
	const x: number[] = [];
	const y: number[] = [];
	const first = new Map<number, number>();
	/** The nodes of a side, evenly along it; corners are shared by the junction that they lie on. */
	const nodesOf = (side: Walk, count: number): Uint32Array => {
		const { pieces } = arrangement;
		const lengths = side.map((h) => pieces[h >> 1]!.length);
		const whole = lengths.reduce((a, b) => a + b, 0);
		const corner = (j: number) => {
			if (!first.has(j)) {
				first.set(j, x.length);
				x.push(arrangement.x[j]!);
				y.push(arrangement.y[j]!);
			}
			return first.get(j)!;
		};
		const junction = (h: number, atStart: boolean) => (((h & 1) === 0) === atStart ? pieces[h >> 1]!.start : pieces[h >> 1]!.end);
		const nodes = [corner(junction(side[0]!, true))];
		for (let k = 1; k < count; k++) {
			let along = (k / count) * whole;
			let i = 0;
			while (i < side.length - 1 && along > lengths[i]!) along -= lengths[i++]!;
			const piece = pieces[side[i]! >> 1]!;
			const share = Math.min(1, along / piece.length);
			const p = partPoint(piece, side[i]! & 1 ? 1 - share : share, piece.length);
			nodes.push(x.length);
			x.push(p.x);
			y.push(p.y);
		}
		nodes.push(corner(junction(side.at(-1)!, false)));
		return Uint32Array.from(nodes);
	};
	const layoutOfNodes = (): NodeLayout => {
		if (layout.kind === 'block') {
			const sides = mapped(layout.sides, (side) => nodesOf(side, trialCount));
			return { kind: 'block', sides, walls: [false, false, false, false] };
		}
		if (layout.kind === 'star')
			return {
				kind: 'star',
				sides: layout.sides.map((side) => nodesOf(side, trialCount)),
				spokes: layout.sides.map(() => trialCount / 2)
			};
		const [one, other] = layout.sides as [Walk, Walk | undefined];
		const outline = other
			? [...nodesOf(one, trialCount).slice(0, -1), ...nodesOf(other, 2 * trialCount).slice(0, -1)]
			: [...nodesOf(one, 4 * trialCount).slice(0, -1)];
		const across = Float64Array.of(0, 0.25, 0.5, 0.75, 1);
		return { kind: 'disc', outline: Uint32Array.from(outline), first: other ? trialCount : outline.length / 4, across };
	};
	const nodes = layoutOfNodes();
	try {
		const input = { x: Float64Array.from(x), y: Float64Array.from(y), edges: new Uint32Array(0) };
		const fill = finish(fillStructured(input, nodes));
		const all = [Float64Array.from([...x, ...fill.x]), Float64Array.from([...y, ...fill.y])] as const;
		return finish(worstCorner(all[0], all[1], fill.quads)).value;
	} catch (error) {
		if (error instanceof FillError) return -1;
		throw error;
	}
}
