import { mapped } from '../../text/typed.ts';
import type { Block, Layout } from '../../blocks/layout.ts';
import { leastSine } from '../../divide/requests.ts';
import type { Division } from '../../divide/division.ts';
import { SpacingError } from '../../divide/laws/spacing-error.ts';
import { spacingLaws, spacingOf } from '../../divide/laws/table.ts';
import { positions, type Spacing } from '../../divide/spacing.ts';
import { countBetween, fitted, positionsBetween } from '../../divide/heights.ts';
import { originOf } from '../../divide/spread.ts';
import { firstHeights } from '../../domain/walls.ts';
import { sineBetween } from '../../geometry/parts.ts';
import type { Walk } from '../../geometry/pieces.ts';
import { hypot } from '../../numeric/elementary.ts';
import type { SizesAlong } from '../../sizing/size-along.ts';
import { elementLimit } from '../../sizing/size-rule.ts';
import { FillError, type FillJob } from '../method.ts';
import { blockLayerHeights, distancesAlong } from '../layers/heights.ts';
import type { NodeLayout, SideHeights, Stacks } from '../node-layout.ts';

/**
 * The layout of a job in the node numbers of its boundary.
 *
 * @throws FillError where it would have too many elements, or its spacing across has no solution
 */
export function layoutNodes(job: FillJob & { layout: Layout }): NodeLayout {
	const { layout, innerCounts: innerCounts } = job;
	const along = (walk: Walk): Uint32Array => {
		const nodes: number[] = [];
		// A walk of a hole is turned about, and so are its half-pieces.
		for (const h of walk) {
			const given =
				job.along.get(h) ??
				job.along
					.get(h ^ 1)!
					.slice()
					.reverse();
			for (let k = nodes.length ? 1 : 0; k < given.length; k++) nodes.push(given[k]!);
		}
		return Uint32Array.from(nodes);
	};
	const closed = (walk: Walk) => along(walk).slice(0, -1);
	const { x, y } = job.input;
	const checkAmount = (amount: number) => {
		if (amount <= elementLimit) return;
		throw new FillError(
			'too-many',
			`its sides ask for ${amount} elements, above the limit of ${elementLimit}; use fewer divisions`,
			{
				x: x[0]!,
				y: y[0]!
			}
		);
	};
	try {
		if (layout.kind === 'block') {
			const sides = mapped(layout.sides, along);
			const amount = (sides[0].length - 1) * (sides[1].length - 1);
			checkAmount(amount);
			return { kind: 'block', sides, walls: wallsOf(layout.sides, job) };
		}
		if (layout.kind === 'star') {
			const sides = layout.sides.map(along);
			const amount = sides.reduce((sum, side) => sum + side.length, 0) ** 2 / 4;
			checkAmount(amount);
			return { kind: 'star', sides, spokes: [...innerCounts] };
		}
		const outer = closed(layout.kind === 'ring' ? layout.outer : layout.sides.flat());
		const inner = layout.kind === 'ring' ? closed(layout.inner) : undefined;
		const distance = inner ? meanGap(x, y, outer, inner) : 0.45 * meanRadius(x, y, outer);
		const { across, ...cells } = acrossOf(job, distance);
		const stacks = cells.start + cells.end > 0 ? { stacks: { ...cells, distance } } : {};
		checkAmount(outer.length * across.length);
		if (inner)
			return {
				kind: 'ring',
				outer,
				inner,
				across,
				...(layout.kind === 'ring' && layout.matched ? { matched: true } : {}),
				...stacks
			};
		return {
			kind: 'disc',
			outline: outer,
			first: layout.kind === 'disc' && layout.sides.length === 2 ? along(layout.sides[0]!).length - 1 : outer.length / 4,
			across,
			...stacks
		};
	} catch (error) {
		if (!(error instanceof SpacingError)) throw error;
		throw new FillError('spacing', error.message, { x: x[0]!, y: y[0]! });
	}
}

const stackNumbers = (stacks: Stacks | undefined): number[] => (stacks ? [stacks.start, stacks.end, stacks.distance] : []);

/** A layout as numbers: with the same numbers it is the same. */
export function numbersOf(layout: NodeLayout): ArrayLike<number>[] {
	switch (layout.kind) {
		case 'block':
			return [...layout.sides, ...layout.walls.map((wall) => (wall ? [...wall.ends, ...(wall.heights ?? [])] : []))];
		case 'star':
			return [...layout.sides, layout.spokes];
		case 'ring':
			return [layout.outer, layout.inner, layout.across, [Number(layout.matched ?? false)], stackNumbers(layout.stacks)];
		case 'disc':
			return [layout.outline, [layout.first], layout.across, stackNumbers(layout.stacks)];
	}
}

