import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import type { FillInput } from '../method.ts';

/** What a cell of the grid is known to be. */
export const OUTSIDE = 0;
export const INSIDE = 1;
/** An edge passes through it, or may. */
export const MIXED = 2;

/**
 * A grid of squares over a region, each of which is known to lie inside, outside, or near an edge.
 */
export class InsideGrid {
	private readonly side: number;
	private readonly columns: number;
	private readonly rows: number;
	private readonly kinds: Uint8Array;

	/**
	 * @param box minX, minY, maxX, maxY of the region
	 * @param cells how many squares there are along its longer side
	 */
	constructor(
		{ x, y, edges }: FillInput,
		private readonly box: readonly [number, number, number, number],
		cells: number
	) {
		this.side = Math.max(box[2] - box[0], box[3] - box[1]) / cells;
		this.columns = Math.min(cells, Math.floor((box[2] - box[0]) / this.side)) + 1;
		this.rows = Math.min(cells, Math.floor((box[3] - box[1]) / this.side)) + 1;
		this.kinds = new Uint8Array(this.columns * this.rows);
		for (let k = 0; k < edges.length; k += 2) this.turnAtEdge(x, y, edges[k]!, edges[k + 1]!);
		const { columns, kinds } = this;
		for (let j = 0; j < this.rows; j++) for (let k = j * columns + 1; k < (j + 1) * columns; k++) kinds[k]! ^= kinds[k - 1]!;
		/** Wider than the rounding of a crossing. */
		const slack = 1e-9 * cells * this.side;
		for (let k = 0; k < edges.length; k += 2) this.markEdge(x, y, edges[k]!, edges[k + 1]!, slack);
	}

	/** Which middles have an odd number of edges to their left: a crossing turns all that lie right of it; here the first of them. */
	private turnAtEdge(x: Float64Array, y: Float64Array, a: number, b: number): void {
		const { box, side, columns, kinds } = this;
		const [low, high] = y[a]! < y[b]! ? [a, b] : [b, a];
		const slope = (x[high]! - x[low]!) / (y[high]! - y[low]!);
		// One row sooner than it seems: of two edges that meet in a middle, exactly one must count.
		const first = Math.max(0, Math.floor((y[low]! - box[1]) / side - 0.5));
		for (let j = first; j < this.rows; j++) {
			const middle = box[1] + (j + 0.5) * side;
			if (middle < y[low]!) continue;
			if (!(middle < y[high]!)) break;
			const crossing = x[low]! + (middle - y[low]!) * slope;
			const turned = Math.max(0, Math.ceil((crossing - box[0]) / side - 0.5));
			if (turned < columns) kinds[j * columns + turned]! ^= INSIDE;
		}
	}

	/** Marks the cells that an edge passes, row by row. */
	private markEdge(x: Float64Array, y: Float64Array, a: number, b: number, slack: number): void {
		const { box, side, columns, kinds } = this;
		const [low, high] = y[a]! < y[b]! ? [a, b] : [b, a];
		const last = this.row(y[high]! + slack);
		for (let j = this.row(y[low]! - slack); j <= last; j++) {
			const start = alongEdge(x, y, low, high, box[1] + j * side - slack);
			const end = alongEdge(x, y, low, high, box[1] + (j + 1) * side + slack);
			const to = this.column(Math.max(start, end) + slack);
			for (let i = this.column(Math.min(start, end) - slack); i <= to; i++) kinds[j * columns + i] = MIXED;
		}
	}

	private column(px: number): number {
		return Math.min(this.columns - 1, Math.max(0, Math.floor((px - this.box[0]) / this.side)));
	}

	private row(py: number): number {
		return Math.min(this.rows - 1, Math.max(0, Math.floor((py - this.box[1]) / this.side)));
	}

	/** What the cell of a place is. */
	at(px: number, py: number): number {
		const i = Math.floor((px - this.box[0]) / this.side);
		const j = Math.floor((py - this.box[1]) / this.side);
		return i < 0 || j < 0 || i >= this.columns || j >= this.rows ? OUTSIDE : this.kinds[j * this.columns + i]!;
	}
}

/** Where an edge is at a height, of its lower end below it and of its upper end above. */
function alongEdge(x: Float64Array, y: Float64Array, low: number, high: number, py: number): number {
	const rise = y[high]! - y[low]!;
	const share = rise > 0 ? Math.min(1, Math.max(0, (py - y[low]!) / rise)) : py > y[low]! ? 1 : 0;
	return x[low]! + share * (x[high]! - x[low]!);
}

keepHiddenClass(new InsideGrid({ x: new Float64Array(), y: new Float64Array(), edges: new Uint32Array() }, [0, 0, 1, 1], 1));
