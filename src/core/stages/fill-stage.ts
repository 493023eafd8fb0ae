import type { Domain } from '../domain/domain.ts';
import type { Region } from '../domain/regions.ts';
import type { GlobalFill } from '../assembly/assemble.ts';
import { gatherBoundary, type BoundaryNumbering } from '../fill/boundary.ts';
import { FillError, type Fill, type FillInput, type PreparedFill } from '../fill/method.ts';
import { sameNumbers } from '../numeric/same.ts';
import type { Work } from '../numeric/work.ts';
import { elementLimit } from '../sizing/size-rule.ts';
import type { Report } from '../text/report.ts';
import type { DividedDomain, RegionPlan } from './divide-stage.ts';

/** The fills of all regions. */
export interface Filled {
	/** By region; undefined where one is empty or could not be filled. */
	fills: (GlobalFill | undefined)[];
	/** How many elements were to be expected, before any fill. */
	predicted: number;
	/** Set where nothing was filled, because so many elements were to be expected. */
	held?: number;
	/** Names of the regions that had to be filled anew. */
	refilled: string[];
}

/** What one region's fill was made from, and what came out. */
interface RememberedFill {
	input: FillInput;
	key: PreparedFill['key'];
	outcome: Fill | FillError;
	expected: number;
}

/** A region that is ready to be filled. */
interface Ready {
	plan: RegionPlan;
	region: Region;
	input: FillInput;
	/** Global node of each local one. */
	global: Uint32Array;
	prepared: PreparedFill | FillError;
	/** The last fill, where it was made from the same. */
	known: RememberedFill | undefined;
	expected: number;
}

/** From divided pieces to the elements of every region. A region is filled again only when something changes that its fill is made from. */
export class FillStage {
	private last = new Map<string, RememberedFill>();

	/** @param askAbove more elements than this are only predicted, not made */
	*run(domain: Domain, divided: DividedDomain, numbering: BoundaryNumbering, askAbove: number, report: Report): Work<Filled> {
		const ready = divided.plans.map((plan) => this.ready(plan, domain, divided, numbering));
		let predicted = ready.reduce((sum, r) => sum + r.expected, 0);
		// A region above the limit is refused in any case, and no question.
		const possible = ready.reduce((sum, r) => sum + (r.expected > elementLimit ? 0 : r.expected), 0);
		const fills = domain.regions.map((): GlobalFill | undefined => undefined);
		// What is held back may be asked for next.
		if (possible > askAbove && ready.some((r) => !r.known)) return { fills, predicted, held: predicted, refilled: [] };
		const refilled: string[] = [];
		const kept = new Map<string, RememberedFill>();
		for (const [k, own] of ready.entries()) {
			const { region, plan, global } = own;
			let remembered = own.known;
			if (!remembered) {
				refilled.push(region.name);
				const work = made(own);
				let step = work.next();
				for (; !step.done; step = work.next()) yield (k + step.value) / ready.length;
				remembered = step.value;
			}
			kept.set(region.name, remembered);
			predicted += remembered.expected - own.expected;
			const { outcome } = remembered;
			if (outcome instanceof FillError)
				report
					.about(region.fillLine)
					.error(outcome.code, `region \`${region.name}\` could not be filled: ${outcome.message}`, { at: outcome.at });
			else {
				fills[plan.region] = { fill: outcome, global };
				for (const { code, message, at } of outcome.remarks ?? [])
					report.about(region.fillLine).warning(code, `region \`${region.name}\`: ${message}`, { at });
			}
		}
		this.last = kept;
		return { fills, predicted, refilled };
	}

	private ready(plan: RegionPlan, domain: Domain, { divisions, field }: DividedDomain, numbering: BoundaryNumbering): Ready {
		const region = domain.regions[plan.region]!;
		const { input, halves, along, global } = gatherBoundary(region, domain.arrangement, divisions.pieces, numbering);
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
				own: plan.own
			});
		} catch (error) {
			if (!(error instanceof FillError)) throw error;
			prepared = error;
		}
		const last = this.last.get(region.name);
		const known =
			last && !(prepared instanceof FillError) && sameKey(last.key, prepared.key) && sameInput(last.input, input)
				? last
				: undefined;
		const expected = known?.expected ?? (prepared instanceof FillError ? 0 : prepared.expected());
		return { plan, region, input, global, prepared, known, expected };
	}
}

function* made({ input, prepared, expected }: Ready): Work<RememberedFill> {
	if (prepared instanceof FillError) return { input, key: { rule: '', numbers: [] }, outcome: prepared, expected: 0 };
	const { key, isPredicted } = prepared;
	let outcome: Fill | FillError;
	try {
		outcome = yield* prepared.fill(expected);
	} catch (error) {
		if (!(error instanceof FillError)) throw error;
		outcome = error;
	}
	return { input, key, outcome, expected: isPredicted ? expected : elementsOf(outcome) };
}

const elementsOf = (outcome: Fill | FillError) =>
	outcome instanceof FillError ? 0 : outcome.quads.length / 4 + outcome.triangles.length / 3;

const sameKey = (a: PreparedFill['key'], b: PreparedFill['key']) =>
	a.rule === b.rule && a.numbers.length === b.numbers.length && a.numbers.every((list, k) => sameNumbers(list, b.numbers[k]!));

const sameInput = (a: FillInput, b: FillInput) => sameNumbers(a.x, b.x) && sameNumbers(a.y, b.y) && sameNumbers(a.edges, b.edges);
