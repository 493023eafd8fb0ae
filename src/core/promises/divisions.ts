import { atan2, hypot } from '../numeric/elementary.ts';
import { partPoint } from '../geometry/parts.ts';
import type { PromiseKinds } from '../recipe/language/promise.ts';
import { cellsOf, type Cells, firstHeight, fromEnd, lastCells, middleOf, ratiosOf } from './along.ts';
import { apart, type Measured, type PromiseMeasure } from './measure.ts';
import type { MeshView } from './mesh-view.ts';

/** Numbers that no geometry stands in the way of hold to this share. */
const exactly = 1e-6;
/** Numbers that geometry or a rounded count stands in the way of hold to this share. */
const nearly = 0.02;

type Spaced = 'first cell' | 'last cell' | 'cell growth' | 'bias';

/** A measure of every row of cells that a promise is about. */
function ofEach<K extends keyof PromiseKinds & Spaced>(
	take: (cells: Cells, promise: PromiseKinds[K], view: MeshView) => Measured[],
	unit: 'length' | 'ratio'
): PromiseMeasure<K> {
	return {
		overruled: 'spacing',
		saidBy: ['spacing', 'toward', 'divide'],
		unit,
		measure: ({ promise, pieces }, view) => cellsOf(view, pieces, promise.asOne).flatMap((cells) => take(cells, promise, view))
	};
}

/** The one of some numbers that is farthest from what was asked. */
const farthest = (asked: number, numbers: readonly number[]): number =>
	numbers.reduce((worst, n) => (apart(asked, n) > apart(asked, worst) ? n : worst), numbers[0] ?? asked);

function judged(
	view: MeshView,
	cells: Cells,
	what: string,
	asked: number,
	numbers: readonly number[],
	within: number
): Measured[] {
	if (numbers.length === 0) return [];
	const got = farthest(asked, numbers);
	return [
		{
			what: `${what} of “${cells.name}”`,
			asked,
			got,
			isKept: apart(asked, got) <= within,
			at: middleOf(view, cells),
			pieces: cells.pieces
		}
	];
}

/** Outlines of quadrilaterals alone have an even number of divisions: one may be added. */
const besideQuads = (view: MeshView, { pieces }: Cells): boolean =>
	pieces.some((p) => [2 * p, 2 * p + 1].some((side) => view.regionBeside(side)?.fill === 'quads'));

/** A measure of counts that follow from something: rounded, at least one. */
function counting<K extends 'count' | 'division size' | 'divisions a turn'>(
	what: string,
	wanted: (cells: Cells, value: number, view: MeshView) => number,
	room: number
): PromiseMeasure<K> {
	return {
		overruled: 'count',
		saidBy: ['count-conflict', 'periodic-count', 'spacing', 'divide'],
		unit: 'count',
		measure: ({ promise, pieces }, view) =>
			cellsOf(view, pieces, promise.asOne).map((cells) => {
				const exact = wanted(cells, promise.value, view);
				const got = cells.lengths.length;
				const slack = room > 0 && besideQuads(view, cells) ? room + 1 : room;
				return {
					what: `${what} of “${cells.name}”`,
					asked: Math.max(1, Math.round(exact)),
					got,
					isKept: Math.abs(Math.max(1, exact) - got) <= slack,
					at: middleOf(view, cells),
					pieces: cells.pieces
				};
			})
	};
}

/** How far a piece turns in all, in radians, seen on its polyline. */
function turnOf(view: MeshView, pieces: readonly number[]): number {
	let turn = 0;
	for (const p of pieces) {
		const line = view.lineOf(p);
		for (let k = 0; k + 5 < line.length; k += 2) {
			const [ax, ay] = [line[k + 2]! - line[k]!, line[k + 3]! - line[k + 1]!];
			const [bx, by] = [line[k + 4]! - line[k + 2]!, line[k + 5]! - line[k + 3]!];
			turn += Math.abs(atan2(ax * by - ay * bx, ax * bx + ay * by));
		}
		// The first and the last bit of a polyline lean on the curve by half of what the bits between turn.
		const bits = line.length / 2 - 1;
		if (bits > 1) turn *= bits / (bits - 1);
	}
	return turn;
}

export const count = counting<'count'>('divisions', (_, value) => value, 0);

export const divisionSize = counting<'division size'>('divisions', ({ length }, value) => length / value, 0.5 + 1e-6);

export const divisionsATurn = counting<'divisions a turn'>(
	'divisions',
	({ pieces }, value, view) => (value * turnOf(view, pieces)) / (2 * Math.PI),
	0.51
);

