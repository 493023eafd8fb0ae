import { select } from './select.ts';
import { lasso } from './lasso.ts';
import { point } from './point.ts';
import { line } from './line.ts';
import { arc } from './arc.ts';
import { arcAround } from './arc-around.ts';
import { spline } from './spline.ts';
import { circle } from './circle.ts';
import { ellipse } from './ellipse.ts';
import { rectangle } from './rectangle.ts';
import { polygon } from './polygon.ts';
import { measure } from './measure.ts';
import { fillet } from './fillet.ts';
import { chamfer } from './chamfer.ts';
import { offset } from './offset.ts';
import { trim } from './trim.ts';
import { extend } from './extend.ts';
import { split } from './split.ts';
import { cut } from './cut.ts';
import { join } from './join.ts';
import { mirror } from './mirror.ts';
import { move } from './move.ts';
import { turn } from './turn.ts';
import { scale } from './scale.ts';
import { repeat } from './repeat.ts';
import { placePart } from './place-part.ts';
import { ring } from './ring.ts';
import { farBox, farCircle, farWake } from './far.ts';
import type { Tool } from './tool.ts';

/** Every tool, in the order in which they stand; the first is there when no other is. */
export const tools: readonly Tool[] = [
	select,
	lasso,
	point,
	line,
	arc,
	arcAround,
	spline,
	circle,
	ellipse,
	rectangle,
	polygon,
	measure,
	fillet,
	chamfer,
	offset,
	trim,
	extend,
	split,
	cut,
	join,
	mirror,
	move,
	turn,
	scale,
	repeat,
	ring,
	placePart,
	farBox,
	farCircle,
	farWake
];

export const toolNamed = (name: string): Tool => tools.find((t) => t.name === name)!;

/** The tools that only select: they are there in every station. */
export const pickingTools = tools.filter((t) => t.picks);
/** The tools that draw; the others change what is drawn. */
export const drawingTools = tools.filter((t) => t.group === 'draw');
export const changingTools = tools.filter((t) => t.group === 'change');
