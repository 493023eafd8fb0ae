import { hypot } from '../numeric/elementary.ts';
import type { Mesh, MeshElements } from '../mesh/mesh.ts';
import type { Work } from '../numeric/work.ts';
import { chunk, ElementShapes } from './element-shapes.ts';
import type { Measure } from './measure.ts';
import { aspectRatio } from './measures/aspect-ratio.ts';
import { maximumAngle } from './measures/maximum-angle.ts';
import { minimumAngle } from './measures/minimum-angle.ts';
import { scaledJacobian } from './measures/scaled-jacobian.ts';
import { skewness } from './measures/skewness.ts';

/** Every measure, in the order in which they are shown. */
export const measures: readonly Measure[] = [scaledJacobian, minimumAngle, maximumAngle, aspectRatio, skewness];

/** One measure over a whole mesh. */
export interface MeasureResult {
	/** One value per element: the triangles, then the quadrilaterals. */
	values: Float32Array;
	min: number;
	mean: number;
	max: number;
	/** Element with the worst value, −1 in an empty mesh. */
	worst: number;
}

/** The elements of one region: which of the triangles and of the quadrilaterals of the mesh they are. */
export interface MeshPart {
	triangles: readonly [from: number, to: number];
	quads: readonly [from: number, to: number];
	/** What the part was made from: for the same objects its elements have the same shapes. */
	madeFrom: readonly unknown[];
}

/** One measure of the elements of a part, its triangles first. */
interface PartResult {
	values: Float32Array;
	min: number;
	max: number;
	sum: number;
	/** The worst element, counted in `values`, and its value. */
	worst: number;
	worstValue: number;
}

/** What is remembered of a part, from one mesh to the next. */
export interface PartResults {
	madeFrom: readonly unknown[];
	results: Map<string, PartResult>;
}

/**
 * The measures of a mesh, taken when they are asked for, region by region; what an earlier mesh had taken of a region
 * that has not changed is not taken again.
 */
export class Quality {
	private readonly whole = new Map<string, MeasureResult>();

	constructor(
		private readonly mesh: MeshElements,
		private readonly parts: readonly MeshPart[],
		/** By part. */
		readonly remembered: readonly PartResults[]
	) {}

	/** One measure of every element, by its key. */
	of(key: string): MeasureResult {
		let cached = this.whole.get(key);
		if (!cached) {
			this.take(measures.filter((m) => m.key === key));
			cached = this.gather(measures.find((m) => m.key === key)!);
			this.whole.set(key, cached);
		}
		return cached;
	}

	/** All measures, by key. */
	all(): Record<string, MeasureResult> {
		this.take(measures);
		return Object.fromEntries(measures.map(({ key }) => [key, this.of(key)]));
	}

	/** Takes measures of the parts that do not have them. */
	private take(wanted: readonly Measure[]): void {
		this.parts.forEach((part, k) => {
			const { results } = this.remembered[k]!;
			const missing = wanted.filter((m) => !results.has(m.key));
			if (missing.length > 0) takeMeasures(this.mesh, part, missing).forEach((r, i) => results.set(missing[i]!.key, r));
		});
	}

	private gather(measure: Measure): MeasureResult {
		const { mesh, parts } = this;
		const triangles = mesh.triangleRegion.length;
		// Of a part that is the whole the values are its own.
		const first = this.remembered[0]?.results.get(measure.key)?.values;
		const alone = first?.length === triangles + mesh.quadRegion.length ? first : undefined;
		const values = alone ?? new Float32Array(triangles + mesh.quadRegion.length);
		let [min, max, sum, worst, worstValue] = [Infinity, -Infinity, 0, -1, 0];
		parts.forEach((part, k) => {
			const remembered = this.remembered[k]!.results.get(measure.key)!;
			const count = part.triangles[1] - part.triangles[0];
			const quadsFrom = triangles + part.quads[0];
			if (!alone) {
				values.set(remembered.values.subarray(0, count), part.triangles[0]);
				values.set(remembered.values.subarray(count), quadsFrom);
			}
			if (remembered.worst < 0) return;
			min = Math.min(min, remembered.min);
			max = Math.max(max, remembered.max);
			sum += remembered.sum;
			if (worst >= 0 && !isWorse(measure, remembered.worstValue, worstValue)) return;
			worst = remembered.worst < count ? part.triangles[0] + remembered.worst : quadsFrom + remembered.worst - count;
			worstValue = remembered.worstValue;
		});
		if (worst < 0) return { values, min: 0, mean: 0, max: 0, worst };
		return { values, min, mean: sum / values.length, max, worst };
	}
}

