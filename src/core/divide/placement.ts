import { partPoints } from '../geometry/parts.ts';
import type { Arrangement, Piece } from '../geometry/pieces.ts';
import { sameNumbers } from '../numeric/same.ts';

/** Remembers node places: a piece that has not changed is not placed again. */
export class PlacementCache {
	private readonly places = new WeakMap<Piece, { at: Float64Array; x: Float64Array; y: Float64Array }>();

	place(arrangement: Arrangement, p: number, at: Float64Array): { at: Float64Array; x: Float64Array; y: Float64Array } {
		const piece = arrangement.pieces[p]!;
		const n = at.length - 1;
		const known = this.places.get(piece);
		const isJoined = (k: number, junction: number) =>
			known!.x[k] === arrangement.x[junction] && known!.y[k] === arrangement.y[junction];
		if (known && sameNumbers(known.at, at) && isJoined(0, piece.start) && isJoined(n, piece.end)) return known;
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
