import type { LayerNumbers } from '../../recipe/layer-numbers.ts';

/** A wall: the stack that it asks for, and how many elements are to fit between it and what it faces. */
export interface Wall extends LayerNumbers {
	toSize?: boolean;
	gap: number;
	/** In narrow places all cells stay, and become lower. */
	squeeze?: boolean;
	/** The cells are cut along their shorter diagonals. */
	halved?: boolean;
}

/** One column of cells, and where it is now. */
export interface Stack {
	/** Its uppermost node, and where that is. */
	node: number;
	x: number;
	y: number;
	baseX: number;
	baseY: number;
	wall: number;
	count: number;
	/** The most cells that it may have. */
	most: number;
	/** Its heights over those of its wall. */
	scale: number;
	/** Grows no more. */
	done: boolean;
	/** Why it stopped short: for want of room, rather than at an end. */
	isHeldUp: boolean;
	/** Mean width of its cells at the wall. */
	width: number;
	height: number;
	/** For one of a fan: the fan, and its direction. */
	fan: number;
	fanX: number;
	fanY: number;
	/** How far the wall turns inward at it; 0 where it is no corner. */
	corner: number;
	/** Nodes that a piece without layers offers, from the wall on, and the edges between them. */
	carried: { nodes: number[]; edges: number[]; slope: number } | undefined;
	/** Neighbours along the front; −1 for none. */
	before: number;
	after: number;
	/** Where it would go next, and whether it may. */
	nextX: number;
	nextY: number;
	moves: boolean;
	/** Left normal of the front at it. */
	normalX: number;
	normalY: number;
	/** Steps along the normals of the front before and after it, for what slides between corners. */
	stepX: number;
	stepY: number;
	/** The largest cosine of a corner of the next cell between it and the one after. */
	cosine: number;
}
