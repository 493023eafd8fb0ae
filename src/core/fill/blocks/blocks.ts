import { atOnce, finish, part, type Work } from '../../numeric/work.ts';
import type { Demands } from '../../blocks/demands.ts';
import type { Domain } from '../../domain/domain.ts';
import { type Region, walksOf } from '../../domain/regions.ts';
import type { Arrangement } from '../../geometry/pieces.ts';
import { placeText } from '../../text/sentences.ts';
import type { Fill, FillJob, FillMethod, PreparedFill } from '../method.ts';
import { quads } from '../quads/quads.ts';
import { countsOf, type PieceCount } from './counts.ts';
import { type Decomposition, decompose } from './decompose.ts';
import { layPatches } from './lay-patches.ts';
import { type Patches, united } from './patches.ts';

/** How long an element takes to make, over a triangle whose size grows. */
const effort = 4;
/** A fill with a corner below this, as a sine, is no fill. */
const leastShape = 0.02;

/** Decompositions by what they were made of: they are asked for when counts are settled, and again when a region is filled. */
const known = new WeakMap<Arrangement, Map<string, Decomposition>>();

function decompositionOf({ arrangement, fallbackSize }: Domain, region: Region): Decomposition {
	const size = region.size ?? fallbackSize;
	const made = known.get(arrangement) ?? new Map<string, Decomposition>();
	known.set(arrangement, made);
	const key = `${region.face} ${size}`;
	const found = made.get(key) ?? finish(decompose(arrangement, region, size));
	made.set(key, found);
	return found;
}

/** The counts of arcs that fit the counts of pieces; undefined where there are none. */
function settled(
	patches: Patches,
	sizeOf: (arc: number) => number,
	pieces: ReadonlyMap<number, PieceCount>
): Uint32Array | undefined {
	const wanted = Float64Array.from(patches.arcs, ({ half, start, end, length }, a) => {
		const count = half < 0 ? length / sizeOf(a) : pieces.get(half >> 1)!.count * (end - start);
		return Math.max(0.01, count);
	});
	return countsOf(patches, wanted, pieces);
}

/** Counts for all regions of blocks together, by what their pieces want: borders between them have one count. */
const together = new WeakMap<readonly number[], Map<number, Uint32Array> | 'none'>();

function countsTogether(
	domain: Domain,
	wanted: readonly number[],
	pinned: ReadonlyMap<number, number>
): ReadonlyMap<number, Uint32Array> | undefined {
	const before = together.get(wanted);
	if (before) return before === 'none' ? undefined : before;
	const parts = domain.regions.flatMap((region) => {
		if (!blocks.fills(region)) return [];
		const found = decompositionOf(domain, region);
		return 'reason' in found ? [] : [{ region, patches: found.patches }];
	});
	const whole = united(parts.map(({ patches }) => patches));
	const pieces = new Map<number, PieceCount>();
	for (const { half } of whole.arcs) {
		if (half < 0) continue;
		const typed = pinned.get(half >> 1);
		pieces.set(half >> 1, { count: typed ?? Math.max(1, wanted[half >> 1]!), isExact: typed !== undefined });
	}
	const sizes = parts.flatMap(({ region, patches }) => patches.arcs.map(() => region.size ?? domain.fallbackSize));
	const counts = settled(whole, (a) => sizes[a]!, pieces);
	if (!counts) {
		together.set(wanted, 'none');
		return undefined;
	}
	const byFace = new Map<number, Uint32Array>();
	let first = 0;
	for (const { region, patches } of parts) {
		byFace.set(region.face, counts.slice(first, first + patches.arcs.length));
		first += patches.arcs.length;
	}
	together.set(wanted, byFace);
	return byFace;
}

/**
 * Blocks settle the counts of the pieces around them by themselves. A count inside is one more than that of its arc, since an arc may
 * have none.
 */
