import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { pow } from '../../numeric/elementary.ts';
import { type LayerNumbers, mostLayers, progressionSum } from '../../recipe/model/layer-numbers.ts';

/** The largest width of an element behind, over the height of the last cell. */
const widest = 3;

/** A wall: the stack that it asks for, and how many elements are to fit between it and what it faces. */
export interface LayerRequest extends LayerNumbers {
	toSize?: boolean;
	/** As it is typed; where it is not, half an element to each side, and less in narrow places. */
	gap?: number;
	/** In narrow places all cells stay, and become lower. */
	squeeze?: boolean;
	/** In narrow places cells stay as high as asked, and upper ones are left out. */
	exact?: boolean;
	/** The cells are cut along their shorter diagonals. */
	halved?: boolean;
}

/** The walls around a region. */
export interface WallRuns {
	walls: readonly LayerRequest[];
	/** For each edge of the region its wall, −1 for none. */
	wallOf: Int32Array;
	/** Where first heights vary: those at the start and end of each edge over that of its wall. */
	scales?: Float64Array;
	/** Where walls are curved: the directions of their curves at the start and end of each edge, unit vectors; NaN where there is none. */
	directions?: Float64Array;
}

/** What a piece without layers offers to the last stack of a wall: nodes, from the wall on, and the edges between them. */
export interface Carrier {
	nodes: number[];
	edges: number[];
	/** How high each node is over the wall, square to it. */
	heights: number[];
}

/** Stacks side by side along walls that follow one another, numbered in their order. */
export interface Chain {
	first: number;
	last: number;
	/** After the last comes the first. */
	closed: boolean;
	/** Stacks from one inside corner, fan or carrier to the next, both included: along these, nodes may slide. */
	sides: Int32Array[];
}

/** Columns of cells, and where each is now: one slot a stack in every array. */
export class Stacks {
	readonly length: number;
	/** Uppermost node, and where that is. */
	readonly node: Uint32Array;
	readonly x: Float64Array;
	readonly y: Float64Array;
	/** Where it stands on the wall. */
	readonly baseX: Float64Array;
	readonly baseY: Float64Array;
	readonly wall: Int32Array;
	/** Cells that it has, and the most that it may have. */
	readonly count: Uint32Array;
	readonly most: Uint32Array;
	/** The cells that are asked of it. */
	readonly wanted: Uint32Array;
	/** Heights over those of its wall. */
	readonly scale: Float64Array;
	/** Ratio of a cell's height to that of the one below. */
	readonly growth: Float64Array;
	/** The edge of the input that begins where it stands; the one that ends there, where {@link isAtEnd}. */
	readonly edge: Int32Array;
	readonly isAtEnd: Uint8Array;
	/** Width at the wall of the cells between it and the stack after it. */
	readonly wide: Float64Array;
	/** Length of the front's edge between it and the stack after it. */
	readonly long: Float64Array;
	/** The same as it is to be at the front: no width is far below the one beside it. */
	readonly wideAbove: Float64Array;
	/** Mean width of its cells at the wall. */
	readonly width: Float64Array;
	/** Height of its next cell. */
	readonly height: Float64Array;
	/** How thick it would be as asked, how thick it could become, and how far its first cell leans, in degrees. */
	readonly askedThickness: Float64Array;
	readonly room: Float64Array;
	readonly lean: Float64Array;
	/** 1 where it grows no more. */
	readonly done: Uint8Array;
	/** 1 where it stopped short for want of room, rather than at an end. */
	readonly isHeldUp: Uint8Array;
	/** 1 where it takes the next step. */
	readonly moves: Uint8Array;
	/** First stack of the fan that it belongs to, −1 for none. */
	readonly fan: Int32Array;
	/** How far the wall turns inward at it; 0 where it is no corner. */
	readonly corner: Float64Array;
	/** Its place in {@link carriers}, −1 for none. */
	readonly carrier: Int32Array;
	readonly carriers: Carrier[] = [];
	/** Neighbours along the front; −1 for none. */
	readonly before: Int32Array;
	readonly after: Int32Array;
	/** Where it would go next. */
	readonly nextX: Float64Array;
	readonly nextY: Float64Array;
	/** Left normal of the front; of a fan the direction that it keeps. */
	readonly normalX: Float64Array;
	readonly normalY: Float64Array;
	/** Left normal of the true curve of the wall; 0, 0 where there is none, or a corner. */
	readonly curveX: Float64Array;
	readonly curveY: Float64Array;
	/** Step along the normal. */
	readonly stepX: Float64Array;
	readonly stepY: Float64Array;
	/** Largest cosine of a corner of the next cell between it and the one after. */
	readonly cosine: Float64Array;

