import { zonesOf } from '../../core/recipe/statements/size.ts';
import type { Shown } from '../desk/snapshot.ts';
import { contourLevels, nodeSizes, sizeContours, type SizeContour } from '../../core/sizing/contours.ts';
import type { Palette } from './palette.ts';
import { screenX, screenY, type View } from './view.ts';

/** Sizes at the nodes of a result, and lines of equal size. */
export interface SizeContours {
	/** One for each node. */
	sizes: Float64Array;
	lines: SizeContour[];
}

/** Sizes at the nodes of a result, and their contours. */
export function contoursOf({ mesh, model, regions, fallbackSize }: Shown): SizeContours {
	const sizes = nodeSizes(mesh);
	let [low, high] = [Infinity, 0];
	for (const size of sizes) if (size > 0) [low, high] = [Math.min(low, size), Math.max(high, size)];
	const plateaus = [...regions.map((r) => r.size ?? fallbackSize), ...zonesOf(model).flatMap((z) => z.size ?? [])];
	return { sizes, lines: sizeContours(mesh, sizes, contourLevels(low, high, plateaus)) };
}

/** Draws contours, each with its size where its longest bit in the picture is. */
export function paintContours(
	context: CanvasRenderingContext2D,
	view: View,
	palette: Palette,
	contours: readonly SizeContour[]
): void {
	context.strokeStyle = palette.ink;
	context.lineWidth = 1;
	context.font = "10.5px 'IBM Plex Mono', monospace";
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	const labels: { px: number; py: number; text: string }[] = [];
	for (const { size, segments } of contours) {
		context.beginPath();
		let best = { away: Infinity, px: 0, py: 0 };
		for (let k = 0; k < segments.length; k += 4) {
			const [ax, ay] = [screenX(view, segments[k]!), screenY(view, segments[k + 1]!)];
			const [bx, by] = [screenX(view, segments[k + 2]!), screenY(view, segments[k + 3]!)];
			context.moveTo(ax, ay);
			context.lineTo(bx, by);
			// The label goes where it is farthest from the labels so far, and well inside the picture.
			const [px, py] = [(ax + bx) / 2, (ay + by) / 2];
			if (px < 60 || py < 40 || px > view.width - 40 || py > view.height - 40) continue;
			const crowd = labels.reduce((sum, l) => sum + 1 / (1 + Math.hypot(l.px - px, l.py - py)), 0);
			if (crowd < best.away) best = { away: crowd, px, py };
		}
		context.stroke();
		if (best.away < Infinity) labels.push({ px: best.px, py: best.py, text: String(size) });
	}
	for (const { px, py, text } of labels) {
		const width = context.measureText(text).width + 6;
		context.fillStyle = palette.paper;
		context.fillRect(px - width / 2, py - 7, width, 14);
		context.fillStyle = palette.ink;
		context.fillText(text, px, py + 0.5);
	}
}
