import { formatNumber, tidyNumber } from '../../core/recipe/language/literals.ts';
import type { Shown } from '../desk/snapshot.ts';
import { ARC, arcOf, curveLength, lengthAt, pointAt, segmentCount, type Curve } from '../../core/geometry/curve.ts';
import { nearestOnCurve } from '../../core/geometry/meet.ts';
import type { Place, Snap } from './tools/tool.ts';
import { niceStep, screenX, screenY, worldX, worldY, type View } from './view.ts';

/** How near a point draws the cursor, in pixels. */
const reach = 9;
/** Above this many curves only points and ends are looked at, so that the cursor never lags. */
const curveLimit = 3000;

export interface SnapOptions {
	/** False while Ctrl is held: no snapping to anything but named points. */
	snapping: boolean;
	/** The place before, for tangents, perpendiculars and alignment. */
	from?: Place | undefined;
	/** The curve under the cursor, as an index. */
	curve?: number | undefined;
}

/** Kinds of snap in the order in which they win where several are equally near. */
const ranks: readonly Snap[] = ['point', 'end', 'crossing', 'middle', 'centre', 'tangent', 'perpendicular'];
/** Candidates whose distances differ by less than this, in pixels, are equally near. */
const equallyNear = 1e-3;

/** The nearest of the candidates that are offered, a kind of higher rank where two are equally near. */
class Nearest {
	private best: { distance: number; rank: number; place: () => Place } | undefined;

	constructor(
		private readonly view: View,
		private readonly px: number,
		private readonly py: number
	) {}

	offer(x: number, y: number, snap: Snap, place: () => Place): void {
		const distance = Math.hypot(screenX(this.view, x) - this.px, screenY(this.view, y) - this.py);
		if (distance > reach) return;
		const rank = ranks.indexOf(snap);
		const { best } = this;
		const isNearer = !best || distance < best.distance - equallyNear;
		if (isNearer || (distance < best.distance + equallyNear && rank < best.rank)) this.best = { distance, rank, place };
	}

	get place(): Place | undefined {
		return this.best?.place();
	}
}

/**
 * The place at a pixel: the nearest of the named points, ends, crossings, middles and centres within reach, and of the
 * tangents and perpendiculars from the place before; without one, a place on the curve under the cursor, then
 * alignment with the place before, then the grid.
 */
export function snapAt(view: View, px: number, py: number, result: Shown | undefined, wish: SnapOptions): Place {
	const place = placeAt(view, px, py, result, wish);
	const [, x, y] = /^\((\S+), (\S+)\)$/.exec(place.source) ?? [];
	if (x === undefined || y === undefined) return place;
	// What is nothing beside all that is in sight is nothing: no rounding is written into a recipe.
	const size = Math.max(Math.abs(place.x), Math.abs(place.y), view.width / view.scale);
	const [u, v] = [tidyNumber(Number(x), size), tidyNumber(Number(y), size)];
	return { ...place, source: `(${formatNumber(u)}, ${formatNumber(v)})` };
}

function placeAt(view: View, px: number, py: number, result: Shown | undefined, wish: SnapOptions): Place {
	const step = niceStep(view.scale, wish.snapping ? 14 : 1);
	const onStep = (value: number) => Number((Math.round(value / step) * step).toPrecision(12));
	const [wx, wy] = [worldX(view, px), worldY(view, py)];
	const nearest = new Nearest(view, px, py);
	for (const { name, x, y } of result?.model.points ?? [])
		nearest.offer(x, y, 'point', () => ({ x, y, snap: 'point', source: name, point: name }));
	if (!wish.snapping || !result) return nearest.place ?? literal(onStep(wx), onStep(wy), wish.snapping ? 'grid' : 'free');
	const { curves } = result.model;
	const under = wish.curve === undefined ? undefined : curves[wish.curve];
	offerJunctions(nearest, result, under);
	if (curves.length <= curveLimit) {
		offerMiddles(nearest, curves);
		if (wish.from && under) offerFeet(nearest, under, wish.from);
	}
	if (nearest.place) return nearest.place;
	if (under && curves.length <= curveLimit) {
		const q = pointAt(under, nearestOnCurve(under, { x: wx, y: wy }).t);
		if (Math.hypot(screenX(view, q.x) - px, screenY(view, q.y) - py) <= reach) {
			const on = whereOn(under, q);
			const share = Number(on.share.toPrecision(4));
			const source = writable(under) && `along(${under.name}, ${formatNumber(share)})`;
			return { ...named(q.x, q.y, 'on curve', source), on: { curve: under.name, share } };
		}
	}
	const { from } = wish;
	if (from) {
		const [ax, ay] = [Math.abs(screenX(view, from.x) - px) <= 5, Math.abs(screenY(view, from.y) - py) <= 5];
		if (ax !== ay) return literal(ax ? from.x : onStep(wx), ay ? from.y : onStep(wy), 'aligned');
	}
	return literal(onStep(wx), onStep(wy), 'grid');
}

