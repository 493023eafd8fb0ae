import { atan2, cos, hypot, sin } from '../numeric/elementary.ts';
import { extent } from '../geometry/arrangement.ts';
import { circleCurve, CurveBuilder, lineCurve, tangent } from '../geometry/build.ts';
import { chamfer, fillet } from '../geometry/corner.ts';
import {
	ARC,
	arcOf,
	curveLength,
	lengthAt,
	LINE,
	locate,
	parameterAtLength,
	pointAt,
	segmentCount,
	type Curve,
	type Point
} from '../geometry/curve.ts';
import { endOf, meetings, nearestOnCurve, startOf } from '../geometry/meet.ts';
import { offsetCurve } from '../geometry/offset.ts';
import { partArea } from '../geometry/parts.ts';
import {
	partCurve,
	reflection,
	reverseCurve,
	rotation,
	scaling,
	transformCurve,
	translation,
	type Affine
} from '../geometry/transform.ts';
import { evaluate, evaluatePoint } from './expressions.ts';
import type { CurveReference, Expression, Statement, StatementOf } from './syntax.ts';
import { fits } from './values.ts';
import { constructed, fail, round, type Workshop } from './workshop.ts';

const kinds = [
	...(['fillet', 'chamfer', 'offset', 'trim', 'extend', 'split', 'join'] as const),
	...(['mirror', 'move', 'turn', 'scale', 'repeat', 'cut', 'far'] as const)
];
export type BuildingStatement = StatementOf<(typeof kinds)[number]>;
export const isBuilding = (statement: Statement): statement is BuildingStatement =>
	(kinds as readonly string[]).includes(statement.kind);

/** Works a statement that makes curves from curves or changes them where they stand. */
export function build(statement: BuildingStatement, shop: Workshop): void {
	switch (statement.kind) {
		case 'fillet':
		case 'chamfer':
			return cutCorner(statement, shop);
		case 'offset':
			return offset(statement, shop);
		case 'trim':
			return trim(statement, shop);
		case 'extend':
			return extend(statement, shop);
		case 'split':
			return split(statement, shop);
		case 'join':
			return join(statement, shop);
		case 'mirror':
			return copies(statement, [mirrorMap(statement, shop)], shop);
		case 'move': {
			const step = evaluatePoint(statement.by, shop.scope);
			return place(statement, translation(step.x, step.y), shop);
		}
		case 'turn': {
			const angle = shop.number(statement.by, 'angle');
			return place(statement, rotation(angle, centreOf(statement.centre, shop)), shop);
		}
		case 'scale': {
			const factor = shop.number(statement.by, 'number');
			if (factor === 0) fail(statement.by, 'a scale of zero leaves nothing');
			return place(statement, scaling(factor, centreOf(statement.centre, shop)), shop);
		}
		case 'repeat':
			return repeat(statement, shop);
		case 'cut':
			return cut(statement, shop);
		case 'far':
			return far(statement, shop);
	}
}

/** Two points nearer than this are one while curves are built: 1e-9 of the size of the curves at hand. */
function toleranceOf(curves: readonly Curve[]): number {
	const box = extent([...curves]);
	return box ? 1e-9 * hypot(box[2] - box[0], box[3] - box[1]) : 0;
}

const curvesOf = (references: readonly CurveReference[], shop: Workshop): number[] => [
	...new Set(references.flatMap((r) => shop.curves(r)))
];

const centreOf = (e: Expression | undefined, shop: Workshop): Point => (e ? evaluatePoint(e, shop.scope) : { x: 0, y: 0 });

