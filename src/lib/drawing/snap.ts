import { formatNumber } from '../../core/recipe/edits.ts';
import type { Result } from '../../core/pipeline.ts';
import type { Place } from './drafting.svelte.ts';
import { niceStep, screenX, screenY, worldX, worldY, type View } from './view.ts';

/** How near a point draws the cursor, in pixels. */
const reach = 9;

/** The place at a pixel: a named point or the end of a piece near by, else the grid, else just there. */
export function snapAt(view: View, px: number, py: number, result: Result | undefined, toGrid: boolean): Place {
	const near = (x: number, y: number) => Math.hypot(screenX(view, x) - px, screenY(view, y) - py) <= reach;
	const point = result?.model.points.find((p) => near(p.x, p.y));
	if (point) return { x: point.x, y: point.y, snap: 'point', source: point.name, point: point.name };
	if (result) {
		const { x, y } = result.arrangement;
		for (let j = 0; j < x.length; j++) if (near(x[j]!, y[j]!)) return literal(x[j]!, y[j]!, 'junction');
	}
	const step = niceStep(view.scale, toGrid ? 14 : 1);
	const onStep = (value: number) => Number((Math.round(value / step) * step).toPrecision(12));
	return literal(onStep(worldX(view, px)), onStep(worldY(view, py)), toGrid ? 'grid' : 'free');
}

function literal(x: number, y: number, snap: Place['snap']): Place {
	return { x, y, snap, source: `(${formatNumber(x)}, ${formatNumber(y)})` };
}
