import Flatbush from 'flatbush';
import { hypot } from '../numeric/elementary.ts';
import { alongHilbertCurve } from '../numeric/hilbert-order.ts';
import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { numbersBelow } from '../numeric/lists.ts';
import type { Work } from '../numeric/work.ts';
import {
	CUBIC,
	curveLength,
	lengthAt,
	LINE,
	boxAround,
	boxesOf,
	type CurveBoxes,
	segmentCount,
	segmentPoint,
	STRIDE,
	type Curve,
	type Point
} from './curve.ts';
import { intersectSegments, nearestOn, selfCrossings, stepsTaken } from './intersect.ts';

/** Parameters along curves, those of one curve after those of the one before: of curve c, `t[first[c]]` to `t[first[c + 1] − 1]`. */
export interface Places {
	first: Uint32Array;
	t: Float64Array;
}

/** Corners and crossings may cut curves into this many pieces at most, each crossing into two more; the second is left for crossings, however many corners there are … */
const [mostPieces, fewestPieces] = [240_000, 20_000];
/** … and this many pairs of segments lie near one another: some seconds of work. Each round may take half of the one before. */
const mostPairs = 12_000_000;
/** Holding a stretch of a curved segment against another takes as long as this many pairs of lines. */
const pairsInStep = 3;

/** Where curves are cut; what an edit of them can go on from. */
export interface CutUp {
	boxes: CurveBoxes;
	nodes: readonly Point[];
	tolerance: number;
	/** Of each curve, with repeats. */
	cuts: Places;
	/** The nodes that lie on no curve. */
	loose: Point[];
	/** How many crossings were found, and how many segments beside others; no fewer than there are. */
	crossings: number;
	pairs: number;
}

/** What was found before an edit, with the number that each curve had then, −1 for those that are new. */
export interface CutBefore extends CutUp {
	numbers: Int32Array;
}

/**
 * Where each curve is cut. Where curves meet too often, those that meet most are added to `tangled` and nothing is answered.
 *
 * @param tangled curves that are left out
 * @param round how often nothing was answered: each round is shorter, and leaves out more curves, so that there is an end of it
 * @param before what was found before an edit: where curves meet neither what is new nor what is gone, it holds
 */
export function* findCuts(
	boxes: CurveBoxes,
	nodes: readonly Point[],
	tolerance: number,
	tangled: Set<number>,
	round: number,
	before?: CutBefore
): Work<CutUp | undefined> {
	// Phase 1: what is held against one another.
	const cutting = new Cutting(boxes, tolerance, tangled, 0.5 ** round);
	if (before && round === 0) cutting.goOnFrom(before, nodes);
	// One after the other as they lie in the plane, so that what one looks at is at hand for the next.
	const order = cutting.order();

	// Phase 2: where segments meet.
	for (let n = 0; n < order.length;) {
		yield n / order.length;
		if (cutting.isTooMuch && !cutting.hasKept) {
			const { met } = cutting;
			const most = met.reduce((high, count) => Math.max(high, count));
			met.forEach((count, c) => count > most * 0.5 ** (round + 1) && tangled.add(c));
			return undefined;
		}
		n = meetSome(cutting, order, n);
	}
	// What was taken over counts what is gone too: whether there is too much is seen without it.
	if (cutting.isTooMuch && cutting.hasKept) return yield* findCuts(boxes, nodes, tolerance, tangled, round);

	// Phase 3: nodes that lie on a curve cut it.
	const loose = nodes.filter((p) => !cutting.cutAt(p));
	const { crossings, pairs } = cutting;
	return { boxes, nodes, tolerance, cuts: cutting.cuts(), loose, crossings, pairs };
}

/** Runs of segments, and segments beside others, visited between two yields. */
const chunkSize = 4096;

/** So few runs are held against all others, rather than looked for in an index. */
const fewRuns = 64;
/** More curves than these that are new or gone are no edit. */
const mostEdited = 64;

/** No more segments in a row than these are looked for together. */
const mostInRun = 16;