function cutCorner(statement: StatementOf<'fillet' | 'chamfer'>, shop: Workshop): void {
	const [a, b] = [shop.curve(statement.first), shop.curve(statement.second)];
	if (a === b) fail(statement.second, 'a corner is between two curves; split this one first');
	const { curves } = shop.model;
	const [first, second] = [curves[a]!, curves[b]!];
	for (const [curve, reference] of [
		[first, statement.first],
		[second, statement.second]
	] as const)
		if (curve.closed)
			fail(reference, `\`${curve.name}\` is closed and has no corner with another curve; split and trim it first`);
	const near = statement.near && evaluatePoint(statement.near, shop.scope);
	const tolerance = 10 * toleranceOf([first, second]);
	const name = statement.name.text;
	const [one, two] = statement.lengths;
	const result = constructed(statement.clauses.find((c) => c.name === 'radius' || c.name === 'lengths') ?? statement.name, () => {
		if (statement.kind === 'fillet') return fillet(name, first, second, shop.positive(one!, 'a radius'), tolerance, near);
		if (statement.lengths.length > 2) fail(statement.lengths[2]!, 'a chamfer takes one length, or two');
		const lengths = [one!, two ?? one!].map((e) => shop.positive(e, 'a length')) as [number, number];
		return chamfer(name, first, second, lengths, tolerance, near);
	});
	curves[a] = result.first;
	curves[b] = result.second;
	shop.add(result.between);
}

/** Puts curves end to end in whatever order they are named, turning round those that run against the first; throws RangeError where they do not meet. */
function chain(list: readonly Curve[], name: string): Curve {
	if (list.length === 1) return list[0]!;
	const tolerance = 1000 * toleranceOf(list);
	const near = (p: Point, q: Point) => hypot(p.x - q.x, p.y - q.y) <= tolerance;
	for (const curve of list) if (curve.closed) throw new RangeError(`\`${curve.name}\` is closed and joins nothing`);
	const left = [...list.slice(1)];
	const ordered = [list[0]!];
	/** Takes a curve that meets `at` out of those left, turned so that it starts (or ends) there. */
	const take = (at: Point, asStart: boolean): Curve | undefined => {
		const k = left.findIndex((curve) => near(startOf(curve), at) || near(endOf(curve), at));
		if (k < 0) return undefined;
		const [curve] = left.splice(k, 1) as [Curve];
		return near(asStart ? startOf(curve) : endOf(curve), at) ? curve : reverseCurve(curve);
	};
	for (let next = take(endOf(ordered[0]!), true); next; next = take(endOf(next), true)) ordered.push(next);
	for (let before = take(startOf(ordered[0]!), false); before; before = take(startOf(before), false)) ordered.unshift(before);
	const end = endOf(ordered.at(-1)!);
	if (left.length > 0)
		throw new RangeError(
			`\`${left[0]!.name}\` does not meet the chain of the others, which ends at (${round(startOf(ordered[0]!).x)}, ${round(startOf(ordered[0]!).y)}) and (${round(end.x)}, ${round(end.y)})`
		);
	const builder = new CurveBuilder();
	for (const curve of ordered) builder.along(curve);
	return builder.build(name, near(startOf(ordered[0]!), end));
}

function join(statement: StatementOf<'join'>, shop: Workshop): void {
	const list = curvesOf(statement.curves, shop);
	if (list.length < 2) fail(statement.curves[0]!, 'joining takes two curves or more');
	const { curves } = shop.model;
	const name = statement.name.text;
	const joined = constructed(statement.curves[0]!, () =>
		chain(
			list.map((c) => curves[c]!),
			name
		)
	);
	shop.remove(list, `this curve was joined into \`${name}\`; use that`);
	shop.add(joined);
}

function offset(statement: StatementOf<'offset'>, shop: Workshop): void {
	const list = curvesOf(statement.curves, shop).map((c) => shop.model.curves[c]!);
	const name = statement.name.text;
	const by = shop.positive(statement.by, 'a distance');
	const along = constructed(statement.curves[0]!, () => chain(list, name));
	if (!along.closed && (statement.side === 'inside' || statement.side === 'outside'))
		fail(statement.curves[0]!, `the chain is open, so it has no ${statement.side}; say left or right of its direction`);
	const inward = along.closed && partArea({ curve: along, t0: 0, t1: segmentCount(along) }, startOf(along)) > 0 ? 1 : -1;
	const sides = { left: [1], right: [-1], both: [1, -1], inside: [inward], outside: [-inward] }[statement.side];
	const parts = sides.flatMap((side) => offsetCurve(name, along, side * by, statement.mitred));
	if (parts.length === 0) fail(statement.by, `nothing is ${round(by)} away on that side; the chain is too narrow there`);
	if (parts.length === 1) return shop.add(parts[0]!);
	parts.forEach((part, k) => shop.add({ ...part, name: `${name}.part${k + 1}` }, name));
}

