import { partPoints } from '../geometry/parts.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { sameNumbers } from '../numeric/same.ts';

/** Remembers node places: a piece that has not changed is not placed again. */
export class PlacementCache {
	private readonly places = new WeakMap<Piece, { at: Float64Array; x: Float64Array; y: Float64Array }>();

	place(arrangement: Arrangement, p: number, at: Float64Array): { at: Float64Array; x: Float64Array; y: Float64Array } {
		const piece = arrangement.pieces[p]!;
		const n = at.length - 1;
		const cached = this.places.get(piece);
		if (
			cached &&
			sameNumbers(cached.at, at) &&
			isAt(cached, 0, arrangement, piece.start) &&
			isAt(cached, n, arrangement, piece.end)
		)
			return cached;
		const { x, y } = partPoints(piece, at, piece.length);
		x[0] = arrangement.x[piece.start]!;
		y[0] = arrangement.y[piece.start]!;
		x[n] = arrangement.x[piece.end]!;
		y[n] = arrangement.y[piece.end]!;
		const place = { at, x, y };
		this.places.set(piece, place);
		return place;
	}
}

/** Whether a place is that of a junction. */
const isAt = (places: { x: Float64Array; y: Float64Array }, k: number, { x, y }: Arrangement, junction: number): boolean =>
	places.x[k] === x[junction] && places.y[k] === y[junction];
