import { formatNumber } from '../../core/recipe/edits.ts';
import type { Shown } from '../desk/snapshot.ts';
import { ARC, arcOf, curveLength, lengthAt, pointAt, segmentCount, type Curve } from '../../core/geometry/curve.ts';
import { nearestOnCurve } from '../../core/geometry/meet.ts';
import type { Place, Snap } from './tools.ts';
import { niceStep, screenX, screenY, worldX, worldY, type View } from './view.ts';

/** How near a point draws the cursor, in pixels. */
const reach = 9;
/** Above this many curves only points and ends are looked at, so that the cursor never lags. */
const curveLimit = 3000;

export interface SnapWish {
	/** False while Ctrl is held: no snapping to anything but named points. */
	snapping: boolean;
	/** The place before, for tangents, perpendiculars and alignment. */
	from?: Place | undefined;
	/** The curve under the cursor, as an index. */
	curve?: number | undefined;
}

/**
 * The place at a pixel. In this order: a named point, an end or crossing, the middle of a curve or its
 * centre, a tangent or perpendicular from the place before, a place on the curve under the cursor,
 * alignment with the place before, the grid.
 */
export function snapAt(view: View, px: number, py: number, result: Shown | undefined, wish: SnapWish): Place {
	const near = (x: number, y: number) => Math.hypot(screenX(view, x) - px, screenY(view, y) - py) <= reach;
	const step = niceStep(view.scale, wish.snapping ? 14 : 1);
	const onStep = (value: number) => Number((Math.round(value / step) * step).toPrecision(12));
	const [wx, wy] = [worldX(view, px), worldY(view, py)];
	const point = result?.model.points.find((p) => near(p.x, p.y));
	if (point) return { x: point.x, y: point.y, snap: 'point', source: point.name, point: point.name };
	if (!wish.snapping || !result) return literal(onStep(wx), onStep(wy), wish.snapping ? 'grid' : 'free');
	const { arrangement, model } = result;
	const { x, y, degree } = arrangement;
	for (let j = 0; j < x.length; j++) {
		if (!near(x[j]!, y[j]!)) continue;
		const end = endSource(result, x[j]!, y[j]!);
		const place = literal(x[j]!, y[j]!, !end && degree[j]! > 2 ? 'crossing' : 'end');
		const on = wish.curve === undefined ? undefined : whereOn(model.curves[wish.curve]!, place);
		return { ...place, ...(end ? { source: end } : {}), ...(on ? { on } : {}) };
	}
	if (model.curves.length > curveLimit) return literal(onStep(wx), onStep(wy), 'grid');
	for (const curve of model.curves) {
		const drawn = writable(curve);
		const middle = pointAt(curve, halfway(curve));
		if (near(middle.x, middle.y) && !curve.closed)
			return named(middle.x, middle.y, 'middle', drawn && `middle(${curve.name})`, { curve: curve.name, share: 0.5 });
		if (curve.kinds[0] !== ARC) continue;
		const { centre } = arcOf(curve, 0);
		if (near(centre.x, centre.y)) return named(centre.x, centre.y, 'centre', drawn && `centre(${curve.name})`);
	}
	const { from } = wish;
	const under = wish.curve === undefined ? undefined : model.curves[wish.curve];
	if (from && under) {
		for (const q of tangentPoints(under, from))
			if (near(q.x, q.y)) return { ...literal(q.x, q.y, 'tangent'), on: whereOn(under, q) };
		const foot = pointAt(under, nearestOnCurve(under, from).t);
		if (near(foot.x, foot.y))
			return named(
				foot.x,
				foot.y,
				'perpendicular',
				writable(under) && from.point !== undefined && `nearest(${under.name}, ${from.source})`,
				whereOn(under, foot)
			);
	}
	if (under) {
		const { t } = nearestOnCurve(under, { x: wx, y: wy });
		const q = pointAt(under, t);
		if (near(q.x, q.y)) {
			const on = whereOn(under, q);
			const share = Number(on.share.toPrecision(4));
			const source = writable(under) && `along(${under.name}, ${formatNumber(share)})`;
			return { ...named(q.x, q.y, 'on curve', source), on: { curve: under.name, share } };
		}
	}
	if (from) {
		const [ax, ay] = [Math.abs(screenX(view, from.x) - px) <= 5, Math.abs(screenY(view, from.y) - py) <= 5];
		if (ax !== ay) return literal(ax ? from.x : onStep(wx), ay ? from.y : onStep(wy), 'aligned');
	}
	return literal(onStep(wx), onStep(wy), 'grid');
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
