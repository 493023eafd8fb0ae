import type { Domain } from '../domain/domain.ts';
import { methodOf } from '../fill/methods.ts';
import { atan2, hypot } from '../numeric/elementary.ts';
import { heightsOver } from './columns.ts';
import { wallsOf } from './layers.ts';
import type { MeshView } from './mesh-view.ts';

/** What the layers of one statement came to in regions of rows; lengths in recipe units, the angle in degrees. */
export interface LayersInRows {
	/** Index of the statement. */
	line: number;
	cells: number;
	first: { min: number; max: number };
	thickness: { min: number; mean: number; max: number };
	/** The share of the walls' length that has all cells. */
	complete: number;
	angle: { min: number };
}

/** The layers of statements on regions that are laid out in rows, where they are the spacing across: measured on the mesh. */
export function layersInRows(domain: Domain, view: MeshView): LayersInRows[] {
	const { layers, regions, arrangement } = domain;
	const inRows = new Set(regions.filter((r) => r.fill === 'structured' && !r.blocks && methodOf(r)).map((r) => r.face));
	return layers.statements.flatMap(({ line, count }, k) => {
		const sides = [...layers.of].flatMap(([half, statement]) =>
			statement === k && inRows.has(arrangement.sides[half]!) ? [half] : []
		);
		if (sides.length === 0) return [];
		return measured(view, sides, count).map((figures) => ({ line, ...figures }));
	});
}

function measured(view: MeshView, sides: readonly number[], count: number): Omit<LayersInRows, 'line'>[] {
	const { x, y } = view.mesh;
	const first = { min: Infinity, max: 0 };
	const thickness = { min: Infinity, mean: 0, max: 0 };
	let [cells, length, whole, angle] = [0, 0, 0, 180];
	for (const { edges, columns } of wallsOf(view, sides, count)) {
		const over = (level: (nodes: readonly number[]) => number | undefined) =>
			heightsOver(
				view,
				edges,
				columns.map(({ left, right }): [number, number] => [level(left) ?? -1, level(right) ?? -1])
			);
		const [low, high] = [over((nodes) => nodes[1]), over((nodes) => (nodes.length > 1 ? nodes.at(-1) : undefined))];
		for (const [e, { left, right }] of columns.entries()) {
			const [a, b] = edges[e]!;
			const l = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
			length += l;
			cells += left.length - 1;
			if (left.length > count) whole += l;
			if (left.length < 2) continue;
			first.min = Math.min(first.min, low[e]!);
			first.max = Math.max(first.max, low[e]!);
			thickness.min = Math.min(thickness.min, high[e]!);
			thickness.max = Math.max(thickness.max, high[e]!);
			thickness.mean += l * high[e]!;
			for (let k = 1; k < left.length; k++)
				angle = Math.min(angle, smallestAngle(view, [left[k - 1]!, right[k - 1]!, right[k]!, left[k]!]));
		}
	}
	if (cells === 0) return [];
	thickness.mean /= length;
	return [{ cells, first, thickness, complete: whole / length, angle: { min: angle } }];
}

/** The smallest angle of a cell, in degrees. */
function smallestAngle({ mesh: { x, y } }: MeshView, nodes: readonly number[]): number {
	let least = 180;
	for (let k = 0; k < 4; k++) {
		const [a, b, c] = [nodes[(k + 3) % 4]!, nodes[k]!, nodes[(k + 1) % 4]!];
		const [ux, uy, vx, vy] = [x[a]! - x[b]!, y[a]! - y[b]!, x[c]! - x[b]!, y[c]! - y[b]!];
		least = Math.min(least, (Math.abs(atan2(ux * vy - uy * vx, ux * vx + uy * vy)) * 180) / Math.PI);
	}
	return least;
}
