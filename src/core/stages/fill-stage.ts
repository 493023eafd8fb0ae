import type { Domain } from '../domain/domain.ts';
import type { Region } from '../domain/regions.ts';
import type { GlobalFill } from '../assembly/assemble.ts';
import { gatherBoundary, type BoundaryNumbering } from '../fill/boundary.ts';
import { FillError, type Fill, type FillInput, type PreparedFill } from '../fill/method.ts';
import { sameNumbers } from '../numeric/same.ts';
import { part, type Work } from '../numeric/work.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import { sentenceOf } from '../text/user-error.ts';
import type { Report } from '../findings/report.ts';
import type { DividedDomain, RegionPlan } from './divide-stage.ts';
import type { RemoteRequest, RegionRequest } from './helpers.ts';

/** The fills of all regions. */
export interface RegionFills {
	/** By region; undefined where one is empty or could not be filled. */
	fills: (GlobalFill | undefined)[];
	/** How many elements were to be expected, before any fill. */
	predicted: number;
	/** Set where nothing was filled, because so many elements were to be expected. */
	held?: number;
	/** Names of the regions that had to be filled anew. */
	refilled: string[];
	/** The share of the time from the start of fills to the end of a run that they took, as their progress says it. */
	share: number;
}

/** Others who fill regions of the recipe that is at hand. */
export interface RemoteFills {
	/** How many there are. */
	count: number;
	/** It pays to ask one for regions that take as long to fill as so many triangles. */
	worthwhile: number;
	/** Has one of them fill some regions. */
	ask: (helper: number, regions: readonly RegionRequest[]) => RemoteRequest;
}

/** What one region's fill was made from, and what came out. */
interface CachedFill {
	input: FillInput;
	key: PreparedFill['key'];
	outcome: Fill | FillError;
	expected: number;
}

/** A region that is ready to be filled. */
interface PreparedRegion {
	plan: RegionPlan;
	region: Region;
	input: FillInput;
	/** Global node of each local one. */
	global: Uint32Array;
	prepared: PreparedFill | FillError;
	/** The last fill, where it was made from the same. */
	cached: CachedFill | undefined;
	expected: number;
	/** How long it takes to fill, in triangles: no time where it is known, or refused. */
	cost: number;
}

/** Regions that are filled elsewhere, and what they take. */
interface RemoteShare {
	regions: PreparedRegion[];
	cost: number;
	asked: RemoteRequest;
}

/** What comes after fills takes as long as for so many elements more. */
const fewElements = 20_000;

/** From divided pieces to the elements of every region. A region is filled again only when something changes that its fill is made from. */
export class FillStage {
	private last = new Map<string, CachedFill>();
	/** Set while nothing is left to do here but to wait for what is filled elsewhere: fulfilled when there is something to go on with. */
	waiting: Promise<void> | undefined;

	/**
	 * Its progress is that of the whole run from here on: it ends at its share.
	 *
	 * @param askAbove more elements than this are only predicted, not made
	 * @param remote others who fill regions of the same recipe
	 */
	*run(
		domain: Domain,
		divided: DividedDomain,
		numbering: BoundaryNumbering,
		askAbove: number,
		report: Report,
		remote?: RemoteFills
	): Work<RegionFills> {
		const ready = yield* this.allReady(divided.plans, domain, divided, numbering);
		let predicted = ready.reduce((sum, r) => sum + r.expected, 0);
		// A region above the limit is refused in any case, and no question.
		const possible = ready.reduce((sum, r) => sum + (r.expected > elementLimit ? 0 : r.expected), 0);
		const fills = domain.regions.map((): GlobalFill | undefined => undefined);
		// What is held back may be asked for next.
		if (possible > askAbove && ready.some((r) => !r.cached)) return { fills, predicted, held: predicted, refilled: [], share: 1 };
		const todo = ready.filter((r) => !r.cached);
		const cost = todo.reduce((sum, item) => sum + item.cost, 0);
		const share = Math.max(0.05, cost / (cost + effortAfter * (possible + fewElements)));
		const outcomes = yield* part(this.outcomesOf(todo, remote), 0, share);
		const current = new Map<string, CachedFill>();
		for (const item of ready) {
			const { region, plan, global } = item;
			const remembered = item.cached ?? outcomes.get(item)!;
			current.set(region.name, remembered);
			predicted += remembered.expected - item.expected;
			const { outcome } = remembered;
			if (outcome instanceof FillError)
				report.about(region.fillLine).add(outcome.code, { region: region.name, message: outcome.message }, { at: outcome.at });
			else {
				fills[plan.region] = { fill: outcome, global };
				for (const { code, message, at } of outcome.remarks ?? [])
					report.about(region.fillLine).add(code, { region: region.name, message }, { at });
			}
		}
		this.last = current;
		return { fills, predicted, refilled: todo.map(({ region }) => region.name), share };
	}

