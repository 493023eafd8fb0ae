import type { Shown } from '../desk/snapshot.ts';
import type { Arrangement } from '../../core/geometry/pieces.ts';
import { faceAt, insideOutline, walkOutline } from '../../core/geometry/faces.ts';
import { flatten } from '../../core/geometry/parts.ts';
import { turn } from '../../core/numeric/predicates.ts';

/** Pieces as polylines, fine enough for a scale; made again only when the scale grows a lot. */
export class PieceLines {
	private arrangement: Arrangement | undefined;
	private lines: (Float64Array | undefined)[] = [];
	private tolerance = 0;

	/** Prepares for an arrangement at a scale (pixels per unit). */
	use(arrangement: Arrangement, scale: number): void {
		const tolerance = 0.2 / scale;
		if (this.arrangement !== arrangement || tolerance < this.tolerance / 4 || tolerance > this.tolerance * 64) {
			this.arrangement = arrangement;
			this.tolerance = tolerance;
			this.lines = [];
		}
	}

	/** Flat x, y pairs along a piece. */
	of(piece: number): Float64Array {
		return (this.lines[piece] ??= flatten(this.arrangement!.pieces[piece]!, this.tolerance));
	}
}

const outlinesOf = new WeakMap<Arrangement, Float64Array[][]>();

/** Outer and inner outlines of a face, for tinting and picking. */
export function faceOutlines(arrangement: Arrangement, face: number): Float64Array[] {
	let all = outlinesOf.get(arrangement);
	if (!all) outlinesOf.set(arrangement, (all = []));
	const { faces, pieces, diagonal } = arrangement;
	return (all[face] ??= [faces[face]!.outer, ...faces[face]!.inner].map((walk) => walkOutline(walk, pieces, diagonal * 1e-4)));
}

/** The region whose face holds a point, by index, or −1. */
export function regionAt(result: Shown, x: number, y: number): number {
	const found = faceAt(result.arrangement, { x, y });
	return found < 0 ? -1 : result.regions.findIndex(({ face }) => face === found);
}

/** The piece nearest to a point, within a distance in recipe units, or −1. */
export function pieceAt(result: Shown, lines: PieceLines, x: number, y: number, reach: number): number {
	let best = -1;
	let bestSquare = reach * reach;
	result.arrangement.pieces.forEach((_, p) => {
		const line = lines.of(p);
		for (let k = 0; k + 3 < line.length; k += 2) {
			const square = distanceSquare(x, y, line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!);
			if (square < bestSquare) {
				bestSquare = square;
				best = p;
			}
		}
	});
	return best;
}

function distanceSquare(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
	const [dx, dy] = [bx - ax, by - ay];
	const length = dx * dx + dy * dy;
	const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / length));
	return (ax + t * dx - px) ** 2 + (ay + t * dy - py) ** 2;
}

/** Whether a piece lies within a box of recipe units. */
export function pieceInBox(line: Float64Array, minX: number, minY: number, maxX: number, maxY: number): boolean {
	for (let k = 0; k < line.length; k += 2)
		if (line[k]! < minX || line[k]! > maxX || line[k + 1]! < minY || line[k + 1]! > maxY) return false;
	return true;
}

/** Whether any part of a piece lies within a closed line; both are flat x, y pairs. */
export function pieceInLoop(line: Float64Array, loop: Float64Array): boolean {
	for (let k = 0; k < line.length; k += 2) if (insideOutline(loop, line[k]!, line[k + 1]!)) return true;
	for (let j = loop.length - 2, i = 0; i < loop.length; j = i, i += 2)
		for (let k = 0; k + 3 < line.length; k += 2)
			if (crosses(line, k, loop[j]!, loop[j + 1]!, loop[i]!, loop[i + 1]!)) return true;
	return false;
}

/** Whether the segment of a line that starts at an index crosses the one between two places. */
function crosses(line: Float64Array, k: number, cx: number, cy: number, dx: number, dy: number): boolean {
	const [ax, ay, bx, by] = [line[k]!, line[k + 1]!, line[k + 2]!, line[k + 3]!];
	return (
		turn(ax, ay, bx, by, cx, cy) > 0 !== turn(ax, ay, bx, by, dx, dy) > 0 &&
		turn(cx, cy, dx, dy, ax, ay) > 0 !== turn(cx, cy, dx, dy, bx, by) > 0
	);
}
