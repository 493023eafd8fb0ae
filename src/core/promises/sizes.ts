import { atan2, hypot } from '../numeric/elementary.ts';
import { pieceNames } from '../domain/references.ts';
import { insideOutline } from '../geometry/faces.ts';
import { isStraight } from '../geometry/parts.ts';
import { placeText } from '../text/sentences.ts';
import type { SizedPlace } from '../recipe/language/promise.ts';
import { type Measured, type PromiseMeasure, Worst } from './measure.ts';
import { distanceToLine, type MeshView } from './mesh-view.ts';

/** The mean of the sizes in a place is no larger than asked by these factors, of triangles and of quadrilaterals … */
const mostOfMean = { 3: 1.2, 4: 1.35 } as const;
/** … and the size that all but one in fifty keep to by this. */
const mostOfNearlyAll = 1.6;
/** The most elements that are measured in one place, spread evenly through the list. */
const mostLooked = 2_000;

/** How deep inside a place a point lies, in recipe units; negative outside. */
function depthIn(place: SizedPlace, value: number, view: MeshView): (x: number, y: number) => number {
	switch (place.kind) {
		case 'all':
		case 'region':
			return () => Infinity;
		case 'near': {
			const distance = view.distanceTo(view.piecesOf(place.references), place.within + value, value);
			return (x, y) => place.within - distance(x, y);
		}
		case 'line':
			return (x, y) => place.within - distanceToLine(place.points, x, y);
		case 'at':
			return (x, y) => -hypot(x - place.point.x, y - place.point.y);
		case 'circle':
			return (x, y) => place.radius - hypot(x - place.centre.x, y - place.centre.y);
		case 'polygon': {
			const { outline } = place;
			const closed = Float64Array.of(...outline, outline[0]!, outline[1]!);
			return (x, y) => (insideOutline(outline, x, y) ? 1 : -1) * distanceToLine(closed, x, y);
		}
	}
}

/** A point inside of a place that has one. */
function insideOf(place: SizedPlace): { x: number; y: number } | undefined {
	if (place.kind === 'circle') return place.centre;
	if (place.kind === 'line') return { x: place.points[0]!, y: place.points[1]! };
	if (place.kind !== 'polygon') return undefined;
	const { outline } = place;
	let [x, y] = [0, 0];
	for (let k = 0; k < outline.length; k += 2) {
		x += (2 * outline[k]!) / outline.length;
		y += (2 * outline[k + 1]!) / outline.length;
	}
	return { x, y };
}

/** The longest edge on a piece that lies in a place with both ends. */
function longestEdge(
	{ mesh: { edges, edgePiece, x, y } }: MeshView,
	depth: (x: number, y: number) => number,
	value: number
): { length: number; at: { x: number; y: number }; pieces: number[] } | undefined {
	let longest: ReturnType<typeof longestEdge>;
	for (let e = 0; e < edgePiece.length; e++) {
		const [a, b] = [edges[2 * e]!, edges[2 * e + 1]!];
		const length = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
		if (length <= mostOfNearlyAll * value || length <= (longest?.length ?? 0)) continue;
		const at = { x: (x[a]! + x[b]!) / 2, y: (y[a]! + y[b]!) / 2 };
		if ([a, b].every((n) => depth(x[n]!, y[n]!) >= -1e-6 * value)) longest = { length, at, pieces: [edgePiece[e]!] };
	}
	return longest;
}

/** The element in which a place lies; −1 for none. */
function elementAt(view: MeshView, p: { x: number; y: number }): number {
	const { x, y } = view.mesh;
	for (let e = 0; e < view.elementCount; e++) {
		const n = view.cornersAt(e);
		let isInside = true;
		for (let k = 0; k < n && isInside; k++) {
			const [a, b] = [view.cornerNode(e, k), view.cornerNode(e, (k + 1) % n)];
			isInside = (x[b]! - x[a]!) * (p.y - y[a]!) - (y[b]! - y[a]!) * (p.x - x[a]!) >= 0;
		}
		if (isInside) return e;
	}
	return -1;
}

function nameOf(place: SizedPlace): string {
	switch (place.kind) {
		case 'all':
			return 'size of the elements';
		case 'region':
			return `size of the elements of “${place.region}”`;
		case 'at':
			return `size of the elements at ${placeText(place.point)}`;
		default:
			return 'size of the elements in the zone';
	}
}