/** The segments of curves, and where these are cut. They are looked for by runs, in which none meets another but at their joint. */
class Cutting {
	private readonly curveOf: Uint32Array;
	private readonly segmentOf: Uint32Array;
	private readonly boxes: Float64Array;
	private index: Flatbush | undefined;
	private count = 0;
	/** The first segment of each run, and the one after the last of all; and the boxes of the runs. */
	private readonly firstOf: Uint32Array;
	private runs = 0;
	/** Whether another segment may go on from the first one of the last run. */
	private isRunOpen = false;
	private runBoxes = new Float64Array(0);
	/** The curve and the parameter of each cut, in the order in which they are found. */
	private readonly cutCurves: number[] = [];
	private readonly cutPlaces: number[] = [];
	/** How many segments lie near those of each curve. */
	readonly met: Float64Array;
	/** How many runs were looked at, and segments beside others. */
	visited = 0;
	/** How many corners the curves have, and how often they cross. */
	private corners = 0;
	crossings = 0;
	pairs = 0;
	/** What is taken over from before an edit, and of each curve its number then, −1 for those that are looked at again. */
	private before: CutUp | undefined;
	private readonly numbers: Int32Array;
	/** The run that is looked at. */
	private run = 0;
	/** The two segments that are looked at: their curves, their numbers in these, and the joints that they share. */
	private ca = 0;
	private i = 0;
	private cb = 0;
	private j = 0;
	private joints: [number, number][] | undefined;

	private readonly curves: readonly Curve[];
	private readonly total: number;

	/**
	 * @param tangled curves that are left out
	 * @param share of the crossings and pairs that there may be
	 */
	constructor(
		private readonly ofCurves: CurveBoxes,
		private readonly tolerance: number,
		tangled: ReadonlySet<number>,
		private readonly share: number
	) {
		const { curves } = ofCurves;
		const total = curves.reduce((sum, curve, c) => sum + (tangled.has(c) ? 0 : segmentCount(curve)), 0);
		[this.curves, this.total] = [curves, total];
		this.curveOf = new Uint32Array(total);
		this.segmentOf = new Uint32Array(total);
		this.boxes = new Float64Array(4 * total);
		this.firstOf = new Uint32Array(total + 1);
		this.met = new Float64Array(curves.length);
		this.numbers = new Int32Array(curves.length).fill(-1);
		for (let c = 0; c < curves.length; c++) if (!tangled.has(c)) this.add(c);
		this.boxRuns();
	}

	/** Adds the segments of a curve. */
	private add(c: number): void {
		const { boxes, tolerance, ofCurves } = this;
		const curve = this.curves[c]!;
		this.corners += curve.corners.length;
		for (let i = 0, n = 4 * ofCurves.first[c]!; i < segmentCount(curve); i++, n += 4) {
			const k = this.count++;
			boxes[4 * k] = ofCurves.boxes[n]! - tolerance;
			boxes[4 * k + 1] = ofCurves.boxes[n + 1]! - tolerance;
			boxes[4 * k + 2] = ofCurves.boxes[n + 2]! + tolerance;
			boxes[4 * k + 3] = ofCurves.boxes[n + 3]! + tolerance;
			this.curveOf[k] = c;
			this.segmentOf[k] = i;
			if (i === 0 || !this.goesOnInRun(curve, i)) this.firstOf[this.runs++] = k;
		}
	}

	/**
	 * Whether a segment belongs to the run of those before it: all are lines and cubics whose legs run within 60° of the first
	 * one, and are long enough to be distinguished, so that each lies ahead of those before it.
	 */
	private goesOnInRun(curve: Curve, i: number): boolean {
		const first = i - (this.count - 1 - this.firstOf[this.runs - 1]!);
		if (i - first >= mostInRun) return false;
		if (i === first + 1) this.isRunOpen = this.runsAlong(curve, first, first);
		return this.isRunOpen && this.runsAlong(curve, i, first);
	}

	/** Whether all legs of a segment run within 60° of the way from end to end of another. */
	private runsAlong({ kinds, data }: Curve, i: number, first: number): boolean {
		if (kinds[i] !== LINE && kinds[i] !== CUBIC) return false;
		const [o, n] = [first * STRIDE, i * STRIDE];
		const dx = data[o + 2]! - data[o]!;
		const dy = data[o + 3]! - data[o + 1]!;
		const way = hypot(data[n + 2]! - data[n]!, data[n + 3]! - data[n + 1]!);
		return way > 16 * this.tolerance && areAhead(data, n, kinds[i] === CUBIC, dx, dy, 0.5 * hypot(dx, dy));
	}