	/** By wall and number of cells, for a scale of 1: the height of so many together, and of the one that follows them. */
	private readonly thicknesses: Float64Array[];
	private readonly heights: Float64Array[];

	constructor(
		length: number,
		readonly walls: readonly LayerRequest[]
	) {
		const doubles = () => new Float64Array(length);
		this.length = length;
		this.node = new Uint32Array(length);
		[this.x, this.y, this.baseX, this.baseY] = [doubles(), doubles(), doubles(), doubles()];
		this.wall = new Int32Array(length);
		[this.count, this.most, this.wanted] = [new Uint32Array(length), new Uint32Array(length), new Uint32Array(length)];
		[this.wide, this.wideAbove, this.room, this.lean] = [doubles(), doubles(), doubles(), doubles()];
		[this.askedThickness, this.long] = [doubles(), doubles()];
		[this.growth, this.edge, this.isAtEnd] = [doubles(), new Int32Array(length), new Uint8Array(length)];
		[this.scale, this.width, this.height, this.corner] = [doubles(), doubles(), doubles(), doubles()];
		[this.done, this.isHeldUp, this.moves] = [new Uint8Array(length), new Uint8Array(length), new Uint8Array(length)];
		[this.fan, this.carrier] = [new Int32Array(length).fill(-1), new Int32Array(length).fill(-1)];
		[this.before, this.after] = [new Int32Array(length), new Int32Array(length)];
		[this.nextX, this.nextY, this.normalX, this.normalY] = [doubles(), doubles(), doubles(), doubles()];
		[this.curveX, this.curveY] = [doubles(), doubles()];
		[this.stepX, this.stepY, this.cosine] = [doubles(), doubles(), doubles()];
		const table = (of: (wall: LayerRequest, n: number) => number) =>
			walls.map((wall) => Float64Array.from({ length: (wall.toSize ? mostLayers : wall.count) + 1 }, (_, n) => of(wall, n)));
		this.thicknesses = table(({ growth }, n) => progressionSum(n, growth));
		this.heights = table(cellHeight);
	}

	/** The height of the lower cells of a stack together. */
	thickness(k: number, count: number): number {
		const wall = this.wall[k]!;
		const { first, growth } = this.walls[wall]!;
		const sum = this.growth[k] === growth ? this.thicknesses[wall]![count]! : progressionSum(count, this.growth[k]!);
		return this.scale[k]! * first * sum;
	}

	/** The height of one cell of a stack, counted from 0 at the wall. */
	cellHeight(k: number, layer: number): number {
		const wall = this.wall[k]!;
		const { first, growth } = this.walls[wall]!;
		return this.scale[k]! * (this.growth[k] === growth ? this.heights[wall]![layer]! : first * pow(this.growth[k]!, layer));
	}

	/** How wide the elements behind a stack are taken to be, where one of its cells is the last. */
	widthBehind(k: number, layer: number): number {
		return Math.min(this.width[k]!, widest * this.cellHeight(k, Math.max(0, layer)));
	}

	/** What a stack's carrier is, where it has one. */
	carrierOf(k: number): Carrier | undefined {
		const at = this.carrier[k]!;
		return at < 0 ? undefined : this.carriers[at];
	}
}

/** How many elements are to fit between a stack and what it faces. */
export const elementsBetween = ({ walls, wall }: Stacks, k: number): number => walls[wall[k]!]!.gap ?? usualBetween;

/** Where nothing is said: half an element to each side. */
const usualBetween = 1;

/** The height of one cell of a stack whose heights are those of its wall. */
export const cellHeight = ({ first, growth }: LayerRequest, layer: number): number => first * pow(growth, layer);

keepHiddenClass(new Stacks(0, []));
