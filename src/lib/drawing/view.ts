import { curveLength, pointAt, segmentCount, type Curve } from '../../core/geometry/curve.ts';

/** What part of the plane the drawing shows: the world point in the middle of the canvas, and pixels per recipe unit. */
export interface View {
	x: number;
	y: number;
	scale: number;
	width: number;
	height: number;
}

/** Room that the rulers take along the left and the top, in pixels. */
export const ruler = { left: 46, top: 20 };

export const screenX = (view: View, x: number): number => view.width / 2 + (x - view.x) * view.scale;
export const screenY = (view: View, y: number): number => view.height / 2 - (y - view.y) * view.scale;
export const worldX = (view: View, px: number): number => view.x + (px - view.width / 2) / view.scale;
export const worldY = (view: View, py: number): number => view.y - (py - view.height / 2) / view.scale;

/** The view in which a box fills what the rulers and the tools, `above` pixels high, leave. */
export function fitted(view: View, box: readonly [number, number, number, number] | undefined, above = 0): View {
	const [minX, minY, maxX, maxY] = box ?? [0, 0, 100, 60];
	const margin = 44;
	const width = Math.max(50, view.width - ruler.left - 2 * margin);
	const height = Math.max(50, view.height - ruler.top - above - 2 * margin);
	const scale = Math.min(width / (maxX - minX || 1), height / (maxY - minY || 1));
	return {
		...view,
		scale,
		x: (minX + maxX) / 2 - ruler.left / 2 / scale,
		y: (minY + maxY) / 2 + (ruler.top + above) / 2 / scale
	};
}

/** The scale at which a thing so large fills about a tenth of the view. */
export function closeUp(reach: number, { width, height, scale }: View): number {
	const share = 0.1;
	return reach > 0 ? (share * Math.min(width, height)) / reach : scale;
}

/** Whether most of some curves is in sight, large enough to be seen: at least half of the places along them. */
export function isInSight(curves: readonly Curve[], view: View): boolean {
	const [minX, maxX] = [worldX(view, ruler.left), worldX(view, view.width)];
	const [minY, maxY] = [worldY(view, view.height), worldY(view, ruler.top)];
	const steps = 32;
	let [seen, all] = [0, 0];
	for (const curve of curves.slice(0, 200))
		for (let k = 0; k <= steps; k++) {
			all++;
			const { x, y } = pointAt(curve, (segmentCount(curve) * k) / steps);
			if (curveLength(curve) * view.scale >= 6 && x >= minX && x <= maxX && y >= minY && y <= maxY) seen++;
		}
	return seen * 2 >= all;
}

/** The view zoomed by a factor with the world point under a pixel kept in place. */
export function zoomed(view: View, factor: number, px: number, py: number): View {
	const scale = Math.min(1e9, Math.max(1e-9, view.scale * factor));
	const [x, y] = [worldX(view, px), worldY(view, py)];
	return { ...view, scale, x: x - (px - view.width / 2) / scale, y: y + (py - view.height / 2) / scale };
}

/** A step of 1, 2 or 5 times a power of ten that is at least `pixels` wide. */
export function niceStep(scale: number, pixels: number): number {
	const least = pixels / scale;
	const power = 10 ** Math.floor(Math.log10(least));
	for (const lead of [1, 2, 5]) if (lead * power >= least) return lead * power;
	return 10 * power;
}

/** A coordinate with the digits that a step makes sensible. */
export function formatAt(value: number, step: number): string {
	const digits = Math.max(0, -Math.floor(Math.log10(step) + 1e-9));
	return (Object.is(value, -0) ? 0 : value).toFixed(Math.min(10, digits));
}

/** The curves whose names are not among those of others. */
export function newCurves(curves: readonly Curve[], before: readonly Curve[]): Curve[] {
	const names = new Set(before.map(({ name }) => name));
	return curves.filter(({ name }) => !names.has(name));
}