	/** Some regions alone, for whoever fills the others. */
	*some(
		domain: Domain,
		divided: DividedDomain,
		numbering: BoundaryNumbering,
		asked: readonly RegionRequest[]
	): Work<Map<string, Fill | FillError>> {
		const expected = new Map(asked);
		const plans = divided.plans.filter(({ region }) => expected.has(domain.regions[region]!.name));
		const ready = yield* this.allReady(plans, domain, divided, numbering, expected);
		const outcomes = yield* this.outcomesOf(ready, undefined);
		return new Map(Array.from(outcomes, ([{ region }, { outcome }]) => [region.name, outcome]));
	}

	/** Fills regions here, and elsewhere at the same time. */
	private *outcomesOf(todo: readonly PreparedRegion[], remote: RemoteFills | undefined): Work<Map<PreparedRegion, CachedFill>> {
		const outcomes = new Map<PreparedRegion, CachedFill>();
		const all = todo.reduce((sum, item) => sum + item.cost, 0);
		let done = 0;
		const shares = remote ? shared(todo, remote) : [];
		const isShared = new Set(shares.flatMap(({ regions }) => regions));
		function* here(item: PreparedRegion): Work<void> {
			const { cost } = item;
			outcomes.set(item, yield* part(made(item), done / all, (done + cost) / all));
			done += cost;
		}
		try {
			for (const item of todo) if (!isShared.has(item)) yield* here(item);
			for (const { regions, cost, asked } of shares) {
				while (!asked.answer) {
					this.waiting = asked.answered;
					yield done / all;
				}
				this.waiting = undefined;
				const before = done;
				for (const item of regions) {
					const outcome = asked.answer === 'failed' ? undefined : asked.answer.get(item.region.name);
					if (outcome) outcomes.set(item, remembered(item, outcome));
					else yield* here(item);
				}
				done = before + cost;
			}
			return outcomes;
		} finally {
			this.waiting = undefined;
			for (const { asked } of shares) if (!asked.answer) asked.stop();
		}
	}

	/** @param predicted how many elements regions will have, where that is known */
	private *allReady(
		plans: readonly RegionPlan[],
		domain: Domain,
		divided: DividedDomain,
		numbering: BoundaryNumbering,
		predicted?: ReadonlyMap<string, number>
	): Work<PreparedRegion[]> {
		const all: PreparedRegion[] = [];
		for (const plan of plans) {
			yield 0;
			all.push(yield* part(this.ready(plan, domain, divided, numbering, predicted), 0, 0));
		}
		return all;
	}