function trim(statement: StatementOf<'trim'>, shop: Workshop): void {
	const c = shop.curve(statement.curve);
	const { curves } = shop.model;
	const curve = curves[c]!;
	const cutters = shop
		.curves(statement.to)
		.filter((k) => k !== c)
		.map((k) => curves[k]!);
	const tolerance = toleranceOf([curve, ...cutters]);
	const keep = evaluatePoint(statement.keep, shop.scope);
	const count = segmentCount(curve);
	const stops = [...new Set(cutters.flatMap((k) => meetings(curve, k, tolerance)).map((m) => m.s))].sort((a, b) => a - b);
	const inner = stops.filter(
		(t) => curve.closed || (lengthAt(curve, t) > 4 * tolerance && curveLength(curve) - lengthAt(curve, t) > 4 * tolerance)
	);
	if (inner.length === 0) fail(statement.to, `\`${statement.to.name}\` does not cut \`${curve.name}\``);
	if (curve.closed && inner.length === 1)
		fail(
			statement.to,
			`\`${statement.to.name}\` cuts the closed \`${curve.name}\` only once; it takes two cuts to take a part away`
		);
	const { t } = nearestOnCurve(curve, keep);
	const after = inner.find((s) => s > t);
	const before = inner.filter((s) => s <= t).at(-1);
	if (curve.closed) {
		const from = before ?? inner.at(-1)! - count;
		const to = after ?? inner[0]! + count;
		curves[c] = from < 0 ? partCurve(curve, from + count, to + count, curve.name) : partCurve(curve, from, to, curve.name);
	} else curves[c] = partCurve(curve, before ?? 0, after ?? count, curve.name);
}

/** Lengthens the end of a curve that is nearer to another one until it meets it: lines and arcs go on as they are, others straight. */
function extend(statement: StatementOf<'extend'>, shop: Workshop): void {
	const c = shop.curve(statement.curve);
	const { curves } = shop.model;
	const curve = curves[c]!;
	if (curve.closed) fail(statement.curve, `\`${curve.name}\` is closed and has no end to extend`);
	const targets = shop
		.curves(statement.to)
		.filter((k) => k !== c)
		.map((k) => curves[k]!);
	const tolerance = toleranceOf([curve, ...targets]);
	const reach = toleranceOf(targets.concat(curve)) * 3e9;
	let best: { length: number; curve: Curve } | undefined;
	for (const atEnd of [true, false]) {
		const run = atEnd ? curve : reverseCurve(curve);
		const last = segmentCount(run) - 1;
		const more = continuation(run, reach);
		for (const target of targets)
			for (const place of meetings(more, target, tolerance)) {
				const length = lengthAt(more, place.s);
				if (length <= 4 * tolerance || (best && best.length <= length)) continue;
				const builder = new CurveBuilder();
				if (last > 0) builder.along(run, 0, last);
				if (run.kinds[last] === LINE) builder.line(pointAt(run, last), place);
				else if (run.kinds[last] === ARC) {
					const { centre, radius, from, sweep } = arcOf(run, last);
					builder.arc(pointAt(run, last), place, centre, radius, from, sweep + Math.sign(sweep) * (length / radius));
				} else builder.along(run, last).line(endOf(run), place);
				const extended = builder.build(curve.name, false);
				best = { length, curve: atEnd ? extended : reverseCurve(extended) };
			}
	}
	if (!best) fail(statement.to, `\`${curve.name}\` does not meet \`${statement.to.name}\` however far it goes on`);
	curves[c] = best.curve;
}

/** What follows the end of a curve: the rest of its circle after an arc, otherwise a straight line. */
function continuation(curve: Curve, reach: number): Curve {
	const last = segmentCount(curve) - 1;
	const end = endOf(curve);
	if (curve.kinds[last] === ARC) {
		const { centre, radius, from, sweep } = arcOf(curve, last);
		const rest = Math.sign(sweep) * (2 * Math.PI - Math.abs(sweep)) * (1 - 1e-9);
		const angle = from + sweep + rest;
		const stop = { x: centre.x + radius * cos(angle), y: centre.y + radius * sin(angle) };
		return new CurveBuilder().arc(end, stop, centre, radius, from + sweep, rest).build('', false);
	}
	const d = tangent(curve, last, 1);
	return lineCurve('', end, { x: end.x + reach * d.x, y: end.y + reach * d.y });
}

