import { hypot } from '../numeric/elementary.ts';
import { pieceNames } from '../domain/references.ts';
import { columnOver, type Column, edgesOfSide, heightsOver, heightsOverEdges, regionOfSide } from './columns.ts';
import { apart, type Measured, type PromiseMeasure, Worst } from './measure.ts';
import type { MeshView } from './mesh-view.ts';

/** Heights and growth hold to this share, the share of complete columns to the second. */
const [nearly, complete] = [0.02, 0.001];

/** The columns of cells on one side of a piece, no higher than asked. */
interface Wall {
	name: string;
	piece: number;
	edges: [number, number][];
	columns: Column[];
}

/** The walls of a mesh, found once with the most cells that anything asked of them. */
const walls = new WeakMap<MeshView, Map<number, { most: number; wall: Wall | undefined }>>();

function wallOf(view: MeshView, side: number, most: number, isHalved: boolean): Wall | undefined {
	const region = regionOfSide(view, side);
	if (region < 0) return undefined;
	const edges = edgesOfSide(view, side);
	if (edges.length === 0) return undefined;
	const isCut = isHalved || view.isHalved(region);
	const columns = edges.map(([a, b]) => columnOver(view, a, b, most, region, isCut));
	return { name: pieceNames(view.arrangement)[side >> 1]!, piece: side >> 1, edges, columns };
}

export function wallsOf(view: MeshView, sides: readonly number[], most: number, isHalved = false): Wall[] {
	let found = walls.get(view);
	if (!found) walls.set(view, (found = new Map()));
	return sides.flatMap((side) => {
		let entry = found.get(side);
		if (!entry || entry.most < most) found.set(side, (entry = { most, wall: wallOf(view, side, most, isHalved) }));
		return entry.wall ?? [];
	});
}

/** Where an edge is: its middle. */
const placeOf = ({ mesh: { x, y } }: MeshView, [a, b]: [number, number]) => ({ x: (x[a]! + x[b]!) / 2, y: (y[a]! + y[b]!) / 2 });

/** Findings that say the same of layers. */
const saidBy = ['layers-reduced', 'layers-squeezed', 'layers-nowhere', 'unknown-region', 'unknown-curve'] as const;

/** Heights over the edges of walls, each held against one number. */
function heightsOf(view: MeshView, walls: readonly Wall[], what: string, asked: number): Measured[] {
	const worst = new Worst();
	for (const { name, piece, edges, columns } of walls) {
		const over = columns.map(({ left, right }): [number, number] => (left.length > 1 ? [left[1]!, right[1]!] : [-1, -1]));
		const square = heightsOverEdges(view, edges, over);
		heightsOver(view, edges, over).forEach((overCurve, k) => {
			if (Number.isNaN(overCurve)) return;
			// Square to the curve or to the edge: where the divisions are coarse the two differ, and both are meant by it.
			const got = apart(asked, square[k]!) < apart(asked, overCurve) ? square[k]! : overCurve;
			worst.add(asked, got, apart(asked, got) <= nearly, () => ({
				what: `${what} “${name}”`,
				at: placeOf(view, edges[k]!),
				pieces: [piece]
			}));
		});
	}
	return worst.get();
}

export const firstHeight: PromiseMeasure<'first height'> = {
	overruled: 'layers',
	saidBy,
	unit: 'length',
	measure: ({ promise, sides }, view) =>
		heightsOf(view, wallsOf(view, sides, 1, promise.halved), 'first height of the layers on', promise.value)
};

export const layerCount: PromiseMeasure<'layer count'> = {
	overruled: 'layers',
	saidBy,
	unit: 'count',
	measure({ promise: { value, halved }, sides }, view) {
		const { x, y } = view.mesh;
		const worst = new Worst();
		let [length, short] = [0, 0];
		for (const { name, piece, edges, columns } of wallsOf(view, sides, value, halved))
			for (const [k, { left }] of columns.entries()) {
				const got = Math.min(value, left.length - 1);
				const [a, b] = edges[k]!;
				const l = hypot(x[b]! - x[a]!, y[b]! - y[a]!);
				length += l;
				if (got < value) short += l;
				worst.add(value, got, got >= value, () => ({
					what: `cells of the layers on “${name}”`,
					at: placeOf(view, edges[k]!),
					pieces: [piece]
				}));
			}
		return worst.get().map((m) => (short <= complete * length ? { ...m, got: value, isKept: true, more: 0 } : m));
	}
};

export const layerGrowth: PromiseMeasure<'layer growth'> = {
	overruled: 'layers',
	saidBy,
	unit: 'ratio',
	measure({ promise: { value, count, halved }, sides }, view) {
		const { x, y } = view.mesh;
		// Its area over the mean of its width below and above: so a cell is as high as it is square to the wall, however it leans.
		const height = ({ left, right }: Column, k: number) => {
			const [a, b, c, d] = [left[k]!, right[k]!, right[k + 1]!, left[k + 1]!];
			const area = (x[c]! - x[a]!) * (y[d]! - y[b]!) - (x[d]! - x[b]!) * (y[c]! - y[a]!);
			return Math.abs(area) / (hypot(x[b]! - x[a]!, y[b]! - y[a]!) + hypot(x[c]! - x[d]!, y[c]! - y[d]!));
		};
		const worst = new Worst();
		for (const { name, piece, edges, columns } of wallsOf(view, sides, count, halved))
			for (const [k, column] of columns.entries()) {
				// A cell more or less at the top is the matter of the count.
				if (column.left.length <= count) continue;
				let got = value;
				let below = height(column, 0);
				for (let i = 1; i < count; i++) {
					const here = height(column, i);
					if (apart(value, here / below) > apart(value, got)) got = here / below;
					below = here;
				}
				worst.add(value, got, apart(value, got) <= nearly, () => ({
					what: `growth of the layers on “${name}”`,
					at: placeOf(view, edges[k]!),
					pieces: [piece]
				}));
			}
		return worst.get();
	}
};

/** The regions of a statement that are rings: an outline and one hole. */
const ringsOf = (view: MeshView, statement: string) =>
	view.regions.filter((r) => r.statement === statement && view.arrangement.faces[r.face]!.inner.length === 1);

/** No ring has more rows. */
const mostRows = 20_000;

export const rowsAcross: PromiseMeasure<'rows across'> = {
	unit: 'count',
	saidBy: ['not-structured', 'folded', 'count-conflict'],
	measure: ({ promise: { region, value } }, view) =>
		ringsOf(view, region).flatMap((ring) => {
			const worst = new Worst();
			for (const { edges, columns, piece } of wallsOf(view, view.arrangement.faces[ring.face]!.outer, mostRows))
				for (const [k, { left }] of columns.entries())
					worst.add(value, left.length - 1, left.length - 1 === value, () => ({
						what: `rows across “${ring.name}”`,
						at: placeOf(view, edges[k]!),
						pieces: [piece]
					}));
			return worst.get();
		})
};

export const firstRow: PromiseMeasure<'first row'> = {
	unit: 'length',
	saidBy: ['not-structured', 'folded', 'wall-height'],
	measure({ promise }, view) {
		const pieces = new Set(view.piecesOf([promise.at]));
		return ringsOf(view, promise.region).flatMap((ring) => {
			const { outer, inner } = view.arrangement.faces[ring.face]!;
			const sides = [...outer, ...inner.flat()].filter((side) => pieces.has(side >> 1));
			return heightsOf(view, wallsOf(view, sides, 1), 'first cells at', promise.value);
		});
	}
};