export const chordError: PromiseMeasure<'chord error'> = {
	overruled: 'count',
	saidBy: ['divide'],
	unit: 'length',
	measure: ({ promise, pieces }, view) =>
		pieces.flatMap((p): Measured[] => {
			const along = view.nodesAlong(p);
			const piece = view.arrangement.pieces[p]!;
			if (!along) return [];
			let worst = { off: 0, x: 0, y: 0 };
			const { x, y } = view.mesh;
			for (let k = 1; k < along.at.length; k++) {
				const [a, b] = [along.nodes[k - 1]!, along.nodes[k]!];
				const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
				for (let i = 1; i < 6; i++) {
					const q = partPoint(piece, along.at[k - 1]! + (i / 6) * (along.at[k]! - along.at[k - 1]!), piece.length);
					const off = Math.abs((q.x - x[a]!) * dy - (q.y - y[a]!) * dx) / (hypot(dx, dy) || 1);
					if (off > worst.off) worst = { off, ...q };
				}
			}
			const [cells] = cellsOf(view, [p]);
			return [
				{
					what: `distance of the edges from “${cells!.name}”`,
					asked: promise.value,
					got: worst.off,
					isKept: worst.off <= promise.value * (1 + 1e-4),
					at: { x: worst.x, y: worst.y },
					pieces: [p]
				}
			];
		})
};

export const firstCell = ofEach<'first cell'>((cells, promise, view) => {
	const directed = fromEnd(view, cells, promise);
	if (!directed) return [];
	const isHeight = typeof promise.toward === 'object';
	return judged(view, cells, 'first cell', promise.value, firstHeight(view, directed, promise), isHeight ? nearly : exactly);
}, 'length');

export const lastCell = ofEach<'last cell'>((cells, promise, view) => {
	const directed = fromEnd(view, cells, promise);
	return directed ? judged(view, cells, 'last cell', promise.value, lastCells(directed), nearly) : [];
}, 'length');

export const cellGrowth = ofEach<'cell growth'>((cells, promise, view) => {
	const directed = fromEnd(view, cells, promise);
	if (!directed) return [];
	const { largest = Infinity, value } = promise;
	// Up to the largest cell, and where two halves meet in the middle, cells may differ by less.
	const { lengths } = directed.cells;
	const grows = (k: number) => Math.max(lengths[k]!, lengths[k + 1]!) < largest / value;
	const ratios =
		largest === Infinity ? ratiosOf(directed) : directed.kind === 'one' ? ratiosOf(directed).filter((_, k) => grows(k)) : [];
	return judged(view, cells, 'growth', value, ratios, nearly);
}, 'ratio');

export const bias = ofEach<'bias'>((cells, promise, view) => {
	if (cells.lengths.length < 2) return [];
	const got = Math.max(...cells.lengths) / Math.min(...cells.lengths);
	const asked = Math.max(promise.value, 1 / promise.value);
	return judged(view, cells, 'bias', asked, [got], nearly);
}, 'ratio');

export const largestCell: PromiseMeasure<'largest cell'> = {
	overruled: 'spacing',
	saidBy: ['spacing', 'toward', 'divide'],
	unit: 'length',
	measure: ({ promise, pieces }, view) =>
		cellsOf(view, pieces, promise.asOne).map((cells) => {
			const got = Math.max(...cells.lengths);
			return {
				what: `largest cell of “${cells.name}”`,
				asked: promise.value,
				got,
				isKept: got <= promise.value * (1 + nearly),
				at: middleOf(view, cells),
				pieces: cells.pieces
			};
		})
};

export const positions: PromiseMeasure<'positions'> = {
	overruled: 'spacing',
	saidBy: ['spacing', 'toward', 'divide'],
	unit: 'share',
	measure: ({ promise, pieces }, view) =>
		cellsOf(view, pieces, promise.asOne).flatMap((cells): Measured[] => {
			const directed = fromEnd(view, cells, promise);
			if (!directed) return [];
			let along = 0;
			const found = directed.cells.lengths.slice(0, -1).map((l) => (along += l) / cells.length);
			const what = `positions of “${cells.name}”`;
			const place = { at: middleOf(view, cells), pieces: cells.pieces };
			const { fractions } = promise;
			const k = fractions.findIndex((f, i) => !(Math.abs((found[i] ?? NaN) - f) <= 1e-8));
			if (found.length !== fractions.length)
				return [{ what: `nodes inside “${cells.name}”`, asked: fractions.length, got: found.length, isKept: false, ...place }];
			if (k < 0) return [{ what, asked: fractions[0] ?? 0, got: found[0] ?? 0, isKept: true, ...place }];
			return [{ what, asked: fractions[k]!, got: found[k]!, isKept: false, ...place }];
		})
};

export const likeAnother: PromiseMeasure<'like another'> = {
	overruled: 'spacing',
	saidBy: ['divide', 'count-conflict', 'periodic-count'],
	unit: 'count',
	measure({ promise, pieces }, view) {
		const [other] = cellsOf(view, view.piecesOf([promise.other]));
		if (!other) return [];
		const shares = other.lengths.map((l) => l / other.length);
		return cellsOf(view, pieces).map((cells): Measured => {
			const mine = cells.lengths.map((l) => l / cells.length);
			const isSame = (list: readonly number[]) => list.every((s, k) => Math.abs(s - shares[k]!) <= 1e-8);
			const isLike = mine.length === shares.length && (isSame(mine) || isSame(mine.toReversed()));
			return {
				what: `divisions of “${cells.name}”, like “${other.name}”`,
				asked: shares.length,
				got: mine.length,
				isKept: isLike,
				at: middleOf(view, cells),
				pieces: cells.pieces
			};
		});
	}
};