function layOut(domain: Domain, region: Region): NonNullable<ReturnType<NonNullable<FillMethod['layOut']>>> {
	const found = decompositionOf(domain, region);
	const rows = quads.layOut!(domain, region) as { demands: Demands };
	if ('reason' in found) return rows;
	const { patches } = found;
	const demands: Demands = {
		...rows.demands,
		walks: walksOf(domain.arrangement, region),
		enough: rows.demands.equations,
		equations(wanted, pinned = new Map()) {
			const counts = countsTogether(domain, wanted, pinned)?.get(region.face);
			if (!counts) return rows.demands.equations(wanted);
			const sums = new Map<number, number>();
			for (const [a, { half }] of patches.arcs.entries())
				if (half >= 0) sums.set(half >> 1, (sums.get(half >> 1) ?? 0) + counts[a]!);
			return {
				equations: [
					...[...sums].map(([p, total]) => ({ pieces: new Map([[p, 1]]), inner: new Map<number, number>(), total })),
					...Array.from(counts, (count, a) => ({
						pieces: new Map<number, number>(),
						inner: new Map([[a, 1]]),
						total: count + 1
					}))
				],
				inner: Array.from(counts, (count) => count + 1)
			};
		}
	};
	return { demands };
}

/** The counts of arcs for the divisions that are there: those that were settled with them, or others that fit. */
function countsFor(job: FillJob, patches: Patches): Uint32Array | undefined {
	const { arcs } = patches;
	const there = new Map<number, number>();
	for (const { half } of arcs) if (half >= 0) there.set(half >> 1, job.along.get(half)!.length - 1);
	const inner = job.innerCounts;
	if (inner.length === arcs.length) {
		const sums = new Map<number, number>();
		arcs.forEach(({ half }, a) => half >= 0 && sums.set(half >> 1, (sums.get(half >> 1) ?? 0) + inner[a]! - 1));
		const [[first, count]] = [...there] as [[number, number]];
		// All may be parted alike, as a study of finer meshes does.
		const by = count / Math.max(1, sums.get(first)!);
		if (Number.isInteger(by) && [...there].every(([p, n]) => n === by * sums.get(p)!))
			return Uint32Array.from(inner, (n) => by * (n - 1));
	}
	const pieces = new Map([...there].map(([p, count]): [number, PieceCount] => [p, { count, isExact: true }]));
	const size = job.region.size ?? job.domain.fallbackSize;
	return settled(patches, () => size, pieces);
}

function prepare(job: FillJob): PreparedFill {
	const { input, domain, region } = job;
	const found = decompositionOf(domain, region);
	const instead = (reason: string): PreparedFill => inRows(job, reason);
	if ('reason' in found) return instead(found.reason);
	const { patches } = found;
	if (input.edges.length / 2 < input.x.length) return instead('a node stands inside it');
	const counts = countsFor(job, patches);
	if (!counts) return instead('no counts of divisions fit its blocks and those that are typed');
	let elements = 0;
	for (const patch of patches.patches) {
		const [one, two] = [patch[0], patch[1]].map((side) => side.reduce((sum, h) => sum + counts[h >> 1]!, 0));
		elements += one! * two!;
	}
	return {
		key: { rule: `blocks ${region.size ?? domain.fallbackSize}`, numbers: [counts] },
		expected: () => atOnce(() => elements),
		effort: () => effort,
		isPredicted: false,
		*fill(expected) {
			const { fill, blocks: laid, worst } = yield* part(layPatches(input, patches, counts, job.along), 0, 0.9);
			if (worst.shape > leastShape) return { ...fill, blocks: { ...laid, tries: found.tries } };
			return yield* part(instead(`its blocks would fold near ${placeText(worst.at)}`).fill(expected), 0.9, 1);
		}
	};
}

/** The region in rows of quadrilaterals, and a remark that says why it has no blocks. */
function inRows(job: FillJob, reason: string): PreparedFill {
	const rows = quads.prepare(job);
	return {
		...rows,
		key: { ...rows.key, rule: `${rows.key.rule} for ${reason}` },
		*fill(expected): Work<Fill> {
			const fill = yield* rows.fill(expected);
			const { x, y } = job.input;
			const message = `no blocks were found, since ${reason}; it is filled with quadrilaterals in rows`;
			return { ...fill, remarks: [...(fill.remarks ?? []), { code: 'no-blocks', message, at: { x: x[0]!, y: y[0]! } }] };
		}
	};
}

/** Blocks of quadrilaterals that are found by themselves, in any outline. */
export const blocks: FillMethod = {
	source: 'structured blocks',
	title: 'blocks',
	takesSize: true,
	keepsPoints: false,
	fills: ({ fill, blocks: byThemselves }) => fill === 'structured' && byThemselves === true,
	layOut,
	prepare
};