	/** Finds the boxes of the runs. */
	private boxRuns(): void {
		const { runs, firstOf, boxes } = this;
		firstOf[runs] = this.total;
		const runBoxes = new Float64Array(4 * runs);
		for (let r = 0; r < runs; r++) {
			const first = 4 * firstOf[r]!;
			let [minX, minY, maxX, maxY] = [boxes[first]!, boxes[first + 1]!, boxes[first + 2]!, boxes[first + 3]!];
			for (let k = first + 4; k < 4 * firstOf[r + 1]!; k += 4) {
				minX = Math.min(minX, boxes[k]!);
				minY = Math.min(minY, boxes[k + 1]!);
				maxX = Math.max(maxX, boxes[k + 2]!);
				maxY = Math.max(maxY, boxes[k + 3]!);
			}
			runBoxes[4 * r] = minX;
			runBoxes[4 * r + 1] = minY;
			runBoxes[4 * r + 2] = maxX;
			runBoxes[4 * r + 3] = maxY;
		}
		this.runBoxes = runBoxes;
	}

	/** Takes over what an edit leaves as it was: the cuts of curves that meet nothing that is new or gone. All are in the order of before. */
	goOnFrom(before: CutBefore, nodes: readonly Point[]): void {
		const { curves, tolerance, numbers, runs, runBoxes } = this;
		if (before.tolerance !== tolerance || !samePoints(before.nodes, nodes)) return;
		const edited = editedBoxes(this.ofCurves, before.numbers, before.boxes, tolerance);
		if (!edited) return;
		const isNear = new Uint8Array(curves.length);
		for (let r = 0; r < runs; r++) {
			const c = this.curveOf[this.firstOf[r]!]!;
			for (let k = 0; k < edited.length / 4 && !isNear[c]; k++) if (overlap(runBoxes, r, edited, k)) isNear[c] = 1;
		}
		for (let c = 0; c < curves.length; c++) if (!isNear[c]) numbers[c] = before.numbers[c]!;
		this.before = before;
		this.crossings = before.crossings;
		this.pairs = before.pairs;
	}

	/** Whether something is taken over from before. */
	get hasKept(): boolean {
		return this.before !== undefined;
	}

	/** The runs that are looked at, in an order that keeps neighbours together. */
	order(): Int32Array {
		const { runs, runBoxes, numbers } = this;
		const asked = numbersBelow(runs).filter((r) => numbers[this.curveOf[this.firstOf[r]!]!]! < 0);
		const left = new Float64Array(asked.length);
		const bottom = new Float64Array(asked.length);
		for (let n = 0; n < asked.length; n++) {
			left[n] = runBoxes[4 * asked[n]!]!;
			bottom[n] = runBoxes[4 * asked[n]! + 1]!;
		}
		if (asked.length > fewRuns) this.indexed();
		return alongHilbertCurve(left, bottom).map((n) => asked[n]!);
	}

	/** The index of all runs. */
	private indexed(): Flatbush {
		if (this.index) return this.index;
		const { runs, runBoxes } = this;
		const index = new Flatbush(Math.max(1, runs));
		for (let r = 0; r < runs; r++) index.add(runBoxes[4 * r]!, runBoxes[4 * r + 1]!, runBoxes[4 * r + 2]!, runBoxes[4 * r + 3]!);
		if (runs === 0) index.add(0, 0, 0, 0);
		index.finish();
		return (this.index = index);
	}

	get isTooMuch(): boolean {
		const cuttable = Math.max(fewestPieces, mostPieces - this.corners);
		return 2 * this.crossings > this.share * cuttable || this.pairs > this.share * mostPairs;
	}

	/** All cuts, corners among them. */
	cuts(): Places {
		const { curves, numbers, before } = this;
		for (let c = 0; c < curves.length; c++) {
			const q = numbers[c]!;
			if (q < 0) for (const corner of curves[c]!.corners) this.cut(c, corner);
			else {
				const { first, t } = before!.cuts;
				// They are sorted since, so that repeats stand side by side.
				for (let k = first[q]!; k < first[q + 1]!; k++) if (k === first[q] || t[k] !== t[k - 1]) this.cut(c, t[k]!);
			}
		}
		return byCurve(curves.length, this.cutCurves, this.cutPlaces);
	}

