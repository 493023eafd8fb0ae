import type { Layout } from '../../core/blocks/layout.ts';
import type { Shown } from '../desk/snapshot.ts';
import { setCorners } from '../../core/recipe/edits/intents.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import type { Walk } from '../../core/geometry/pieces.ts';
import { partPoint } from '../../core/geometry/parts.ts';
import { screenX, screenY, type View } from './view.ts';

/** The outline of a structured region: its junctions in turn, and which of them are corners of its layout. */
export interface CornerScene {
	region: number;
	/** Junctions around the region, counter-clockwise. */
	junctions: number[];
	/** Places in `junctions` of the corners, in the order of the sides. */
	corners: number[];
	layout: Layout | undefined;
}

/** The junctions and corners of a structured region; undefined where it has no corners to choose, as around a hole. */
export function cornerScene(result: Shown, name: string): CornerScene | undefined {
	const region = result.regions.findIndex((r) => r.name === name);
	const filled = result.regions[region];
	if (filled?.fill !== 'structured' || filled.halved || filled.blocks) return undefined;
	const { arrangement } = result;
	const face = arrangement.faces[filled.face]!;
	if (face.inner.length > 0) return undefined;
	const startOf = (h: number) => (h & 1 ? arrangement.pieces[h >> 1]!.end : arrangement.pieces[h >> 1]!.start);
	const junctions = face.outer.map(startOf);
	const layout = result.plans.find((plan) => plan.region === region)?.layout;
	if (layout?.kind === 'ring') return undefined;
	const sides: readonly Walk[] = layout && (layout.kind !== 'disc' || layout.sides.length > 1) ? layout.sides : [];
	return { region, junctions, corners: sides.map((side) => junctions.indexOf(startOf(side[0]!))), layout };
}

/** What the ink shows of corners: letters at corners, rings where one could be, and bars across sides; opposite sides have as many. */
export interface CornerMarks {
	corners: { px: number; py: number; letter: string }[];
	rings: { px: number; py: number }[];
	bars: { px: number; py: number; dx: number; dy: number; count: number }[];
}

export function cornerMarks(result: Shown, { junctions, corners, layout }: CornerScene, view: View): CornerMarks {
	const { arrangement } = result;
	const at = (place: number) => ({
		px: screenX(view, arrangement.x[junctions[place]!]!),
		py: screenY(view, arrangement.y[junctions[place]!]!)
	});
	const bars =
		layout?.kind === 'block'
			? layout.sides.map((side, k) => {
					// In the middle of the side, along its piece there.
					const lengths = side.map((h) => arrangement.pieces[h >> 1]!.length);
					let left = lengths.reduce((a, b) => a + b, 0) / 2;
					let i = 0;
					while (i + 1 < side.length && left > lengths[i]!) left -= lengths[i++]!;
					const h = side[i]!;
					const piece = arrangement.pieces[h >> 1]!;
					const f = h & 1 ? 1 - left / piece.length : left / piece.length;
					const place = partPoint(piece, f, piece.length);
					const [a, b] = [
						partPoint(piece, Math.max(0, f - 0.01), piece.length),
						partPoint(piece, Math.min(1, f + 0.01), piece.length)
					];
					const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
					return {
						px: screenX(view, place.x),
						py: screenY(view, place.y),
						dx: (b.x - a.x) / length,
						dy: -(b.y - a.y) / length,
						count: (k % 2) + 1
					};
				})
			: [];
	return {
		corners: corners.map((place, k) => ({ ...at(place), letter: String.fromCharCode(65 + (k % 26)) })),
		rings: junctions.flatMap((_, place) => (corners.includes(place) ? [] : [at(place)])),
		bars
	};
}

/** The place in `junctions` that lies under a pixel, or −1. */
export function junctionUnder(result: Shown, { junctions }: CornerScene, view: View, px: number, py: number, reach = 10): number {
	const { x, y } = result.arrangement;
	let [best, found] = [reach, -1];
	junctions.forEach((j, place) => {
		const away = Math.hypot(screenX(view, x[j]!) - px, screenY(view, y[j]!) - py);
		if (away < best) [best, found] = [away, place];
	});
	return found;
}

/** The corners after one was moved to another junction; undefined where another corner stands there already. */
export function movedCorner({ corners }: CornerScene, corner: number, to: number): number[] | undefined {
	if (corners.includes(to) && corners[corner] !== to) return undefined;
	return corners.map((place, k) => (k === corner ? to : place));
}

/** The corners after a junction was made one, or is one no longer; undefined where fewer than three would be left. */
export function toggledCorner({ corners }: CornerScene, place: number): number[] | undefined {
	if (!corners.includes(place)) return [...corners, place];
	return corners.length > 3 ? corners.filter((c) => c !== place) : undefined;
}

/** The recipe with these corners of a region, each by the name of a point or curve where it has one, with what it says. */
export function writeCorners(
	result: Shown,
	recipe: Recipe,
	{ region, junctions }: CornerScene,
	corners: readonly number[]
): { text: string; label: string } {
	const { name, statement, fillLine } = result.regions[region]!;
	// In turn around the region, the first one kept first.
	const n = junctions.length;
	const from = corners[0] ?? 0;
	const turn = [...corners].sort((a, b) => ((a - from + n) % n) - ((b - from + n) % n));
	const written = turn.map((place) => junctionSource(result, junctions[place]!));
	return {
		text: setCorners(recipe, statement, fillLine, written),
		label: `Corners of ${name}: ${written.join(', ')}`
	};
}

/** How a recipe names a junction: a point, the end of a curve, or its coordinates. */
function junctionSource({ model, arrangement }: Shown, junction: number): string {
	const [x, y] = [arrangement.x[junction]!, arrangement.y[junction]!];
	const isHere = (px: number, py: number) => Math.hypot(px - x, py - y) <= arrangement.tolerance;
	const point = model.points.find((p) => isHere(p.x, p.y));
	if (point) return point.name;
	for (const piece of arrangement.pieces)
		for (const [end, j, t] of [
			['start', piece.start, piece.t0],
			['end', piece.end, piece.t1]
		] as const) {
			if (j !== junction) continue;
			const curve = model.curves[piece.owner]!;
			const count = curve.kinds.length;
			if (curve.closed ? end === 'start' && t === 0 : t === (end === 'start' ? 0 : count)) return `${end}(${curve.name})`;
		}
	return `(${x}, ${y})`;
}