/** Near curves and points the elements within half a size are measured; in zones with an inside, those that lie half a size within. */
export const size: PromiseMeasure<'size'> = {
	unit: 'length',
	saidBy: ['too-many', 'unknown-curve', 'zone-coarse'],
	measure({ promise, ownSizes }, view) {
		const { place, value } = promise;
		const depth = depthIn(place, value, view);
		const isThin = (place.kind === 'near' || place.kind === 'line') && place.within < value;
		const least = place.kind === 'at' ? -value / 2 : isThin ? place.within - value / 2 - Math.max(0, place.within) : value / 2;
		const isMeant = (region: number) =>
			place.kind === 'region'
				? view.statementOf(region) === place.region
				: place.kind !== 'all' || !ownSizes.has(view.statementOf(region));
		const step = Math.max(1, Math.floor(view.elementCount / mostLooked));
		const found: { ratio: number; element: number }[] = [];
		let quads = 0;
		for (let e = 0; e < view.elementCount; e += step) {
			if (!isMeant(view.regionOf(e))) continue;
			const { x, y } = view.middleOf(e);
			if (depth(x, y) < least) continue;
			if (e >= view.triangleCount) quads++;
			found.push({ ratio: view.localSize(e) / value, element: e });
		}
		// No element lies inside of a place that is smaller than they are: the one at its middle is looked at.
		const inside = found.length > 0 ? undefined : insideOf(place);
		if (inside) {
			const element = elementAt(view, inside);
			if (element >= 0 && isMeant(view.regionOf(element))) found.push({ ratio: view.localSize(element) / value, element });
		}
		if (found.length === 0) return [];
		const longest = place.kind === 'all' || place.kind === 'region' ? undefined : longestEdge(view, depth, value);
		if (longest && longest.length > mostOfNearlyAll * value)
			return [
				{ what: 'edges in the zone', asked: value, got: longest.length, isKept: false, at: longest.at, pieces: longest.pieces }
			];
		found.sort((a, b) => a.ratio - b.ratio);
		const mean = found.reduce((sum, { ratio }) => sum + ratio, 0) / found.length;
		const nearlyAll = found[Math.min(found.length - 1, Math.floor(0.98 * found.length))]!;
		// At a point, or in a place smaller than elements are, they are about as large as asked.
		const isPoint = place.kind === 'at' || inside !== undefined;
		const most = isPoint ? mostOfNearlyAll : mostOfMean[2 * quads > found.length ? 4 : 3];
		const isKept = mean <= most && (isPoint || nearlyAll.ratio <= mostOfNearlyAll);
		const shown = nearlyAll.ratio > mostOfNearlyAll ? nearlyAll.ratio : mean;
		return [
			{ what: nameOf(place), asked: value, got: shown * value, isKept, at: view.middleOf(found.at(-1)!.element) }
		] satisfies Measured[];
	}
};

export const elementsATurn: PromiseMeasure<'elements a turn'> = {
	unit: 'count',
	saidBy: ['crowded'],
	measure({ promise }, view) {
		const names = pieceNames(view.arrangement);
		const { x, y } = view.mesh;
		const worst = new Worst();
		for (const [p, piece] of view.arrangement.pieces.entries()) {
			const along = view.nodesAlong(p);
			if (!along || isStraight(piece) || along.nodes.length < 3) continue;
			for (let k = 2; k < along.nodes.length; k++) {
				const [a, b, c] = [along.nodes[k - 2]!, along.nodes[k - 1]!, along.nodes[k]!];
				const [ux, uy, vx, vy] = [x[b]! - x[a]!, y[b]! - y[a]!, x[c]! - x[b]!, y[c]! - y[b]!];
				const turn = Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy));
				const got = (2 * Math.PI) / Math.max(turn, 1e-9);
				const isKept = got >= promise.value / mostOfNearlyAll;
				worst.add(promise.value, Math.min(got, promise.value), isKept, () => ({
					what: `elements a turn on “${names[p]!}”`,
					at: { x: x[b]!, y: y[b]! },
					pieces: [p]
				}));
			}
		}
		return worst.get();
	}
};