	/** Finds where the segments of a run meet themselves, and those of other runs that do not find it; it must be {@link current}. */
	meetOthers(run: number): void {
		const { curves, curveOf, segmentOf, runBoxes, firstOf } = this;
		this.run = run;
		const [first, last] = [firstOf[run]!, firstOf[run + 1]!];
		const curve = curves[curveOf[first]!]!;
		// In a run of more no curve turns back to itself.
		if (last - first === 1 && curve.kinds[segmentOf[first]!] !== LINE) {
			this.ca = curveOf[first]!;
			this.i = segmentOf[first]!;
			selfCrossings(curve, this.i, this.tolerance, crossItself);
		}
		const near = this.index
			? this.index.search(runBoxes[4 * run]!, runBoxes[4 * run + 1]!, runBoxes[4 * run + 2]!, runBoxes[4 * run + 3]!, isToFind)
			: this.runsBeside(run);
		this.pairs += near.length;
		this.met[curveOf[first]!]! += near.length;
		this.visited += 1 + near.length * (last - first);
		for (let n = 0; n < near.length; n++) {
			const other = near[n]!;
			// Two segments are held against one another in one order always.
			if (other > run) this.meetRuns(run, other);
			else this.meetRuns(other, run);
		}
	}

	/** The runs that {@link isToFind} from one, found without an index. */
	private runsBeside(run: number): number[] {
		const { runs, runBoxes } = this;
		const near: number[] = [];
		for (let other = 0; other < runs; other++)
			if (overlap(runBoxes, run, runBoxes, other) && this.isToFind(other)) near.push(other);
		return near;
	}

	/** Finds where the segments of a run meet those of one after it. */
	private meetRuns(one: number, other: number): void {
		const { boxes, runBoxes, firstOf } = this;
		for (let a = firstOf[one]!; a < firstOf[one + 1]!; a++) {
			if (!overlap(boxes, a, runBoxes, other)) continue;
			for (let b = firstOf[other]!; b < firstOf[other + 1]!; b++) if (overlap(boxes, a, boxes, b)) this.meet(a, b);
		}
	}

	/** Finds where a segment meets another, after it, whose box its own box meets. */
	private meet(a: number, b: number): void {
		const { curves, curveOf, segmentOf, tolerance } = this;
		const ca = (this.ca = curveOf[a]!);
		const i = (this.i = segmentOf[a]!);
		const cb = (this.cb = curveOf[b]!);
		const j = (this.j = segmentOf[b]!);
		const first = curves[ca]!;
		this.joints = undefined;
		this.countPairs(ca, cb, 1);
		if (ca === cb) {
			const joints = jointsBetween(first, i, j);
			this.joints = joints;
			const isAfter = joints.length === 1 && joints[0]![0] === 1;
			if (joints.length === 1 && goesOn(first, isAfter ? i : j, isAfter ? j : i, tolerance)) return;
		}
		const before = stepsTaken();
		intersectSegments(first, i, curves[cb]!, j, tolerance, cross);
		this.countPairs(ca, cb, pairsInStep * (stepsTaken() - before));
	}

	/** Counts pairs of segments of two curves. */
	private countPairs(ca: number, cb: number, pairs: number): void {
		this.pairs += pairs;
		this.met[ca]! += pairs;
		this.met[cb]! += pairs;
	}

	/** Whether a run is found from the one that is looked at: it comes after it, or is not looked at itself. */
	isToFind(other: number): boolean {
		return other > this.run || (other < this.run && this.numbers[this.curveOf[this.firstOf[other]!]!]! >= 0);
	}

	/** The segments that are looked at cross. */
	cross(u: number, v: number): void {
		// Neighbouring segments of a curve always meet at their common joint; that is no crossing.
		if (this.joints?.some(([p, q]) => Math.abs(u - p) < 1e-9 && Math.abs(v - q) < 1e-9)) return;
		this.crossings++;
		this.cut(this.ca, this.i + u);
		this.cut(this.cb, this.j + v);
	}

	/** The one that is looked at crosses itself. */
	crossItself(u: number, v: number): void {
		this.cut(this.ca, this.i + u);
		this.cut(this.ca, this.i + v);
	}

	/** Cuts the curves that a place lies on; whether there are any. */
	cutAt(p: Point): boolean {
		if (this.total === 0) return false;
		let isOn = false;
		for (const run of this.indexed().search(p.x, p.y, p.x, p.y))
			for (let b = this.firstOf[run]!; b < this.firstOf[run + 1]!; b++) {
				const c = this.curveOf[b]!;
				const j = this.segmentOf[b]!;
				const v = nearestOn(this.curves[c]!, j, p);
				const q = segmentPoint(this.curves[c]!, j, v);
				if (hypot(q.x - p.x, q.y - p.y) > this.tolerance) continue;
				this.cut(c, j + v);
				isOn = true;
			}
		return isOn;
	}

	private cut(curve: number, t: number): void {
		this.cutCurves.push(curve);
		this.cutPlaces.push(t);
	}
}

