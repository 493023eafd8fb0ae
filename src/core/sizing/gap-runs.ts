import Flatbush from 'flatbush';
import { lineCurve } from '../geometry/build.ts';
import type { CurvePart } from '../geometry/parts.ts';
import { boxOf, flatten } from '../geometry/parts.ts';
import { atan2, hypot } from '../numeric/elementary.ts';
import { keepHiddenClass } from '../numeric/hidden-class.ts';
import { pooled, pooledOf } from '../numeric/pooled.ts';

/** A piece that comes nearer to itself than this share of the way along it has a gap there; a circle does not. */
export const bowSlope = 0.6;

/** So many segments in a row are looked at together. */
const inRun = 16;
/** … or fewer, but at least so many, where their directions lie within more than this, in radians. */
const fewestInRun = 3;
const swingInRun = 0.85;

/**
 * A stretch whose directions lie within this angle, in radians, comes no nearer to itself than {@link bowSlope} of the way,
 * however often it turns to and fro: it goes ahead along the middle of them by the cosine of half of it, which is more.
 */
const straightEnough = 1.8;

/** More runs than this are looked for in a tree of their own. */
const fewRuns = 16;

/** Numbers of a swing: the turn into the run, and the least, the largest and the last of its directions, all against its first one. */
const perSwing = 4;

/** A piece made straight, and its runs: segments in a row that are looked at together. */
export class Runs {
	readonly count: number;
	/** x and y of the ends of all segments. */
	readonly line: Float64Array;
	/** Way along the piece to the start of each segment. */
	readonly wayTo: Float64Array;
	/** minX, minY, maxX, maxY of each run. */
	readonly boxes: Float64Array;
	/** The way to the end of each run. */
	readonly wayAfter: Float64Array;
	/** The number of the first segment after each run. */
	private readonly last: readonly number[];
	private readonly swing: Float64Array;
	private tree: Flatbush | undefined;
	/** The run in which the last place lay; mostly that of the next one, or the one before it. */
	private lastRun = 0;
	/** The least and the largest direction of the runs that {@link goesOnAfter} has taken together. */
	private low = NaN;
	private high = NaN;

	/** @param tolerance how far the segments may lie from the piece */
	constructor(
		piece: CurvePart & { length: number },
		private readonly isClosed: boolean,
		tolerance: number
	) {
		const line = flatten(piece, tolerance);
		const { at, swing } = endsOfRuns(line, isClosed);
		const count = at.length;
		const [wayTo, boxes, wayAfter] = [pooled(line.length / 2 - 1), pooled(4 * count), pooled(count)];
		const whole = lengthOfLine(line);
		const stretch = whole > 0 ? piece.length / whole : 1;
		let way = 0;
		for (let r = 0, s = 0; r < count; r++) {
			const [x0, y0, x1, y1] = boxOf(line, 2 * s, at[r]! + 2);
			boxes[4 * r] = x0;
			boxes[4 * r + 1] = y0;
			boxes[4 * r + 2] = x1;
			boxes[4 * r + 3] = y1;
			for (; s < at[r]! / 2; s++) {
				wayTo[s] = way;
				way += stretch * hypot(line[2 * s + 2]! - line[2 * s]!, line[2 * s + 3]! - line[2 * s + 1]!);
			}
			wayAfter[r] = way;
		}
		this.count = count;
		this.line = line;
		this.wayTo = wayTo;
		this.boxes = boxes;
		this.wayAfter = wayAfter;
		this.last = at.map((end) => end / 2);
		this.swing = pooledOf(swing);
	}

	/** The first segment of a run. */
	firstOf(run: number): number {
		return run === 0 ? 0 : this.last[run - 1]!;
	}

	/** The one after its last. */
	lastOf(run: number): number {
		return this.last[run]!;
	}

	/** Adds the runs whose boxes meet a box to a list. */
	search(x0: number, y0: number, x1: number, y1: number, found: number[]): void {
		const { boxes, count } = this;
		if (count > fewRuns) {
			this.tree ??= this.treeOfRuns();
			for (const run of this.tree.search(x0, y0, x1, y1)) found.push(run);
			return;
		}
		for (let r = 0; r < count; r++)
			if (boxes[4 * r]! <= x1 && boxes[4 * r + 1]! <= y1 && boxes[4 * r + 2]! >= x0 && boxes[4 * r + 3]! >= y0) found.push(r);
	}

	private treeOfRuns(): Flatbush {
		const { boxes, count } = this;
		const tree = new Flatbush(count);
		for (let r = 0; r < count; r++) tree.add(boxes[4 * r]!, boxes[4 * r + 1]!, boxes[4 * r + 2]!, boxes[4 * r + 3]!);
		tree.finish();
		return tree;
	}