/** The measures of elements that stand alone, whatever their regions. */
export function qualityOf(mesh: MeshElements): Quality {
	const whole = { triangles: [0, mesh.triangleRegion.length], quads: [0, mesh.quadRegion.length], madeFrom: [] } as const;
	return new Quality(mesh, [whole], [{ madeFrom: [], results: new Map() }]);
}

const isWorse = (measure: Measure, a: number, b: number) => (measure.best === 'high' ? a < b : a > b);

/** One for all that is looked at in one go. */
const atHand = (): ElementShapes => (shapes ??= new ElementShapes());
let shapes: ElementShapes | undefined;

function takeMeasures(mesh: MeshElements, { triangles, quads }: MeshPart, wanted: readonly Measure[]): PartResult[] {
	const total = triangles[1] - triangles[0] + quads[1] - quads[0];
	const results = wanted.map((): PartResult => ({
		values: new Float32Array(total),
		min: Infinity,
		max: -Infinity,
		sum: 0,
		worst: -1,
		worstValue: 0
	}));
	const elements = atHand();
	const values = new Float64Array(chunk);
	let done = 0;
	const takeAll = (nodes: Uint32Array, n: number, [from, to]: readonly [number, number]) => {
		for (let first = from; first < to; first += chunk) {
			const count = Math.min(chunk, to - first);
			elements.take(mesh.x, mesh.y, nodes, n, first, count);
			wanted.forEach((measure, k) => {
				measure.take(elements, values);
				gatherValues(results[k]!, values, count, done, measure.best === 'high');
			});
			done += count;
		}
	};
	takeAll(mesh.triangles, 3, triangles);
	takeAll(mesh.quads, 4, quads);
	return results;
}

/** Adds values to a result, from place `done` on. */
function gatherValues(result: PartResult, values: Float64Array, count: number, done: number, isHighBest: boolean): void {
	const all = result.values;
	let { min, max, sum } = result;
	let low = -1;
	let high = -1;
	for (let i = 0; i < count; i++) {
		const value = values[i]!;
		all[done + i] = value;
		sum += value;
		if (value < min) {
			min = value;
			low = i;
		}
		if (value > max) {
			max = value;
			high = i;
		}
	}
	const worst = isHighBest ? low : high;
	if (worst >= 0) {
		result.worst = done + worst;
		result.worstValue = isHighBest ? min : max;
	} else if (result.worst < 0 && count > 0) {
		// All values are NaN, which has no order.
		result.worst = done;
		result.worstValue = values[0]!;
	}
	result.min = min;
	result.max = max;
	result.sum = sum;
}

/** The square of the sine below which a corner is taken for 0° or 180°: that of 2e-8 radians. */
const flat = 4e-16;

/** Elements visited between two yields. */
const chunkSize = 50_000;