keepHiddenClass(new Cutting(boxesOf([]), 1, new Set(), 1));

/**
 * The boxes around curves that are new or gone, widened by the tolerance; undefined where there are too many of
 * them, or the others stand in another order.
 *
 * @param numbers of the curves in the list of before, −1 for those that are new
 */
function editedBoxes(now: CurveBoxes, numbers: Int32Array, before: CurveBoxes, tolerance: number): Float64Array | undefined {
	const edited: number[] = [];
	let count = 0;
	const put = ({ boxes, first }: CurveBoxes, c: number): void => {
		count++;
		const box = boxAround(boxes, first[c], first[c + 1]);
		if (box) edited.push(box[0] - tolerance, box[1] - tolerance, box[2] + tolerance, box[3] + tolerance);
	};
	let next = 0;
	for (let c = 0; c < numbers.length && count <= mostEdited; c++) {
		const q = numbers[c]!;
		if (q < 0) put(now, c);
		else if (q < next) return undefined;
		else {
			while (next < q && count <= mostEdited) put(before, next++);
			next = q + 1;
		}
	}
	while (next < before.curves.length && count <= mostEdited) put(before, next++);
	return count > mostEdited ? undefined : Float64Array.from(edited);
}

const samePoints = (a: readonly Point[], b: readonly Point[]): boolean =>
	a.length === b.length && a.every((p, k) => p.x === b[k]!.x && p.y === b[k]!.y);

/** Whether a box of a list and one of another have a point in common. */
const overlap = (boxes: Float64Array, a: number, others: Float64Array, b: number): boolean =>
	boxes[4 * a]! <= others[4 * b + 2]! &&
	boxes[4 * a + 2]! >= others[4 * b]! &&
	boxes[4 * a + 1]! <= others[4 * b + 3]! &&
	boxes[4 * a + 3]! >= others[4 * b + 1]!;

/** What the functions that are handed out speak to: they are the same for all, so that code compiled for them lasts. */
let current: Cutting;
/** Goes on from one of the runs for a while; answers where to go on after it. */
function meetSome(cutting: Cutting, order: Int32Array, from: number): number {
	current = cutting;
	const most = cutting.visited + chunkSize;
	let n = from;
	while (n < order.length && cutting.visited < most) cutting.meetOthers(order[n++]!);
	return n;
}

const isToFind = (run: number): boolean => current.isToFind(run);
const cross = (u: number, v: number): void => current.cross(u, v);
const crossItself = (u: number, v: number): void => current.crossItself(u, v);

/** Sorts cuts by their curves, those of a curve in the order in which they were found. */
function byCurve(count: number, curves: readonly number[], places: readonly number[]): Places {
	const first = new Uint32Array(count + 1);
	for (const c of curves) first[c + 1]!++;
	for (let c = 0; c < count; c++) first[c + 1]! += first[c]!;
	const t = new Float64Array(places.length);
	const filled = first.slice(0, count);
	for (let k = 0; k < places.length; k++) t[filled[curves[k]!]!++] = places[k]!;
	return { first, t };
}

/**
 * Whether a segment goes on from another so that they can meet at their joint alone: all legs of both, of lines and cubics,
 * run within 60° of the direction at the joint, so that the one lies behind it and the other ahead.
 */
function goesOn({ kinds, data }: Curve, before: number, after: number, tolerance: number): boolean {
	const isBent = (segment: number) => kinds[segment] === CUBIC;
	if ((kinds[before] !== LINE && !isBent(before)) || (kinds[after] !== LINE && !isBent(after))) return false;
	const [o, n] = [before * STRIDE, after * STRIDE];
	// The leg before the joint, and the one after it.
	const fromLast = isBent(before) ? o + 6 : o;
	const toFirst = isBent(after) ? n + 4 : n + 2;
	const ax = data[o + 2]! - data[fromLast]!;
	const ay = data[o + 3]! - data[fromLast + 1]!;
	const bx = data[toFirst]! - data[n]!;
	const by = data[toFirst + 1]! - data[n + 1]!;
	const a = Math.sqrt(ax * ax + ay * ay);
	const b = Math.sqrt(bx * bx + by * by);
	// What is hardly longer than the resolution is left to the closer search.
	if (!(a > 16 * tolerance && b > 16 * tolerance)) return false;
	const dx = ax / a + bx / b;
	const dy = ay / a + by / b;
	const half = 0.5 * Math.sqrt(dx * dx + dy * dy);
	return areAhead(data, o, isBent(before), dx, dy, half) && areAhead(data, n, isBent(after), dx, dy, half);
}