	/** The run of a place so far along the piece. */
	runAt(along: number): number {
		const { wayAfter, lastRun } = this;
		let low = 0;
		let high = this.count - 1;
		for (let run = lastRun; run < lastRun + 2; run++)
			if (run > 0 && run < high && along > wayAfter[run - 1]! && along <= wayAfter[run]!) return (this.lastRun = run);
		while (low < high) {
			const middle = (low + high) >> 1;
			if (along > wayAfter[middle]!) low = middle + 1;
			else high = middle;
		}
		return (this.lastRun = low);
	}

	/** How near a run may come to a box. */
	distanceTo(run: number, x0: number, y0: number, x1: number, y1: number): number {
		const { boxes } = this;
		const dx = Math.max(boxes[4 * run]! - x1, 0, x0 - boxes[4 * run + 2]!);
		const dy = Math.max(boxes[4 * run + 1]! - y1, 0, y0 - boxes[4 * run + 3]!);
		return hypot(dx, dy);
	}

	/** How many runs after one go on from it straight enough to have no gap to it, within a distance; −1 where it has one to itself. */
	goesOnAfter(run: number, distance: number): number {
		const { swing, count } = this;
		if (!this.startAt(run)) return -1;
		const far = distance / bowSlope;
		let after = 0;
		let turned = swing[perSwing * run + 3]!;
		for (let r = run, way = 0; way <= far && after + 1 < count; after++) {
			r = r + 1 < count ? r + 1 : 0;
			if (r === 0 && !this.isClosed) break;
			turned += swing[perSwing * r]!;
			if (!this.takesIn(r, turned)) break;
			turned += swing[perSwing * r + 3]!;
			way += this.wayIn(r);
		}
		return after;
	}

	/** The same of runs before it. */
	goesOnBefore(run: number, distance: number): number {
		const { swing, count } = this;
		if (!this.startAt(run)) return -1;
		const far = distance / bowSlope;
		let before = 0;
		let turned = 0;
		for (let r = run, way = 0; way <= far && before + 1 < count; before++) {
			if (r === 0 && !this.isClosed) break;
			turned -= swing[perSwing * r]!;
			r = r > 0 ? r - 1 : count - 1;
			turned -= swing[perSwing * r + 3]!;
			if (!this.takesIn(r, turned)) break;
			way += this.wayIn(r);
		}
		return before;
	}

	/** Starts to take runs together, with one; whether that is straight enough by itself. */
	private startAt(run: number): boolean {
		this.low = this.swing[perSwing * run + 1]!;
		this.high = this.swing[perSwing * run + 2]!;
		return this.high - this.low <= straightEnough;
	}

	/** Takes a run in whose first direction is turned by so much, where it is straight enough with what was taken before. */
	private takesIn(run: number, turned: number): boolean {
		const low = Math.min(this.low, turned + this.swing[perSwing * run + 1]!);
		const high = Math.max(this.high, turned + this.swing[perSwing * run + 2]!);
		if (high - low > straightEnough) return false;
		this.low = low;
		this.high = high;
		return true;
	}

	/** The way from end to end of a run. */
	private wayIn(run: number): number {
		return this.wayAfter[run]! - this.wayTo[this.firstOf(run)]!;
	}
}

/** Where the runs of a polyline end, as indices of points, doubled; and the swing of each. */
function endsOfRuns(line: Float64Array, isClosed: boolean): { at: number[]; swing: number[] } {
	const at: number[] = [];
	const swing: number[] = [];
	const last = line.length - 2;
	let [into, low, high, turned] = [0, 0, 0, 0];
	for (let k = 0, first = 0; k < last; k += 2) {
		const turn = turnInto(line, k, isClosed);
		const count = (k - first) / 2;
		const isFull =
			count === inRun || (count >= fewestInRun && Math.max(high, turned + turn) - Math.min(low, turned + turn) > swingInRun);
		if (isFull) {
			at.push(k);
			swing.push(into, low, high, turned);
			first = k;
		}
		if (k === first) [into, low, high, turned] = [turn, 0, 0, 0];
		else {
			turned += turn;
			low = Math.min(low, turned);
			high = Math.max(high, turned);
		}
	}
	if (last > 0) {
		at.push(last);
		swing.push(into, low, high, turned);
	}
	return { at, swing };
}

/** By how much a polyline turns to the left as it comes to the segment that starts at k; at the start of a closed one from its last. */
function turnInto(line: Float64Array, k: number, isClosed: boolean): number {
	if (k === 0 && !isClosed) return 0;
	const before = k === 0 ? line.length - 4 : k - 2;
	const [ux, uy] = [line[before + 2]! - line[before]!, line[before + 3]! - line[before + 1]!];
	const [wx, wy] = [line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!];
	return atan2(ux * wy - uy * wx, ux * wx + uy * wy);
}

function lengthOfLine(line: Float64Array): number {
	let length = 0;
	for (let k = 0; k + 3 < line.length; k += 2) length += hypot(line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!);
	return length;
}

const line = lineCurve('', { x: 0.5, y: 0.5 }, { x: 0.7, y: 0.9 });
keepHiddenClass(new Runs({ curve: line, t0: 0, t1: 1, length: 0.5 }, false, 0.5));