/** Makes junctions on a curve where it stands: at points, at crossings, at shares of its length, or in n equal parts. */
function split(statement: StatementOf<'split'>, shop: Workshop): void {
	const c = shop.curve(statement.curve);
	const { curves } = shop.model;
	const curve = curves[c]!;
	const length = curveLength(curve);
	const stops: number[] = [];
	if (statement.into) {
		const parts = shop.number(statement.into, 'number');
		if (!(Number.isInteger(parts) && parts >= 2 && parts <= 10_000))
			fail(statement.into, `a curve is split into 2 to 10000 parts, a whole number; found ${parts}`);
		for (let k = curve.closed ? 0 : 1; k < parts; k++) stops.push(parameterAtLength(curve, (k / parts) * length));
	}
	for (const e of statement.at ?? []) {
		const others = shop.curvesNamed(e);
		if (others) {
			const tolerance = toleranceOf([curve, ...others.map((k) => curves[k]!)]);
			const places = others.flatMap((k) => meetings(curve, curves[k]!, tolerance));
			if (places.length === 0) fail(e, `this curve does not meet \`${curve.name}\``);
			stops.push(...places.map((p) => p.s));
			continue;
		}
		const value = evaluate(e, shop.scope);
		if (value.kind === 'number') {
			if (!fits(value.dimension, 'number') || !(value.value >= 0 && value.value <= 1))
				fail(e, `a share of the length is a plain number between 0 and 1, found ${round(value.value)}`);
			stops.push(parameterAtLength(curve, value.value * length));
			continue;
		}
		const { t, distance } = nearestOnCurve(curve, value);
		if (distance > 1e-6 * length)
			fail(
				e,
				`(${round(value.x)}, ${round(value.y)}) is ${round(distance)} away from \`${curve.name}\`; \`nearest(${curve.name}, …)\` gives a point on it`
			);
		stops.push(t);
	}
	curves[c] = withJunctions(curve, stops);
}

/** The same curve with a junction at each of the parameters. */
function withJunctions(curve: Curve, stops: readonly number[]): Curve {
	const count = segmentCount(curve);
	const sorted = [...new Set(stops)].filter((t) => t > 0 && t < count).sort((a, b) => a - b);
	const wholeStart = curve.closed && stops.some((t) => t === 0 || t === count);
	const builder = new CurveBuilder();
	const joints: number[] = wholeStart ? [0] : [];
	let from = 0;
	// Old joints keep their place in the order, new ones come between.
	const corners = curve.corners.map((k) => k + sorted.filter((t) => t < k && t !== Math.floor(t)).length);
	for (const t of [...sorted, count]) {
		builder.along(curve, from, t);
		if (t < count) joints.push(builder.count);
		from = t;
	}
	const image = builder.build(curve.name, curve.closed);
	image.corners = [...new Set([...corners, ...joints])].sort((a, b) => a - b);
	return image;
}

function mirrorMap(statement: StatementOf<'mirror'>, shop: Workshop): Affine {
	const { across, to } = statement;
	if (to) {
		const [p, q] = [evaluatePoint(across, shop.scope), evaluatePoint(to, shop.scope)];
		if (p.x === q.x && p.y === q.y) fail(to, 'the two points of the mirror line are one');
		return reflection(p, q);
	}
	const named = shop.curvesNamed(across);
	if (named) {
		const curve = shop.model.curves[named[0]!]!;
		if (named.length > 1 || segmentCount(curve) !== 1 || curve.kinds[0] !== LINE)
			fail(across, 'the mirror is a straight line, two points, or an axis');
		return reflection(startOf(curve), endOf(curve));
	}
	if (across.kind === 'name') {
		const { frame } = shop.model;
		const axis = across.name === 'axis' && frame.kind === 'axisymmetric' ? frame.axis : across.name;
		if (axis === 'x') return reflection({ x: 0, y: 0 }, { x: 1, y: 0 });
		if (axis === 'y') return reflection({ x: 0, y: 0 }, { x: 0, y: 1 });
		if (axis === 'axis') fail(across, 'a planar recipe has no axis; mirror across `x`, `y`, a line, or `p to q`');
	}
	return fail(across, 'the mirror is a straight line of the drawing, two points as `p to q`, or the axis `x` or `y`');
}