/**
 * The sides along which first cells keep their height: those at whose both ends the spacing was
 * given by the size of a cell there.
 */
function wallsOf(sides: Block['sides'], job: FillJob): [SideHeights, SideHeights, SideHeights, SideHeights] {
	const { divisions, domain } = job;
	const { pieces } = domain.arrangement;
	const carried = blockLayerHeights(domain, { kind: 'block', sides });
	/** The part of the cell at the start of a half-piece that is a height given for it, at the wall that `wall` leaves there; 0 where none is. */
	const given = (h: number, wall: number): number => {
		const end = (half: number) => (half & 1 ? 'end' : 'start');
		const square = () => Math.max(leastSine, sineBetween(pieces[h >> 1]!, end(h), pieces[wall >> 1]!, end(wall)));
		if (carries(divisions[h >> 1]!, pieces[h >> 1]!.length, (h & 1) === 1, carried?.get(h)?.[0])) return square();
		const { spacing, turned } = originOf((p) => divisions[p]!.spacing, h >> 1, (h & 1) === 1);
		const at = spacingLaws.find((law) => law.law === spacing.law)?.givenAt?.(spacing as Spacing);
		if (at !== 'both' && at !== (turned ? 'end' : 'start')) return 0;
		if ((spacing as Spacing).square === undefined) return 1;
		return square();
	};
	return mapped([0, 1, 2, 3], (k): SideHeights => {
		const [side, leaving, arriving] = [sides[k]!, sides[(k + 1) % 4]![0]!, sides[(k + 3) % 4]!.at(-1)!];
		// From the start of the side, along the side before it; from its end, along the one after it.
		const [start, end] = [given(arriving ^ 1, side[0]!), given(leaving, side.at(-1)! ^ 1)];
		if (!(start > 0 && end > 0)) return false;
		const heights = varyingHeights(side, job);
		return { ends: [start, end], ...(heights ? { heights } : {}) };
	});
}

/** Whether the first cell of a division, or the last, is as long as layers ask it to be. */
function carries({ at, count }: Division, length: number, atEnd: boolean, height: number | undefined): boolean {
	const firstCell = length * (atEnd ? 1 - at[count - 1]! : at[1]!);
	return height !== undefined && Math.abs(firstCell - height) < 1e-6 * height;
}

/** The first heights of layers at the nodes of a side, where all of it grows layers and they vary. */
function varyingHeights(side: Walk, { domain: { layers }, divisions }: FillJob): Float64Array | undefined {
	if (!side.some((half) => layers.firsts.has(half))) return undefined;
	const list: number[] = [];
	for (const half of side) {
		const heights = firstHeights(layers, half, divisions[half >> 1]!);
		if (!heights) return undefined;
		for (let k = list.length > 0 ? 1 : 0; k < heights.length; k++) list.push(heights[k]!);
	}
	return Float64Array.from(list);
}

/** Positions across, and how many cells at either end keep their height on every line. */
interface Across {
	across: Float64Array;
	start: number;
	end: number;
}

/** Positions across a ring or from a round outline to its core; a count follows from the size where none is given. */
function acrossOf(job: FillJob & { layout: Layout }, distance: number): Across {
	const { domain, region, layout } = job;
	const { model, arrangement, fallbackSize: size } = domain;
	const { count, number } = region.across ?? {};
	if (!number) return acrossBySizes(job, distance, count);
	const n = count ?? Math.max(1, Math.min(10_000, Math.round(distance / (region.size ?? size))));
	const { word, value, toward } = number;
	let end: 'start' | 'end' | 'both' | 'middle';
	if (toward === 'both' || toward === 'middle') end = toward;
	else {
		const owners = new Set(
			(model.curvesByName.get(toward.name) ?? []).flatMap((c) => arrangement.byCurve[c]!.map((p) => p.piece))
		);
		const outer = layout.kind === 'ring' ? layout.outer : layout.kind === 'disc' ? layout.sides.flat() : [];
		const inner = layout.kind === 'ring' ? layout.inner : [];
		if (outer.some((h) => owners.has(h >> 1))) end = 'start';
		else if (inner.some((h) => owners.has(h >> 1))) end = 'end';
		else if (toward.point)
			throw new SpacingError('across a ring or a disc the end is named by a curve of its outline, not by a place');
		else throw new SpacingError(`“${toward.name}” is no part of its outline; name a curve of the outer or the inner one`);
	}
	const found = spacingOf({ numbers: { [word]: value }, counted: true, end, length: distance });
	if (!found) throw new SpacingError(`“${word}” alone makes no spacing across a ring or a disc`);
	const { spacing } = found;
	const at = word === 'first' && 'end' in spacing ? spacing.end : undefined;
	const keeps = (end: 'start' | 'end') => Number(n > 2 && (at === end || at === 'both'));
	return { across: positions(n, spacing, distance), start: keeps('start'), end: keeps('end') };
}

