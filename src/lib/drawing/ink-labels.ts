import { type BoundaryGroup, groupEdges, isBoundary } from '../../core/mesh/mesh.ts';
import { groupColours } from '../../core/recipe/language/boundary-kinds.ts';
import type { Shown } from '../desk/snapshot.ts';
import type { InkScene } from './ink-scene.ts';
import { screenX, screenY, type View } from './view.ts';

/** Pixels by which each side of a two-sided wall is drawn beside it. */
export const apart = 2.4;

/** The colour of each half-piece's group; −1 − p is set where piece p is a two-sided wall. */
export function coloursBySide({ mesh }: Shown): Map<number, string> {
	const colours = new Map<number, string>();
	for (const group of mesh.groups.filter(isBoundary))
		for (const p of group.pieces) {
			const colour = groupColours[group.colour];
			for (const side of group.side === undefined ? [0, 1] : [group.side]) colours.set(2 * p + side, colour);
			if (group.baffle !== undefined) colours.set(-1 - p, colour);
		}
	return colours;
}

/** Ticks that point out of the mesh along the edges of a group, where they are not too close. */
export function paintNormals(context: CanvasRenderingContext2D, { view }: InkScene, { mesh }: Shown, group: BoundaryGroup): void {
	context.strokeStyle = groupColours[group.colour];
	context.lineWidth = 1.2;
	context.beginPath();
	let [lastX, lastY] = [Infinity, Infinity];
	for (const e of groupEdges(mesh, group)) {
		const [a, b] = [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!];
		const [ax, ay] = [screenX(view, mesh.x[a]!), screenY(view, mesh.y[a]!)];
		const [bx, by] = [screenX(view, mesh.x[b]!), screenY(view, mesh.y[b]!)];
		const [mx, my] = [(ax + bx) / 2, (ay + by) / 2];
		if (Math.hypot(mx - lastX, my - lastY) < 14) continue;
		[lastX, lastY] = [mx, my];
		// The mesh lies to the left of an edge; on the screen y runs down.
		const length = Math.hypot(bx - ax, by - ay) || 1;
		const [nx, ny] = [-(by - ay) / length, (bx - ax) / length];
		context.moveTo(mx, my);
		context.lineTo(mx + 9 * nx, my + 9 * ny);
	}
	context.stroke();
}

/** Small flags at nodes that several groups share, in the colour of the group that owns them. */
export function paintFlags(context: CanvasRenderingContext2D, { palette, flags }: InkScene): void {
	for (const { px, py, colour } of flags) {
		context.beginPath();
		context.moveTo(px, py);
		context.lineTo(px, py - 15);
		context.strokeStyle = palette.ink;
		context.lineWidth = 1.2;
		context.stroke();
		context.beginPath();
		context.moveTo(px, py - 15);
		context.lineTo(px + 10, py - 11.5);
		context.lineTo(px, py - 8);
		context.closePath();
		context.fillStyle = colour;
		context.fill();
		context.strokeStyle = palette.sheet;
		context.lineWidth = 0.8;
		context.stroke();
	}
}

/** Traces a line so many pixels beside itself, to its right where that is above zero. */
export function traceBeside(context: CanvasRenderingContext2D, view: View, line: Float64Array, offset: number): void {
	const n = line.length / 2;
	const at = (k: number) => [screenX(view, line[2 * k]!), screenY(view, line[2 * k + 1]!)] as const;
	for (let k = 0; k < n; k++) {
		const [x, y] = at(k);
		const [ax, ay] = at(Math.max(0, k - 1));
		const [bx, by] = at(Math.min(n - 1, k + 1));
		const length = Math.hypot(bx - ax, by - ay) || 1;
		// On the screen y runs down, so the right of a direction is (−dy, dx).
		const [px, py] = [x - (offset * (by - ay)) / length, y + (offset * (bx - ax)) / length];
		if (k === 0) context.moveTo(px, py);
		else context.lineTo(px, py);
	}
}
