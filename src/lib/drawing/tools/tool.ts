import { formatNumber } from '../../../core/recipe/language/literals.ts';
import type { Curve } from '../../../core/geometry/curve.ts';

/** A place to put something: where, what it snapped to, and how the recipe should write it. */
export interface Place {
	x: number;
	y: number;
	snap: Snap;
	/** The point that it is, or an expression like `(10, D/2)`. */
	source: string;
	/** Name of the point that it is. */
	point?: string;
	/** The curve on which it lies, with the share of that curve's length. */
	on?: { curve: string; share: number };
}

export type Snap =
	| 'grid'
	| 'point'
	| 'end'
	| 'crossing'
	| 'middle'
	| 'centre'
	| 'on curve'
	| 'tangent'
	| 'perpendicular'
	| 'aligned'
	| 'typed'
	| 'free';

/** What a tool asks for next. */
export type ToolInput =
	/** A place; `number` says what may be typed instead of it. */
	| { kind: 'place'; prompt: string; number?: string }
	/** Places until Enter, or a click on the first or last of them. */
	| { kind: 'places'; prompt: string; least: number }
	/** One curve, by a click on it; the place of the click is kept. */
	| { kind: 'curve'; prompt: string }
	/** The corner of two curves, by a click near it. */
	| { kind: 'corner'; prompt: string }
	/** Curves: what is selected, more by clicks; Enter goes on, without any it takes all. */
	| { kind: 'curves'; prompt: string }
	/** A line, an axis, or two places. */
	| { kind: 'mirror'; prompt: string }
	/** A curve, or a place that is a point or an end. */
	| { kind: 'target'; prompt: string }
	| { kind: 'number'; prompt: string; label: string; initial?: string };

export type ToolAnswer =
	| { kind: 'place'; place: Place }
	| { kind: 'places'; places: Place[] }
	| { kind: 'curve'; curve: string; x: number; y: number }
	| { kind: 'corner'; first: string; second: string; x: number; y: number }
	| { kind: 'curves'; curves: string[] }
	| { kind: 'mirror'; source: string }
	| { kind: 'number'; source: string; value: number };

/** What a tool may look at when it makes its statement. */
export interface Bench {
	/** Where the pointer is. */
	cursor: Place | undefined;
	/** Names of the curves that are selected. */
	selected: readonly string[];
	/** The part to be placed; undefined where there is none. */
	part: string | undefined;
	/** All curves, to see what goes on where. */
	curves: readonly Curve[];
	/** The curves that a statement would draw; undefined where something is wrong with it. */
	tryOut(source: string): Curve[] | undefined;
}

/** A tool of the drawing: what it asks for, and the statement that the answers make. All of them stand in `table.ts`. */
export interface Tool {
	name: string;
	title: string;
	key?: string;
	hint: string;
	/** Draws, or changes what is drawn. */
	group: 'draw' | 'change';
	asks: readonly ToolInput[];
	/** The stem of the names that it gives. */
	stem?: string;
	/** The statement for the answers given; undefined for answers that make none. */
	make?: (name: string, answers: readonly ToolAnswer[], bench: Bench) => string | undefined;
	/** The answers whose places become points of their own, so that they can be dragged later. */
	namesPlaces?: readonly number[];
	/** It goes on from its end, in one chain with the other tools that do: by itself, or when another such tool is taken. */
	chains?: 'itself' | 'when asked';
	/** Whether what it made is a closed outline; then the tool ends, and what it made is selected. */
	closes?: (answers: readonly ToolAnswer[]) => boolean;
	/** Why a place cannot be an answer; undefined where it can. */
	refuses?: (place: Place) => string | undefined;
	/** A number may be typed at once, for what is selected. */
	takesSelection?: boolean;
	/** A place may be given twice in a row. */
	staysPut?: boolean;
	/** It moves or copies curves: what belongs to them goes along. */
	movesCurves?: boolean;
	/** It makes nothing, and selects. */
	picks?: boolean;
	/** It makes nothing, and tells of the places that it is given. */
	measures?: boolean;
}

/** An answer of the kind that the tool asked for. */
export function answerOf<K extends ToolAnswer['kind']>(kind: K, a: ToolAnswer | undefined): Extract<ToolAnswer, { kind: K }> {
	const is = (one: ToolAnswer | undefined): one is Extract<ToolAnswer, { kind: K }> => one?.kind === kind;
	if (!is(a)) throw new Error(`an answer of kind ${kind} is needed`);
	return a;
}

export const place = (a: ToolAnswer | undefined): Place => answerOf('place', a).place;

export const curve = (a: ToolAnswer | undefined) => answerOf('curve', a);

export const number = (a: ToolAnswer | undefined): string => answerOf('number', a).source;

export const list = (a: ToolAnswer | undefined): string => answerOf('curves', a).curves.join(', ');

const round = (value: number) => Number(value.toPrecision(9));

export const write = (value: number) => formatNumber(round(value));

const away = (p: Place, q: Place) => Math.hypot(q.x - p.x, q.y - p.y);

/** A length: typed, or the distance to a place. */
export const length = (a: ToolAnswer | undefined, from: Place): string =>
	a?.kind === 'number' ? a.source : write(away(from, place(a)));

export function step(from: Place, to: Place): string {
	const plain = from.point === undefined && to.point === undefined;
	return plain
		? `(${write(to.x - from.x)}, ${write(to.y - from.y)})`
		: `(${to.source} - ${from.source})`.replace(/^\((.*)\)$/, '$1');
}

export function corner(name: string, kind: 'fillet' | 'chamfer', a: ToolAnswer | undefined, end: string): string {
	const { first, second, x, y } = answerOf('corner', a);
	return `${kind} ${name} = ${first} with ${second} near (${write(x)}, ${write(y)}) ${end}`;
}