/** Lines across on which zones are looked for, and places on each. */
const looked = 48;

/**
 * Positions across a ring or a disc by sizes: the heights of layers on its outlines first, then the size of the region, finer where
 * a zone asks for it on any line across, and growing away from the layers.
 */
function acrossBySizes(job: FillJob & { layout: Layout }, distance: number, count: number | undefined): Across {
	const { domain, region, layout, field } = job;
	if (layout.kind !== 'ring' && layout.kind !== 'disc')
		return { across: positions(count ?? 1, { law: 'even' }), start: 0, end: 0 };
	const { layers, fallbackSize } = domain;
	const outer = layout.kind === 'ring' ? layout.outer : layout.sides.flat();
	// The walk of the inner outline is turned about: what is meshed lies to the left of its half-pieces turned back.
	const inner = layout.kind === 'ring' ? layout.inner.map((h) => h ^ 1) : [];
	const stackOn = (walk: Walk): number[] => {
		const layer = layers.of.get(walk[0] ?? -1);
		if (layer === undefined || walk.some((h) => layers.of.get(h) !== layer)) return [];
		const statement = layers.statements[layer]!;
		return distancesAlong(statement, statement.first, distance);
	};
	const isWall = (h: number) => !domain.regions.some((r) => r.fill !== 'none' && r.face === domain.arrangement.sides[h ^ 1]);
	const isPassage = () => inner.length > 0 && [...outer, ...inner].every(isWall);
	const size = region.size ?? fallbackSize;
	const base = field.acrossGap !== undefined && isPassage() ? Math.min(size, distance / field.acrossGap) : size;
	const heights = fitted({ start: stackOn(outer), end: stackOn(inner), slope: field.slope }, distance, count);
	const sizes = sizesAcross(job, outer, distance, base);
	const n = count ?? Math.min(10_000, countBetween(heights, sizes, distance));
	return { across: positionsBetween(heights, sizes, distance, n), start: heights.start.length, end: heights.end.length };
}

/** The size everywhere on lines that lead inward from an outline, finer where a zone asks for it on any of them. */
function sizesAcross({ field, input, along }: FillJob, outline: Walk, distance: number, size: number): SizesAlong {
	if (!field.hasZones) return { at: Float64Array.of(0, 1), size: Float64Array.of(size, size) };
	const from = outline.flatMap((h) => [...(along.get(h) ?? along.get(h ^ 1) ?? [])]);
	const [mx, my] = [mean(input.x, from), mean(input.y, from)];
	const at = Float64Array.from({ length: looked + 1 }, (_, k) => k / looked);
	const step = Math.max(1, Math.floor(from.length / looked));
	const sizeAt = (t: number) => {
		let least = size;
		for (let k = 0; k < from.length; k += step) {
			const [x, y] = [input.x[from[k]!]!, input.y[from[k]!]!];
			const share = (t * distance) / (hypot(mx - x, my - y) || 1);
			least = Math.min(least, field.at(x + share * (mx - x), y + share * (my - y)));
		}
		return least;
	};
	return { at, size: at.map(sizeAt) };
}

const mean = (values: Float64Array, nodes: readonly number[]) =>
	nodes.reduce((sum, n) => sum + values[n]!, 0) / Math.max(1, nodes.length);

/** The mean distance from the nodes of one row to the nearest of another. */
function meanGap(x: Float64Array, y: Float64Array, outer: Uint32Array, inner: Uint32Array): number {
	let sum = 0;
	const step = Math.max(1, Math.floor(inner.length / 200));
	let count = 0;
	for (let k = 0; k < inner.length; k += step) {
		let least = Infinity;
		for (const p of outer) least = Math.min(least, hypot(x[p]! - x[inner[k]!]!, y[p]! - y[inner[k]!]!));
		sum += least;
		count++;
	}
	return sum / count;
}

function meanRadius(x: Float64Array, y: Float64Array, outline: Uint32Array): number {
	let [cx, cy] = [0, 0];
	for (const p of outline) {
		cx += x[p]! / outline.length;
		cy += y[p]! / outline.length;
	}
	return outline.reduce((sum, p) => sum + hypot(x[p]! - cx, y[p]! - cy), 0) / outline.length;
}