/** Moves curves where they stand, or a copy of them when the statement has a name. */
function place(statement: StatementOf<'move' | 'turn' | 'scale'>, map: Affine, shop: Workshop): void {
	if (statement.name) return copies({ ...statement, name: statement.name }, [map], shop);
	const { curves } = shop.model;
	for (const c of curvesOf(statement.curves, shop)) curves[c] = transformCurve(curves[c]!, map);
}

/** Adds an image of the curves for every map: `m` for one image of one curve, `m.wall` or `m.wall_2` otherwise. */
function copies(statement: { name: { text: string }; curves: CurveReference[] }, maps: readonly Affine[], shop: Workshop): void {
	const name = statement.name.text;
	const list = curvesOf(statement.curves, shop);
	const only = statement.curves.length === 1 ? `${statement.curves[0]!.name}.` : '';
	maps.forEach((map, k) => {
		for (const c of list) {
			const source = shop.model.curves[c]!;
			if (list.length === 1 && maps.length === 1) {
				shop.add(transformCurve(source, map, name));
				continue;
			}
			const own = source.name.startsWith(only) ? source.name.slice(only.length) : source.name;
			const stem = own.replaceAll('.', '_');
			shop.add(transformCurve(source, map, `${name}.${stem}${maps.length === 1 ? '' : `_${k + 2}`}`), name);
		}
	});
}

function repeat(statement: StatementOf<'repeat'>, shop: Workshop): void {
	const count = shop.number(statement.count, 'number');
	if (!(Number.isInteger(count) && count >= 2 && count <= 10_000))
		fail(statement.count, `the count, with the original, is a whole number from 2 to 10000; found ${count}`);
	const maps: Affine[] = [];
	if (statement.centre) {
		const centre = evaluatePoint(statement.centre, shop.scope);
		const step = statement.by ? shop.number(statement.by, 'angle') : (2 * Math.PI) / count;
		for (let k = 1; k < count; k++) maps.push(rotation(k * step, centre));
	} else {
		const step = evaluatePoint(statement.by!, shop.scope);
		for (let k = 1; k < count; k++) maps.push(translation(k * step.x, k * step.y));
	}
	copies(statement, maps, shop);
}

/**
 * A straight cut to a curve or a point. Without a direction it goes the shortest way, square to the curve
 * that it starts from or, from a point, to the one that it ends on.
 */
