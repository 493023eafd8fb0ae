import { isBoundary } from '../../core/mesh/mesh.ts';
import { boxOf } from '../../core/geometry/parts.ts';
import { hypot } from '../../core/numeric/elementary.ts';
import type { Shown } from '../desk/snapshot.ts';
import { apart, coloursBySide, paintNormals, traceBeside } from './ink-labels.ts';
import type { InkScene } from './ink-scene.ts';
import { font, type LabelRoom } from './label-room.ts';
import { Strokes, trace } from './strokes.ts';
import { screenX, screenY, type View } from './view.ts';

/** How far beyond its line a piece is painted, in pixels. */
const margin = 10;

/** Whether the box of a line, flat x, y pairs, meets what is in view. */
function isSeen(line: Float64Array, view: View): boolean {
	const [minX, minY, maxX, maxY] = boxOf(line);
	return (
		screenX(view, maxX) >= -margin &&
		screenX(view, minX) <= view.width + margin &&
		screenY(view, minY) >= -margin &&
		screenY(view, maxY) <= view.height + margin
	);
}

/** All pieces, in the colours of their groups where these are to be seen. */
export function paintPieces(context: CanvasRenderingContext2D, scene: InkScene, result: Shown): void {
	const { view, palette, lines, names, station, isSelected, hover, unlabelled } = scene;
	const byGroup = station === 'label' || station === 'deliver';
	const colours = byGroup ? coloursBySide(result) : undefined;
	const groups = result.mesh.groups.filter(isBoundary);
	const hoverGroup = hover.startsWith('group ') ? groups.find((g) => `group ${g.name}` === hover) : undefined;
	// A group that is selected is shown alone, the others faded.
	const shown = byGroup ? groups.filter((g) => isSelected('group', g.name)) : [];
	const alone = shown.length > 0 ? new Set(shown.flatMap((g) => g.pieces)) : undefined;
	const strokes = new Strokes(context);
	for (let p = 0; p < result.arrangement.pieces.length; p++) {
		const line = lines.of(p);
		if (!isSeen(line, view)) continue;
		const name = names[p]!;
		const selected = isSelected('piece', name);
		const hovered = hover === `piece ${name}` || hoverGroup?.pieces.includes(p);
		if (selected || hovered) {
			strokes.with(palette.marigold, selected ? 9 : 7, selected ? 0.5 : 0.35);
			trace(context, view, line);
			strokes.end();
		}
		const alpha = alone !== undefined && !alone.has(p) ? 0.25 : 1;
		const missing = byGroup && unlabelled.has(p);
		const [left, right] = [colours?.get(2 * p), colours?.get(2 * p + 1)];
		// The two sides of a wall stand a little apart.
		if (left && right && colours!.has(-1 - p))
			for (const [colour, way] of [
				[left, -1],
				[right, 1]
			] as const) {
				strokes.with(colour, 2.2, alpha, missing);
				traceBeside(context, view, line, way * apart);
			}
		else {
			const colour = left ?? right;
			strokes.with(missing ? palette.brick : (colour ?? palette.ink), colour || missing ? 3.2 : 1.8, alpha, missing);
			trace(context, view, line);
		}
	}
	strokes.end();
	for (const group of shown) paintNormals(context, scene, result, group);
}

/** Division ticks across every piece. */
export function paintTicks(context: CanvasRenderingContext2D, scene: InkScene, result: Shown, room: LabelRoom): void {
	const { view, palette, station } = scene;
	const colour = { pinned: palette.ink, carried: palette.kingfisher, derived: palette.quiet };
	const strokes = new Strokes(context);
	for (const { x, y, source } of result.divisions.pieces) {
		strokes.with(colour[source], 1);
		const n = x.length - 1;
		// Ticks nearer than 3 pixels to the last one drawn would run together.
		let last = -Infinity;
		let lastY = 0;
		for (let k = 0; k <= n; k++) {
			const px = screenX(view, x[k]!);
			const py = screenY(view, y[k]!);
			if (k > 0 && k < n && hypot(px - last, py - lastY) < 3) continue;
			[last, lastY] = [px, py];
			if (px < 0 || py < 0 || px > view.width || py > view.height) continue;
			const before = Math.max(0, k - 1);
			const after = Math.min(n, k + 1);
			const tx = (x[after]! - x[before]!) * view.scale;
			const ty = -(y[after]! - y[before]!) * view.scale;
			const length = hypot(tx, ty) || 1;
			const reach = k === 0 || k === n ? 6 : 4;
			context.moveTo(px - (ty / length) * reach, py + (tx / length) * reach);
			context.lineTo(px + (ty / length) * reach, py - (tx / length) * reach);
		}
	}
	strokes.end();
	if (station === 'divide') paintCounts(context, scene, result, colour, room);
}

/** The count beside every piece that has room for it, with a wedge toward the small cells; those of selected pieces first. */
function paintCounts(
	context: CanvasRenderingContext2D,
	{ view, palette, names, isSelected }: InkScene,
	{ arrangement, divisions }: Shown,
	colour: Record<'pinned' | 'carried' | 'derived', string>,
	room: LabelRoom
): void {
	context.font = font;
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	const shown = divisions.pieces.map((_, p) => p).filter((p) => arrangement.pieces[p]!.length * view.scale >= 60);
	shown.sort((p, q) => Number(isSelected('piece', names[q]!)) - Number(isSelected('piece', names[p]!)) || p - q);
	for (const p of shown) {
		const { x, y, source, figures, count } = divisions.pieces[p]!;
		const n = x.length - 1;
		const middle = Math.floor(n / 2);
		const [mx, my] = [
			screenX(view, (x[middle]! + x[Math.min(n, middle + 1)]!) / 2),
			screenY(view, (y[middle]! + y[Math.min(n, middle + 1)]!) / 2)
		];
		const [tx, ty] = [x[n]! - x[0]!, -(y[n]! - y[0]!)];
		const length = Math.hypot(tx, ty) || 1;
		const [nx, ny] = [ty / length, -tx / length];
		const label = String(count);
		const [lx, ly] = [mx + nx * 15, my + ny * 15];
		const half = label.length * 3.6 + 3;
		// One over another could not be read; it comes when there is room.
		if (!room.take(lx, ly, half, 7)) continue;
		context.fillStyle = palette.sheet;
		context.globalAlpha = 0.88;
		context.fillRect(lx - half, ly - 7, 2 * half, 14);
		context.globalAlpha = 1;
		context.fillStyle = colour[source];
		context.fillText(label, lx, ly + 0.5);
		if (figures.first > 1.02 * figures.last || figures.last > 1.02 * figures.first) {
			const sign = figures.first > figures.last ? 1 : -1;
			const [dx, dy] = [(sign * tx) / length, (sign * ty) / length];
			const [wx, wy] = [lx + dx * (half + 7), ly + dy * (half + 7)];
			context.beginPath();
			context.moveTo(wx + dx * 7, wy + dy * 7);
			context.lineTo(wx - dy * 4, wy + dx * 4);
			context.lineTo(wx + dy * 4, wy - dx * 4);
			context.fill();
		}
	}
}
