import { partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { sameNumbers } from '../numeric/same.ts';

/** Remembers node places: a piece that has not changed is not placed again. */
export class PlacementCache {
	private of: Arrangement | undefined;
	private readonly places = new Map<number, { at: Float64Array; x: Float64Array; y: Float64Array }>();

	place(arrangement: Arrangement, p: number, at: Float64Array): { x: Float64Array; y: Float64Array } {
		if (this.of !== arrangement) {
			this.places.clear();
			this.of = arrangement;
		}
		const known = this.places.get(p);
		if (known && sameNumbers(known.at, at)) return known;
		const piece = arrangement.pieces[p]!;
		const n = at.length - 1;
		const x = new Float64Array(n + 1);
		const y = new Float64Array(n + 1);
		for (let k = 1; k < n; k++) {
			const q = partPoint(piece, at[k]!, piece.length);
			x[k] = q.x;
			y[k] = q.y;
		}
		x[0] = arrangement.x[piece.start]!;
		y[0] = arrangement.y[piece.start]!;
		x[n] = arrangement.x[piece.end]!;
		y[n] = arrangement.y[piece.end]!;
		const place = { at, x, y };
		this.places.set(p, place);
		return place;
	}
}