	private *ready(
		plan: RegionPlan,
		domain: Domain,
		{ divisions, field }: DividedDomain,
		numbering: BoundaryNumbering,
		predicted?: ReadonlyMap<string, number>
	): Work<PreparedRegion> {
		const region = domain.regions[plan.region]!;
		const { input, halves, along, global } = gatherBoundary(region, domain.arrangement, divisions.pieces, numbering);
		yield 0;
		let prepared: PreparedFill | FillError;
		try {
			const layout = plan.layout ? { layout: plan.layout } : {};
			prepared = plan.method.prepare({
				domain,
				region,
				divisions: divisions.pieces,
				field,
				input,
				halves,
				along,
				...layout,
				innerCounts: plan.innerCounts
			});
		} catch (error) {
			prepared = refused(error, input);
		}
		yield 0;
		const last = this.last.get(region.name);
		const known =
			last && !(prepared instanceof FillError) && sameKey(last.key, prepared.key) && sameInput(last.input, input)
				? last
				: undefined;
		const expected =
			known?.expected ??
			predicted?.get(region.name) ??
			(prepared instanceof FillError ? 0 : yield* part(expectedOf(prepared), 0, 0));
		const cost =
			1 + (known || prepared instanceof FillError || expected > elementLimit ? 0 : expected * prepared.effort(expected));
		return { plan, region, input, global, prepared, cached: known, expected, cost };
	}
}

/** What comes after fills takes so long for every element, over a triangle whose size grows. */
const effortAfter = 0.045;

/**
 * Divides regions among this thread and others: the longest first, each to whoever has least to do so far. What falls to this one
 * is in no share.
 */
function shared(todo: readonly PreparedRegion[], { count, worthwhile, ask }: RemoteFills): RemoteShare[] {
	const longestFirst = [...todo].sort((a, b) => b.cost - a.cost);
	const all = longestFirst.reduce((sum, item) => sum + item.cost, 0);
	if (todo.length < 2 || all - longestFirst[0]!.cost < worthwhile) return [];
	const threads = Array.from({ length: count + 1 }, () => ({ regions: [] as PreparedRegion[], cost: 0 }));
	for (const item of longestFirst) {
		const least = threads.reduce((a, b) => (b.cost < a.cost ? b : a));
		least.regions.push(item);
		least.cost += item.cost;
	}
	return threads.slice(1).flatMap(({ regions, cost }, helper) =>
		cost < worthwhile
			? []
			: [
					{
						regions,
						cost,
						asked: ask(
							helper,
							regions.map(({ region, expected }) => [region.name, expected])
						)
					}
				]
	);
}

function* made(item: PreparedRegion): Work<CachedFill> {
	const { input, prepared, expected } = item;
	if (prepared instanceof FillError) return { input, key: { rule: '', numbers: [] }, outcome: prepared, expected: 0 };
	try {
		return remembered(item, yield* prepared.fill(expected));
	} catch (error) {
		return remembered(item, refused(error, input));
	}
}

/** How many elements a region will have; none where that cannot be said, and then its fill says why. */
function* expectedOf(prepared: PreparedFill): Work<number> {
	try {
		const expected = yield* prepared.expected();
		return expected >= 0 ? expected : 0;
	} catch {
		return 0;
	}
}

/** Why a region is not filled. Whatever fails in one region leaves the others whole. */
function refused(error: unknown, { x, y }: FillInput): FillError {
	if (error instanceof FillError) return error;
	return new FillError('internal', sentenceOf(error, 'the fill'), { x: x[0] ?? 0, y: y[0] ?? 0 });
}

/** The cache entry of a region with this outcome. */
function remembered({ input, prepared, expected }: PreparedRegion, outcome: Fill | FillError): CachedFill {
	if (prepared instanceof FillError) return { input, key: { rule: '', numbers: [] }, outcome: prepared, expected: 0 };
	const { key, isPredicted } = prepared;
	return { input, key, outcome, expected: isPredicted ? expected : elementsOf(outcome) };
}

const elementsOf = (outcome: Fill | FillError) =>
	outcome instanceof FillError ? 0 : outcome.quads.length / 4 + outcome.triangles.length / 3;

const sameKey = (a: PreparedFill['key'], b: PreparedFill['key']) =>
	a.rule === b.rule && a.numbers.length === b.numbers.length && a.numbers.every((list, k) => sameNumbers(list, b.numbers[k]!));

const sameInput = (a: FillInput, b: FillInput) => sameNumbers(a.x, b.x) && sameNumbers(a.y, b.y) && sameNumbers(a.edges, b.edges);