function cut(statement: StatementOf<'cut'>, shop: Workshop): void {
	const { curves } = shop.model;
	const name = statement.name.text;
	const targets = shop.curvesNamed(statement.end)?.map((c) => curves[c]!);
	const turned = statement.turned ? shop.number(statement.turned, 'angle') : 0;
	let from: Point;
	let direction: number | undefined = statement.heading && shop.number(statement.heading, 'angle');
	const sources = shop.curvesNamed(statement.start);
	if (statement.share || sources) {
		if (!sources) fail(statement.start, '`at` follows the name of a curve');
		if (sources.length > 1) fail(statement.start, `this names ${sources.length} curves; a cut starts on one of them`);
		if (!statement.share) fail(statement.start, 'say where on this curve the cut starts, like `at 0.5` for its middle');
		const curve = curves[sources[0]!]!;
		const share = shop.number(statement.share, 'number');
		if (!(share >= 0 && share <= 1)) fail(statement.share, `a share of the length is between 0 and 1, found ${share}`);
		const t = parameterAtLength(curve, share * curveLength(curve));
		from = pointAt(curve, t);
		if (direction === undefined && targets) {
			const { segment, u } = locate(curve, t);
			const d = tangent(curve, segment, u);
			// Square to the curve, on the side on which the target is hit first.
			const reach = 3e9 * toleranceOf(targets.concat(curve));
			const hits = [1, -1].flatMap((side) => {
				const angle = atan2(side * d.x, -side * d.y) + turned;
				const hit = firstHit(from, angle, reach, targets);
				return hit ? [hit] : [];
			});
			const [nearest] = hits.sort((a, b) => a.length - b.length);
			if (!nearest) fail(statement.end, `a cut square to \`${curve.name}\` does not meet this curve`);
			return shop.add(lineCurve(name, from, nearest));
		}
	} else from = evaluatePoint(statement.start, shop.scope);
	if (!targets) {
		const to = evaluatePoint(statement.end, shop.scope);
		if (from.x === to.x && from.y === to.y) fail(statement.end, 'the cut ends where it starts');
		return shop.add(lineCurve(name, from, to));
	}
	const reach = 3e9 * toleranceOf([...targets, lineCurve('', from, { x: from.x + 1e-30, y: from.y })]);
	if (direction === undefined) {
		const feet = targets.map((curve) => ({ curve, ...nearestOnCurve(curve, from) }));
		const foot = feet.reduce((a, b) => (b.distance < a.distance ? b : a));
		if (!(foot.distance > 0))
			fail(statement.start, 'the point lies on this curve already; start at the other one, or give a heading');
		const p = pointAt(foot.curve, foot.t);
		if (turned === 0) return shop.add(lineCurve(name, from, p));
		direction = atan2(p.y - from.y, p.x - from.x) + turned;
	}
	const hit = firstHit(from, direction, reach, targets);
	if (!hit) fail(statement.end, `a cut from (${round(from.x)}, ${round(from.y)}) in this direction does not meet this curve`);
	shop.add(lineCurve(name, from, hit));
}

/** Where a ray first meets one of the curves, away from its start. */
function firstHit(
	from: Point,
	angle: number,
	reach: number,
	targets: readonly Curve[]
): (Point & { length: number }) | undefined {
	const ray = lineCurve('', from, { x: from.x + reach * cos(angle), y: from.y + reach * sin(angle) });
	const tolerance = reach * 1e-12;
	return targets
		.flatMap((curve) => meetings(ray, curve, tolerance))
		.map(({ x, y, s }) => ({ x, y, length: s * reach }))
		.filter((p) => p.length > 1e-9 * reach)
		.sort((a, b) => a.length - b.length)[0];
}

/** The far boundary around curves, at a multiple of their length from their middle. */
function far(statement: StatementOf<'far'>, shop: Workshop): void {
	const list = curvesOf(statement.curves, shop).map((c) => shop.model.curves[c]!);
	const [minX, minY, maxX, maxY] = extent(list)!;
	const by = shop.number(statement.by, 'number');
	if (!(by >= 1)) fail(statement.by, `the far boundary is at least 1 length away, found ${by}`);
	const reach = by * Math.max(maxX - minX, maxY - minY);
	const middle = { x: (minX + maxX) / 2, y: (minY + maxY) / 2 };
	const name = statement.name.text;
	if (statement.shape === 'circle') return shop.add(circleCurve(name, middle, reach));
	const [left, right, bottom, top] = [middle.x - reach, middle.x + reach, middle.y - reach, middle.y + reach];
	const side = (own: string, ax: number, ay: number, bx: number, by: number) =>
		shop.add(lineCurve(`${name}.${own}`, { x: ax, y: ay }, { x: bx, y: by }), name);
	if (statement.shape === 'box') {
		side('bottom', left, bottom, right, bottom);
		side('right', right, bottom, right, top);
		side('top', right, top, left, top);
		side('left', left, top, left, bottom);
		return;
	}
	// The C shape: a half circle upstream, straight sides downstream (along x).
	side('bottom', middle.x, bottom, right, bottom);
	side('right', right, bottom, right, top);
	side('top', right, top, middle.x, top);
	const [a, b] = [
		{ x: middle.x, y: top },
		{ x: middle.x, y: bottom }
	];
	shop.add(new CurveBuilder().arc(a, b, middle, reach, Math.PI / 2, Math.PI).build(`${name}.left`, false), name);
}