/** Ends and crossings of curves. */
function offerJunctions(nearest: Nearest, result: Shown, under: Curve | undefined): void {
	const { x, y, degree } = result.arrangement;
	for (let j = 0; j < x.length; j++)
		nearest.offer(x[j]!, y[j]!, degree[j]! > 2 ? 'crossing' : 'end', () => {
			const end = endSource(result, x[j]!, y[j]!);
			const place = literal(x[j]!, y[j]!, !end && degree[j]! > 2 ? 'crossing' : 'end');
			return { ...place, ...(end ? { source: end } : {}), ...(under ? { on: whereOn(under, place) } : {}) };
		});
}

/** Middles of curves, and centres of arcs. */
function offerMiddles(nearest: Nearest, curves: readonly Curve[]): void {
	for (const curve of curves) {
		const drawn = writable(curve);
		if (!curve.closed) {
			const { x, y } = pointAt(curve, halfway(curve));
			const on = { curve: curve.name, share: 0.5 };
			nearest.offer(x, y, 'middle', () => named(x, y, 'middle', drawn && `middle(${curve.name})`, on));
		}
		if (curve.kinds[0] !== ARC) continue;
		const { x, y } = arcOf(curve, 0).centre;
		nearest.offer(x, y, 'centre', () => named(x, y, 'centre', drawn && `centre(${curve.name})`));
	}
}

/** Where lines from a place touch a curve, or meet it squarely. */
function offerFeet(nearest: Nearest, under: Curve, from: Place): void {
	for (const q of tangentPoints(under, from))
		nearest.offer(q.x, q.y, 'tangent', () => ({ ...literal(q.x, q.y, 'tangent'), on: whereOn(under, q) }));
	const foot = pointAt(under, nearestOnCurve(under, from).t);
	const source = writable(under) && from.point !== undefined && `nearest(${under.name}, ${from.source})`;
	nearest.offer(foot.x, foot.y, 'perpendicular', () => named(foot.x, foot.y, 'perpendicular', source, whereOn(under, foot)));
}

/** Whether a curve's name can stand in an expression as it is: one name, perhaps with a side. */
const writable = (curve: Curve) => /^[\p{L}_][\p{L}\p{N}_]*(\.[\p{L}_][\p{L}\p{N}_]*)?$/u.test(curve.name);

function halfway(curve: Curve): number {
	const half = curveLength(curve) / 2;
	if (segmentCount(curve) === 1) return curve.kinds[0]! <= ARC ? 0.5 : parameterNear(curve, half);
	return parameterNear(curve, half);
}

/** A parameter near a length along the curve; enough for a mark, and for a middle after one more step. */
function parameterNear(curve: Curve, length: number): number {
	let [low, high] = [0, segmentCount(curve)];
	for (let k = 0; k < 50; k++) {
		const middle = (low + high) / 2;
		if (lengthAt(curve, middle) < length) low = middle;
		else high = middle;
	}
	return (low + high) / 2;
}

function whereOn(curve: Curve, p: { x: number; y: number }): { curve: string; share: number } {
	return { curve: curve.name, share: lengthAt(curve, nearestOnCurve(curve, p).t) / curveLength(curve) };
}

/** `start(line1)` or `end(line1)` for an end that no named point gives. */
function endSource({ model }: Shown, x: number, y: number): string | undefined {
	if (model.curves.length > curveLimit) return undefined;
	for (const curve of model.curves) {
		if (curve.closed || !writable(curve)) continue;
		const [a, b] = [pointAt(curve, 0), pointAt(curve, segmentCount(curve))];
		if (a.x === x && a.y === y) return `start(${curve.name})`;
		if (b.x === x && b.y === y) return `end(${curve.name})`;
	}
	return undefined;
}

/** Where lines from a place touch the arcs of a curve. */
function tangentPoints(curve: Curve, from: Place): { x: number; y: number }[] {
	const found: { x: number; y: number }[] = [];
	for (let i = 0; i < segmentCount(curve); i++) {
		if (curve.kinds[i] !== ARC) continue;
		const { centre, radius: r } = arcOf(curve, i);
		const [cx, cy] = [centre.x, centre.y];
		const [dx, dy] = [cx - from.x, cy - from.y];
		const away = Math.hypot(dx, dy);
		if (away <= r) continue;
		const angle = Math.atan2(-dy, -dx);
		const half = Math.acos(r / away);
		for (const a of [angle - half, angle + half]) found.push({ x: cx + r * Math.cos(a), y: cy + r * Math.sin(a) });
	}
	return found;
}

function literal(x: number, y: number, snap: Snap): Place {
	const [u, v] = [Number(x.toPrecision(12)), Number(y.toPrecision(12))];
	return { x, y, snap, source: `(${formatNumber(u)}, ${formatNumber(v)})` };
}

function named(x: number, y: number, snap: Snap, source: string | false | undefined, on?: Place['on']): Place {
	return { ...literal(x, y, snap), ...(source ? { source } : {}), ...(on ? { on } : {}) };
}

/** A typed place; that of a point where one stands there already, so that both are moved as one. A formula stays what it is. */
export function namedPlace(place: Place, points: readonly { name: string; x: number; y: number }[]): Place {
	if (/[a-z]/i.test(place.source)) return place;
	const point = points.find(({ x, y }) => x === place.x && y === place.y);
	return point ? { x: point.x, y: point.y, snap: 'point', source: point.name, point: point.name } : place;
}
