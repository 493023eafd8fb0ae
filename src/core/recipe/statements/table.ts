import { recipe } from './recipe.ts';
import { title } from './title.ts';
import { units } from './units.ts';
import { frame } from './frame.ts';
import { parameter } from './let.ts';
import { point } from './point.ts';
import { node } from './node.ts';
import { line } from './line.ts';
import { polyline } from './polyline.ts';
import { spline } from './spline.ts';
import { rectangle } from './rectangle.ts';
import { polygon } from './polygon.ts';
import { arc } from './arc.ts';
import { circle } from './circle.ts';
import { ellipse } from './ellipse.ts';
import { bezier } from './bezier.ts';
import { bspline } from './bspline.ts';
import { curve } from './curve.ts';
import { drawing } from './drawing.ts';
import { boundary } from './boundary.ts';
import { filletStatement } from './fillet.ts';
import { chamferStatement } from './chamfer.ts';
import { offset } from './offset.ts';
import { trim } from './trim.ts';
import { extend } from './extend.ts';
import { split } from './split.ts';
import { join } from './join.ts';
import { copy } from './copy.ts';
import { mirror } from './mirror.ts';
import { move } from './move.ts';
import { turn } from './turn.ts';
import { scale } from './scale.ts';
import { repeat } from './repeat.ts';
import { cut } from './cut.ts';
import { far } from './far.ts';
import { part, partEnd } from './part.ts';
import { placement } from './place.ts';
import { region } from './region.ts';
import { divide } from './divide.ts';
import { layers } from './layers.ts';
import { fill } from './fill.ts';
import { size } from './size.ts';
import { group } from './group.ts';
import { baffle } from './baffle.ts';
import { owner } from './owner.ts';
import { periodic } from './periodic.ts';
import { solid } from './solid.ts';
import { order } from './order.ts';
import { delivery } from './deliver.ts';
import { study } from './study.ts';
import type { StatementRecord } from '../language/statement.ts';

/** Every kind of statement, in the order in which they are listed. */
export const statements: readonly StatementRecord[] = [
	recipe,
	title,
	units,
	frame,
	parameter,
	point,
	node,
	line,
	polyline,
	spline,
	rectangle,
	polygon,
	arc,
	circle,
	ellipse,
	bezier,
	bspline,
	curve,
	drawing,
	boundary,
	filletStatement,
	chamferStatement,
	offset,
	trim,
	extend,
	split,
	join,
	copy,
	mirror,
	move,
	turn,
	scale,
	repeat,
	cut,
	far,
	part,
	partEnd,
	placement,
	region,
	divide,
	layers,
	fill,
	size,
	group,
	baffle,
	owner,
	periodic,
	solid,
	order,
	delivery,
	study
];
