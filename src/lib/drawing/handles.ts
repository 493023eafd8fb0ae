import type { Shown } from '../desk/snapshot.ts';
import { writtenSize } from '../../core/recipe/physics/calculators.ts';
import { setDivision } from '../../core/recipe/edits/intents.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import { targetsOf } from '../ledger/rows.ts';
import { screenX, screenY, worldX, worldY, type View } from './view.ts';

/** A grip on the selected piece in Divide: its count in the middle, or the cell at one end; or a place of a curve in Shape. */
export interface Handle {
	kind: 'count' | 'start' | 'end' | 'grip';
	piece: number;
	/** In pixels. */
	px: number;
	py: number;
	isSelected?: true;
}

/** How many pixels of movement along the piece are one division. */
const pixelsPerDivision = 8;

/** The handles of a piece, where it is long enough on the screen to hold them. */
export function handlesOf(result: Shown, piece: number, view: View): Handle[] {
	const { x, y, count } = result.divisions.pieces[piece]!;
	if (result.arrangement.pieces[piece]!.length * view.scale < 60) return [];
	const place = (k: number) => ({ px: screenX(view, x[k]!), py: screenY(view, y[k]!) });
	const middle = count >> 1;
	const [a, b] = [place(middle), place(middle + 1)];
	const length = Math.hypot(b.px - a.px, b.py - a.py) || 1;
	const [nx, ny] = [(b.py - a.py) / length, -(b.px - a.px) / length];
	const handles: Handle[] = [{ kind: 'count', piece, px: (a.px + b.px) / 2 - 18 * nx, py: (a.py + b.py) / 2 - 18 * ny }];
	if (count < 2) return handles;
	const targets = targetsOf(result, piece);
	if (targets.start.length > 0) handles.push({ kind: 'start', piece, ...place(1) });
	if (targets.end.length > 0) handles.push({ kind: 'end', piece, ...place(count - 1) });
	return handles;
}

/**
 * The recipe after a handle was dragged, with what it says.
 *
 * @param from where the drag began, to where it is now, in pixels
 * @param line the piece as flat x, y pairs
 */
export function dragHandle(
	handle: Handle,
	result: Shown,
	recipe: Recipe,
	names: readonly string[],
	view: View,
	from: { px: number; py: number },
	to: { px: number; py: number },
	line: Float64Array
): { text: string; label: string } {
	const { piece } = handle;
	const name = names[piece]!;
	const division = result.divisions.pieces[piece]!;
	if (handle.kind === 'count') {
		const n = line.length;
		const [dx, dy] = [(line[n - 2]! - line[0]!) * view.scale, -(line[n - 1]! - line[1]!) * view.scale];
		const length = Math.hypot(dx, dy) || 1;
		const along = ((to.px - from.px) * dx + (to.py - from.py) * dy) / length;
		const count = Math.max(1, division.count + Math.round(along / pixelsPerDivision));
		return { text: setDivision(recipe, [name], 'count', `into ${count}`, names), label: `Divide ${name} into ${count}` };
	}
	const whole = result.arrangement.pieces[piece]!.length;
	const at = lengthAlong(line, worldX(view, to.px), worldY(view, to.py)) * whole;
	const size = Math.min(0.9 * whole, Math.max(1e-4 * whole, handle.kind === 'start' ? at : whole - at));
	const target = targetsOf(result, piece)[handle.kind === 'start' ? 'start' : 'end'][0]!;
	const source = `first ${writtenSize(size)} at ${target}`;
	return { text: setDivision(recipe, [name], 'spacing', source, names), label: `${source} on ${name}` };
}

/** How far along a polyline its point nearest to a place lies, as a fraction. */
function lengthAlong(line: Float64Array, x: number, y: number): number {
	let [total, best, found] = [0, Infinity, 0];
	for (let k = 0; k + 3 < line.length; k += 2) {
		const [ax, ay] = [line[k]!, line[k + 1]!];
		const [dx, dy] = [line[k + 2]! - ax, line[k + 3]! - ay];
		const length = Math.hypot(dx, dy);
		const t = length > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (length * length))) : 0;
		const away = Math.hypot(ax + t * dx - x, ay + t * dy - y);
		if (away < best) [best, found] = [away, total + t * length];
		total += length;
	}
	return total > 0 ? found / total : 0;
}