/** Whether all legs of a segment run ahead. */
const areAhead = (data: Float64Array, at: number, isBent: boolean, dx: number, dy: number, half: number): boolean =>
	isBent
		? isAhead(data, at, at + 4, dx, dy, half) &&
			isAhead(data, at + 4, at + 6, dx, dy, half) &&
			isAhead(data, at + 6, at + 2, dx, dy, half)
		: isAhead(data, at, at + 2, dx, dy, half);

/** Whether the leg from one point of the data to another runs ahead. */
function isAhead(data: Float64Array, from: number, to: number, dx: number, dy: number, half: number): boolean {
	const lx = data[to]! - data[from]!;
	const ly = data[to + 1]! - data[from + 1]!;
	return lx * dx + ly * dy >= half * Math.sqrt(lx * lx + ly * ly);
}

/** The joints that two segments of one curve share, as local parameter pairs. */
function jointsBetween(curve: Curve, i: number, j: number): [number, number][] {
	const count = segmentCount(curve);
	const joints: [number, number][] = [];
	if (j === i + 1) joints.push([1, 0]);
	if (curve.closed && i === 0 && j === count - 1) joints.push([0, 1]);
	return joints;
}

/**
 * The sorted parameters between which the pieces of each curve lie: its cuts, those nearer than the tolerance taken as one, and
 * its ends. A closed curve has its first one again at its end, past the start; curves that are left out have none.
 */
export function* stopsOf(curves: readonly Curve[], cuts: Places, tangled: ReadonlySet<number>, tolerance: number): Work<Places> {
	const first = new Uint32Array(curves.length + 1);
	const t = new Float64Array(cuts.t.length + 2 * curves.length);
	let count = 0;
	for (const [c, curve] of curves.entries()) {
		if ((c & 0xfff) === 0xfff) yield c / curves.length;
		if (!tangled.has(c)) count = putStops(curve, cuts.t, cuts.first[c]!, cuts.first[c + 1]!, tolerance, t, count);
		first[c + 1] = count;
	}
	return { first, t: t.slice(0, count) };
}

/**
 * Puts the stops of a curve into a list from a place on; its cuts are sorted in theirs.
 *
 * @returns the place after the last
 */
function putStops(
	curve: Curve,
	cuts: Float64Array,
	from: number,
	to: number,
	tolerance: number,
	stops: Float64Array,
	start: number
): number {
	const segments = segmentCount(curve);
	const whole = curveLength(curve);
	// A cut within the tolerance of a joint is at the joint, so that a piece never starts on a sliver of the segment before.
	for (let k = from; k < to; k++) {
		const joint = Math.round(cuts[k]!);
		if (Math.abs(lengthAt(curve, cuts[k]!) - curve.lengths[joint]!) <= 4 * tolerance) cuts[k] = joint;
	}
	sort(cuts, from, to);
	let end = start;
	if (!curve.closed) stops[end++] = 0;
	const firstCut = end;
	let last = -Infinity;
	for (let k = from; k < to; k++) {
		const along = lengthAt(curve, cuts[k]!);
		if (along - last <= 4 * tolerance) continue;
		if (!curve.closed && (along <= 4 * tolerance || whole - along <= 4 * tolerance)) continue;
		stops[end++] = cuts[k]!;
		last = along;
	}
	if (!curve.closed) {
		stops[end++] = segments;
		return end;
	}
	if (end - firstCut > 1 && lengthAt(curve, stops[firstCut]!) + whole - last <= 4 * tolerance) {
		// The start of a closed curve is a joint, and stays one.
		if (stops[end - 1] === segments) stops[firstCut] = 0;
		end--;
	}
	if (end === firstCut || (end - firstCut === 1 && stops[firstCut] === segments)) {
		stops[firstCut] = 0;
		end = firstCut + 1;
	}
	stops[end++] = stops[firstCut]! + segments;
	return end;
}

/** Sorts a stretch of a list; few numbers by insertion. */
function sort(list: Float64Array, from: number, to: number): void {
	if (to - from > 32) {
		list.subarray(from, to).sort();
		return;
	}
	for (let k = from + 1; k < to; k++) {
		const value = list[k]!;
		let n = k;
		for (; n > from && list[n - 1]! > value; n--) list[n] = list[n - 1]!;
		list[n] = value;
	}
}
