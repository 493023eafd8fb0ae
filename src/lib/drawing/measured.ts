import type { Arrangement } from '../../core/geometry/pieces.ts';
import type { Place } from './tools/tool.ts';

/** What has been measured, in words for the panel. */
export interface Measured {
	distance: number;
	angle: number;
	way: number;
	/** The angle between the last two steps, in degrees. */
	corner?: number;
	area?: number;
}

/** What lies between places: the last step, the whole way, the last corner, and the area inside; undefined for fewer than two. */
export function measuredBetween(places: readonly Pick<Place, 'x' | 'y'>[]): Measured | undefined {
	if (places.length < 2) return undefined;
	type At = Pick<Place, 'x' | 'y'>;
	const [p, q] = [places.at(-2)!, places.at(-1)!];
	const turn = (a: At, b: At) => (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI;
	let [way, area] = [0, 0];
	places.forEach((b, k) => {
		const a = places[(k + places.length - 1) % places.length]!;
		if (k > 0) way += Math.hypot(b.x - a.x, b.y - a.y);
		area += (a.x * b.y - b.x * a.y) / 2;
	});
	const found: Measured = { distance: Math.hypot(q.x - p.x, q.y - p.y), angle: turn(p, q), way };
	if (places.length > 2) {
		const between = Math.abs(turn(p, places.at(-3)!) - turn(p, q)) % 360;
		found.corner = Math.min(between, 360 - between);
		found.area = Math.abs(area);
	}
	return found;
}

/** The lengths of the pieces that end at a place, each written at its middle; `reach` says how near an end must be. */
export function lengthsAt(
	{ pieces, x, y }: Pick<Arrangement, 'pieces' | 'x' | 'y'>,
	place: { x: number; y: number },
	reach: number
): { x: number; y: number; text: string }[] {
	const isNear = (j: number) => Math.hypot(x[j]! - place.x, y[j]! - place.y) < reach;
	return pieces
		.filter(({ start, end }) => isNear(start) || isNear(end))
		.map(({ start, end, length }) => ({
			x: (x[start]! + x[end]!) / 2,
			y: (y[start]! + y[end]!) / 2,
			text: String(Number(length.toPrecision(6)))
		}));
}