/** Elements that are folded, inverted or without area: how many, and the worst of them, as in {@link MeasureResult.values}. */
export function* foldedElements(mesh: Mesh, { triangles, quads }: MeshPart): Work<{ count: number; worst: number }> {
	const all = triangles[1] - triangles[0] + quads[1] - quads[0];
	const found = { count: 0, worst: -1, value: Infinity, values: new Float64Array(1) };
	let done = 0;
	for (const [nodes, n, [from, to], offset] of [
		[mesh.triangles, 3, triangles, 0],
		[mesh.quads, 4, quads, mesh.triangleRegion.length]
	] as const)
		for (let i = from; i < to; i += chunkSize) {
			const end = Math.min(to, i + chunkSize);
			lookForFolded(mesh, nodes, n, i, end, offset, found);
			yield (done += end - i) / all;
		}
	return { count: found.count, worst: found.worst };
}

/** Elements that were found folded: how many, the worst, and its scaled Jacobian; and what that is worked out with. */
interface Folded {
	count: number;
	worst: number;
	value: number;
	values: Float64Array;
}

/** Looks for them in a stretch of a list of elements with n nodes each. */
function lookForFolded(
	{ x, y }: Mesh,
	nodes: Uint32Array,
	n: number,
	from: number,
	to: number,
	offset: number,
	found: Folded
): void {
	for (let i = from; i < to; i++) {
		if (isSound(x, y, nodes, n, i)) continue;
		found.count++;
		const { values } = found;
		const element = atHand();
		element.take(x, y, nodes, n, i, 1);
		scaledJacobian.take(element, values);
		if (values[0]! >= found.value) continue;
		found.value = values[0]!;
		found.worst = offset + i;
	}
}

/** Whether all corners of an element turn to the left. A corner of 0° or 180°, but for rounding, spans nothing. */
function isSound(x: Float64Array, y: Float64Array, nodes: Uint32Array, n: number, element: number): boolean {
	const last = n * element + n - 1;
	let bx = x[nodes[last]!]!;
	let by = y[nodes[last]!]!;
	let ux = bx - x[nodes[last - 1]!]!;
	let uy = by - y[nodes[last - 1]!]!;
	for (let k = n * element; k <= last; k++) {
		const cx = x[nodes[k]!]!;
		const cy = y[nodes[k]!]!;
		const vx = cx - bx;
		const vy = cy - by;
		const cross = ux * vy - uy * vx;
		if (!(cross > 0 && cross * cross > flat * (ux * ux + uy * uy) * (vx * vx + vy * vy))) return false;
		bx = cx;
		by = cy;
		ux = vx;
		uy = vy;
	}
	return true;
}

/** How many values fall in each of `bins` equal bins of the measure's range; those outside count in the outer bins. */
export function histogram(values: Float32Array, measure: Measure, bins: number): Uint32Array {
	const counts = new Uint32Array(bins);
	const scale = bins / (measure.high - measure.low);
	for (let i = 0; i < values.length; i++) {
		const bin = Math.floor((values[i]! - measure.low) * scale);
		counts[bin < 0 ? 0 : bin >= bins ? bins - 1 : bin]!++;
	}
	return counts;
}

/** The middle of an element, numbered as in {@link MeasureResult.values}. */
export function elementCentre(mesh: MeshElements, element: number): { x: number; y: number } {
	const nodes = nodesOf(mesh, element);
	let [x, y] = [0, 0];
	for (const i of nodes) {
		x += mesh.x[i]!;
		y += mesh.y[i]!;
	}
	return { x: x / nodes.length, y: y / nodes.length };
}

/** How far the nodes of an element reach from one another at most. */
export function elementReach(mesh: MeshElements, element: number): number {
	const nodes = nodesOf(mesh, element);
	let reach = 0;
	for (const i of nodes) for (const j of nodes) reach = Math.max(reach, hypot(mesh.x[i]! - mesh.x[j]!, mesh.y[i]! - mesh.y[j]!));
	return reach;
}

/** The nodes of an element; triangles are counted first. */
function nodesOf(mesh: MeshElements, element: number): Uint32Array {
	const triangles = mesh.triangleRegion.length;
	return element < triangles
		? mesh.triangles.subarray(3 * element, 3 * element + 3)
		: mesh.quads.subarray(4 * (element - triangles), 4 * (element - triangles) + 4);
}
