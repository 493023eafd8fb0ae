import { cos, hypot, sin } from '../numeric/elementary.ts';
import {
	arcCurve,
	bsplineCurve,
	circleCurve,
	CurveBuilder,
	ellipseCurve,
	formulaCurve,
	lineCurve,
	polylineCurve,
	tangent
} from '../geometry/build.ts';
import { segmentCount, type Curve, type Point } from '../geometry/curve.ts';
import { endOf, startOf } from '../geometry/meet.ts';
import { splineCurve, type EndConditions } from '../geometry/spline.ts';
import {
	compose,
	identity,
	mapPoint,
	rotation,
	scaling,
	transformCurve,
	translation,
	type Affine
} from '../geometry/transform.ts';
import { evaluate, evaluatePoint } from './expressions.ts';
import { compileJet } from './jets.ts';
import type { Outline } from './model.ts';
import { didYouMean } from '../text/nearest.ts';
import type { Expression, Placing, SplineEnds, StatementOf, Word } from './syntax.ts';
import { lengthUnits, toRecipeUnits } from './units.ts';
import { constructed, fail, round, same, type Workshop } from './workshop.ts';

type Outlined = StatementOf<'polyline' | 'spline'>;
export type CurveStatement =
	| Outlined
	| StatementOf<'line' | 'rectangle' | 'polygon' | 'arc' | 'circle' | 'ellipse' | 'bezier' | 'bspline' | 'curve' | 'drawing'>;

/** Makes the curves of a statement that draws them. */
export function makeCurve(statement: CurveStatement, shop: Workshop): void {
	const name = statement.name.text;
	const point = (e: Expression): Point => evaluatePoint(e, shop.scope);
	switch (statement.kind) {
		case 'line': {
			const [a, b] = [point(statement.start), point(statement.end)];
			if (same(a, b)) fail(statement.end, `the line ends where it starts, at (${a.x}, ${a.y})`);
			return shop.add(lineCurve(name, a, b));
		}
		case 'arc': {
			const [a, b] = [point(statement.start), point(statement.end)];
			if (same(a, b)) fail(statement.end, 'the arc ends where it starts; a full circle is a `circle`');
			if (statement.centre) return shop.add(arcAround(statement, a, b, point(statement.centre)));
			if (statement.radius) return shop.add(arcOfRadius(statement, a, b, shop.positive(statement.radius, 'a radius')));
			if (statement.tangent) return shop.add(arcTangent(statement, a, b, shop));
			return shop.add(arcThrough(statement, a, b, point(statement.through!)));
		}
		case 'circle':
			return shop.add(circleCurve(name, point(statement.centre), shop.positive(statement.radius, 'a radius')));
		case 'ellipse': {
			const [a, b] = statement.radii.map((r) => shop.positive(r, 'a radius')) as [number, number];
			const turned = statement.turned ? shop.number(statement.turned, 'angle') : 0;
			const from = statement.from ? shop.number(statement.from, 'angle') : 0;
			const sweep = statement.to ? shop.number(statement.to, 'angle') - from : 2 * Math.PI;
			if (!(Math.abs(sweep) > 0 && Math.abs(sweep) <= 2 * Math.PI + 1e-12))
				fail(statement.to!, 'an elliptical arc runs over more than nothing and at most a full turn');
			const [c, s] = [cos(turned), sin(turned)];
			const [u, v] = [
				{ x: a * c, y: a * s },
				{ x: -b * s, y: b * c }
			];
			return shop.add(ellipseCurve(name, point(statement.centre), u, v, from, sweep));
		}
		case 'polygon':
			return shop.add(regularPolygon(statement, shop));
		case 'rectangle':
			return addRectangle(statement, shop);
		case 'bezier': {
			const points = statement.points.map(point);
			if (points.length < 3 || points.length > 6)
				fail(statement.name, `a Bézier curve has 3 to 6 points, its ends and what pulls it between them; found ${points.length}`);
			return shop.add(new CurveBuilder().rational(points.flatMap((p) => [p.x, p.y, 1])).build(name, false));
		}
		case 'bspline': {
			const points = statement.points.map(point);
			const degree = shop.number(statement.degree, 'number');
			const weights = statement.weights?.map((w) => shop.number(w, 'number')) ?? points.map(() => 1);
			const knots = statement.knots?.map((k) => shop.number(k, 'number')) ?? uniformKnots(points.length, degree);
			return shop.add(constructed(statement.degree, () => bsplineCurve(name, degree, points, weights, knots)));
		}
		case 'curve':
			return shop.add(analyticCurve(statement, shop));
		case 'drawing':
			return addDrawing(statement, shop);
		default: {
			const { x, y, closed, lines } = pointsOf(statement, shop);
			const least = closed ? 3 : 2;
			if (x.length < least)
				fail(
					statement.name,
					`${closed ? 'a closed curve' : 'a curve'} needs at least ${least} different points, found ${x.length}`
				);
			if (statement.kind === 'polyline') return shop.add(polylineCurve(name, x, y, closed), name, lines);
			const corners = statement.corners && shop.number(statement.corners, 'angle');
			if (corners !== undefined && !(corners > 0)) fail(statement.corners!, 'the turn of a corner is above zero, like 30 deg');
			const ends = statement.ends && endConditions(statement.ends, shop);
			if (ends && closed) fail(statement.name, 'a closed spline has no ends; leave `ends` out');
			return shop.add(splineCurve(name, x, y, closed, statement.parameter, ends, corners), name, lines);
		}
	}
}

function endConditions(ends: SplineEnds, shop: Workshop): EndConditions {
	if (ends.kind !== 'clamped') return ends;
	const direction = (e: Expression): Point => {
		const d = evaluatePoint(e, shop.scope);
		if (d.x === 0 && d.y === 0) fail(e, 'a direction is not (0, 0)');
		return d;
	};
	return { kind: 'clamped', start: direction(ends.start), end: direction(ends.end) };
}

function arcAround(statement: StatementOf<'arc'>, a: Point, b: Point, m: Point): Curve {
	const [ra, rb] = [hypot(a.x - m.x, a.y - m.y), hypot(b.x - m.x, b.y - m.y)];
	if (ra === 0) fail(statement.centre!, 'the centre lies on the start of the arc');
	if (Math.abs(ra - rb) > 1e-6 * ra)
		fail(statement.centre!, `the start is ${round(ra)} from this centre and the end ${round(rb)}; both must be at one distance`);
	return arcCurve(statement.name.text, a, b, m, statement.clockwise);
}

function arcThrough(statement: StatementOf<'arc'>, a: Point, b: Point, p: Point): Curve {
	// Circumcentre relative to a.
	const [bx, by, px, py] = [b.x - a.x, b.y - a.y, p.x - a.x, p.y - a.y];
	const cross = bx * py - by * px;
	const [bb, pp] = [bx * bx + by * by, px * px + py * py];
	if (Math.abs(cross) <= 1e-12 * Math.sqrt(bb * pp))
		fail(statement.through!, 'this point lies on the straight line through both ends, so no arc passes through all three');
	const centre = { x: a.x + (py * bb - by * pp) / (2 * cross), y: a.y + (bx * pp - px * bb) / (2 * cross) };
	return arcCurve(statement.name.text, a, b, centre, cross > 0);
}

function arcOfRadius(statement: StatementOf<'arc'>, a: Point, b: Point, radius: number): Curve {
	const [dx, dy] = [b.x - a.x, b.y - a.y];
	const chord = hypot(dx, dy);
	if (radius < (chord / 2) * (1 - 1e-12))
		fail(
			statement.radius!,
			`the ends are ${round(chord)} apart, so the radius is at least ${round(chord / 2)}, found ${round(radius)}`
		);
	const height = Math.sqrt(Math.max(0, radius * radius - (chord * chord) / 4));
	// The centre of the short counter-clockwise arc lies to the left of the chord.
	const side = (statement.clockwise ? -1 : 1) * (statement.long ? -1 : 1);
	const centre = { x: (a.x + b.x) / 2 - (side * height * dy) / chord, y: (a.y + b.y) / 2 + (side * height * dx) / chord };
	return arcCurve(statement.name.text, a, b, centre, statement.clockwise);
}

function arcTangent(statement: StatementOf<'arc'>, a: Point, b: Point, shop: Workshop): Curve {
	const other = shop.model.curves[shop.curve(statement.tangent!)]!;
	const count = segmentCount(other);
	const size = hypot(b.x - a.x, b.y - a.y);
	const away = (p: Point) => hypot(p.x - a.x, p.y - a.y);
	let d: Point;
	if (away(endOf(other)) <= 1e-6 * size) d = tangent(other, count - 1, 1);
	else if (away(startOf(other)) <= 1e-6 * size) {
		const out = tangent(other, 0, 0);
		d = { x: -out.x, y: -out.y };
	} else fail(statement.tangent!, `\`${other.name}\` has no end at the start of the arc, (${round(a.x)}, ${round(a.y)})`);
	const [bx, by] = [b.x - a.x, b.y - a.y];
	const across = d.x * by - d.y * bx;
	if (Math.abs(across) <= 1e-12 * size) fail(statement.end, `the end lies straight ahead of \`${other.name}\`; that is a line`);
	// The centre is on the normal at a, as far from b as from a.
	const r = (bx * bx + by * by) / (2 * across);
	return arcCurve(statement.name.text, a, b, { x: a.x - r * d.y, y: a.y + r * d.x }, across < 0);
}

function regularPolygon(statement: StatementOf<'polygon'>, shop: Workshop): Curve {
	const sides = shop.number(statement.sides, 'number');
	if (!(Number.isInteger(sides) && sides >= 3 && sides <= 10_000))
		fail(statement.sides, `a polygon has 3 to 10000 sides, a whole number; found ${sides}`);
	const radius = shop.positive(statement.radius, 'a radius');
	const turned = statement.turned ? shop.number(statement.turned, 'angle') : 0;
	const centre = evaluatePoint(statement.centre, shop.scope);
	const at = (f: (a: number) => number, from: number) =>
		Float64Array.from({ length: sides }, (_, k) => from + radius * f(turned + (2 * Math.PI * k) / sides));
	const curve = polylineCurve(statement.name.text, at(cos, centre.x), at(sin, centre.y), true);
	curve.corners = Array.from({ length: sides }, (_, k) => k);
	return curve;
}

function addRectangle(statement: StatementOf<'rectangle'>, shop: Workshop): void {
	const name = statement.name.text;
	let corners: Point[];
	if (statement.centre) {
		const centre = evaluatePoint(statement.centre, shop.scope);
		const halfWidth = shop.positive(statement.width!, 'a width') / 2;
		const halfHeight = shop.positive(statement.height!, 'a height') / 2;
		const turn = statement.turned ? rotation(shop.number(statement.turned, 'angle'), centre) : identity;
		corners = [
			[-1, -1],
			[1, -1],
			[1, 1],
			[-1, 1]
		].map(([i, j]) => mapPoint(turn, { x: centre.x + i! * halfWidth, y: centre.y + j! * halfHeight }));
	} else {
		const p = evaluatePoint(statement.corner!, shop.scope);
		const q = evaluatePoint(statement.opposite!, shop.scope);
		if (statement.third) corners = threePointRectangle(statement, p, q, evaluatePoint(statement.third, shop.scope));
		else {
			if (p.x === q.x || p.y === q.y)
				fail(statement.opposite!, 'the two corners lie on one line; a rectangle needs opposite corners');
			const [a, b] = [
				{ x: Math.min(p.x, q.x), y: Math.min(p.y, q.y) },
				{ x: Math.max(p.x, q.x), y: Math.max(p.y, q.y) }
			];
			corners = [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
		}
	}
	['bottom', 'right', 'top', 'left'].forEach((side, k) =>
		shop.add(lineCurve(`${name}.${side}`, corners[k]!, corners[(k + 1) % 4]!), name)
	);
}

/** The first two points are the ends of its bottom, the third lies on its top. */
function threePointRectangle(statement: StatementOf<'rectangle'>, p: Point, q: Point, r: Point): Point[] {
	const [dx, dy] = [q.x - p.x, q.y - p.y];
	const height = (dx * (r.y - p.y) - dy * (r.x - p.x)) / (dx * dx + dy * dy);
	if (!(Math.abs(height) > 1e-12))
		fail(statement.third!, 'the three points lie on one line; the third gives the height of the rectangle');
	const [ux, uy] = [-dy * height, dx * height];
	const corners = [p, q, { x: q.x + ux, y: q.y + uy }, { x: p.x + ux, y: p.y + uy }];
	return height > 0 ? corners : [q, p, corners[3]!, corners[2]!];
}

const uniformKnots = (points: number, degree: number): number[] =>
	Array.from({ length: points + degree + 1 }, (_, k) => Math.min(Math.max(k - degree, 0), points - degree));

function analyticCurve(statement: StatementOf<'curve'>, shop: Workshop): Curve {
	const { value, parameter } = statement;
	if (value.kind !== 'pair')
		fail(value, `a curve by formula is a point of two expressions, like (20*cos(${parameter.text}), 12*sin(${parameter.text}))`);
	const from = shop.number(statement.from, 'any');
	const to = shop.number(statement.to, 'any');
	if (from === to) fail(statement.to, 'the parameter ends where it starts');
	// One plain evaluation first: it finds every mistake in names and kinds.
	const inner = {
		...shop.scope,
		units: shop.scope.units,
		lookup: (name: string) =>
			name === parameter.text ? ({ kind: 'number', value: (from + to) / 2, dimension: null } as const) : shop.scope.lookup(name)
	};
	evaluate(value, inner);
	const [x, y] = [compileJet(value.x, inner, parameter.text), compileJet(value.y, inner, parameter.text)];
	const formula = (t: number) => {
		const [px, dx, ddx] = x(t);
		const [py, dy, ddy] = y(t);
		if (![px, dx, ddx, py, dy, ddy].every(Number.isFinite))
			throw new RangeError(`the formula or its derivatives have no value at ${parameter.text} = ${round(t)}`);
		return { x: px, y: py, dx, dy, ddx, ddy };
	};
	return constructed(value, () => {
		let size = 0;
		const first = formula(from);
		for (let k = 1; k <= 16; k++) {
			const p = formula(from + ((to - from) * k) / 16);
			size = Math.max(size, hypot(p.x - first.x, p.y - first.y));
		}
		return formulaCurve(statement.name.text, formula, from, to, 1e-12 * size);
	});
}

/** The points of a polyline or spline; neighbours that repeat, to rounding, are taken once. */
function pointsOf(statement: Outlined, shop: Workshop): Outline & { closed: boolean } {
	const outline = statement.file ? outlineFromFile(statement, statement.file, shop) : outlineWritten(statement, shop);
	const x: number[] = [];
	const y: number[] = [];
	const lines: number[] = [];
	const small = 1e-12 * outlineSize(outline);
	const near = (i: number, px: number, py: number) => hypot(outline.x[i]! - px, outline.y[i]! - py) <= small;
	for (let i = 0; i < outline.x.length; i++) {
		if (x.length > 0 && near(i, x.at(-1)!, y.at(-1)!)) continue;
		x.push(outline.x[i]!);
		y.push(outline.y[i]!);
		if (outline.lines) lines.push(outline.lines[i]!);
	}
	// A curve that comes back to its start is closed, said or not.
	const returns = x.length > 2 && hypot(x[0]! - x.at(-1)!, y[0]! - y.at(-1)!) <= small;
	if (returns) {
		x.pop();
		y.pop();
	}
	return {
		x: Float64Array.from(x),
		y: Float64Array.from(y),
		closed: statement.closed || returns,
		...(outline.lines ? { lines: Uint32Array.from(lines) } : {})
	};
}

/** The larger side of the box around an outline. */
function outlineSize({ x, y }: Outline): number {
	const span = (values: Float64Array) =>
		values.reduce((m, v) => Math.max(m, v), -Infinity) - values.reduce((m, v) => Math.min(m, v), Infinity);
	return Math.max(span(x), span(y));
}

function outlineWritten(statement: Outlined, shop: Workshop): Outline {
	const points = statement.points.map((p) => evaluatePoint(p, shop.scope));
	return { x: Float64Array.from(points, (p) => p.x), y: Float64Array.from(points, (p) => p.y) };
}

function fileNamed(word: Word, shop: Workshop) {
	const file = shop.files[word.text];
	if (!file) fail(word, `there is no file \`${word.text}\` beside this recipe${didYouMean(word.text, Object.keys(shop.files))}`);
	if ('error' in file) fail(word, `\`${word.text}\`: ${file.error}`);
	return file;
}

/** The map that a placing stands for: scaled and turned about the origin, then moved. */
function placement(placing: Placing | undefined, shop: Workshop, unitScale = 1): Affine {
	const origin = { x: 0, y: 0 };
	let map = scaling(unitScale, origin);
	if (placing?.scaled) {
		const factor = shop.number(placing.scaled, 'number');
		if (factor === 0) fail(placing.scaled, 'a scale of zero leaves nothing');
		map = compose(scaling(factor, origin), map);
	}
	if (placing?.turned) map = compose(rotation(shop.number(placing.turned, 'angle'), origin), map);
	if (placing?.moved) {
		const step = evaluatePoint(placing.moved, shop.scope);
		map = compose(translation(step.x, step.y), map);
	}
	return map;
}

/**
 * An outline of a file, the first unless another is asked for. `from p` moves it so that its first row lies on p; `from p to q`
 * also stretches each axis so that its last row lies on q.
 */
function outlineFromFile(statement: Outlined, word: Word, shop: Workshop): Outline {
	const file = fileNamed(word, shop);
	if ('drawing' in file) fail(word, `\`${word.text}\` is a drawing; take its curves with \`drawing name = from "${word.text}"\``);
	let outline = chosenOutline(statement, word, file.outlines, shop);
	const placed = placement(statement.placing, shop);
	shop.model.fileMaps.set(statement.name.text, placed);
	if (statement.placing && Object.keys(statement.placing).length > 0) {
		const map = placed;
		const points = Array.from(outline.x, (x, k) => mapPoint(map, { x, y: outline.y[k]! }));
		outline = { ...outline, x: Float64Array.from(points, (p) => p.x), y: Float64Array.from(points, (p) => p.y) };
	}
	const start = statement.start && evaluatePoint(statement.start, shop.scope);
	const end = statement.end && evaluatePoint(statement.end, shop.scope);
	if (!start && !end) return outline;
	const stretch = { x: { scale: 1, step: 0 }, y: { scale: 1, step: 0 } };
	const map = (axis: 'x' | 'y'): Float64Array => {
		const values = outline[axis];
		const [first, last] = [values[0]!, values.at(-1)!];
		if (!start || !end) {
			const step = start ? start[axis] - first : end![axis] - last;
			stretch[axis] = { scale: 1, step };
			return values.map((v) => v + step);
		}
		if (first === last) {
			if (start[axis] !== end[axis])
				fail(
					statement.end!,
					`the rows of \`${word.text}\` start and end at the same ${axis}, so it cannot be stretched from ${axis} = ${start[axis]} to ${end[axis]}`
				);
			stretch[axis] = { scale: 1, step: start[axis] - first };
			return values.map((v) => v - first + start[axis]);
		}
		const scale = (end[axis] - start[axis]) / (last - first);
		stretch[axis] = { scale, step: start[axis] - first * scale };
		const mapped = values.map((v) => start[axis] + (v - first) * scale);
		mapped[mapped.length - 1] = end[axis];
		return mapped;
	};
	const moved = { ...outline, x: map('x'), y: map('y') };
	const { x, y } = stretch;
	shop.model.fileMaps.set(statement.name.text, compose({ a: x.scale, b: 0, c: 0, d: y.scale, e: x.step, f: y.step }, placed));
	return moved;
}

/** The outline, columns and rows that a statement asks for. */
function chosenOutline(statement: Outlined, word: Word, outlines: Outline[], shop: Workshop): Outline {
	const count = outlines.length;
	const number = Number(statement.outline?.text ?? 1);
	let outline = outlines[number - 1];
	if (!outline)
		fail(statement.outline!, `\`${word.text}\` holds ${count} outline${count === 1 ? '' : 's'}; there is no outline ${number}`);
	if (!statement.outline && count > 1)
		shop.report(
			`\`${word.text}\` holds ${count} outlines; a curve takes the first unless \`outline 2\` and so on follows the file's name`,
			word.from,
			word.to,
			'several-outlines',
			'warning'
		);
	if (statement.columns) {
		const columns = outline.columns ?? [outline.x, outline.y];
		const clause = statement.clauses.find((c) => c.name === 'columns')!;
		const [x, y] = statement.columns.map(
			(c) => columns[c - 1] ?? fail(clause, `\`${word.text}\` has ${columns.length} columns of numbers; there is no column ${c}`)
		) as [Float64Array, Float64Array];
		outline = { ...outline, x, y };
	}
	if (statement.without) {
		const { lines } = outline;
		const drop = new Set(
			statement.without.map((row) => {
				const line = Number(row.text);
				if (!lines?.includes(line)) fail(row, `line ${line} of \`${word.text}\` holds no point of this outline`);
				return line;
			})
		);
		const keep = (_: number, k: number) => !drop.has(lines![k]!);
		outline = {
			x: outline.x.filter(keep),
			y: outline.y.filter(keep),
			...(lines ? { lines: lines.filter((l) => !drop.has(l)) } : {})
		};
	}
	return outline;
}

/** Adds the curves of a drawing file: `part` is all of them, `part.walls` those of a layer, `part.walls_2` the second of these. */
function addDrawing(statement: StatementOf<'drawing'>, shop: Workshop): void {
	const file = fileNamed(statement.file, shop);
	if (!('drawing' in file))
		fail(
			statement.file,
			`\`${statement.file.text}\` holds coordinates; take it with \`polyline name = through "${statement.file.text}"\``
		);
	const { drawing } = file;
	const name = statement.name.text;
	const units = shop.scope.units;
	const unitScale = drawing.unit && lengthUnits.includes(drawing.unit) ? toRecipeUnits(1, drawing.unit, units) : 1;
	const map = placement(statement.placing, shop, unitScale);
	const layers = [...new Set(drawing.curves.map((c) => c.layer))];
	for (const wanted of statement.layers ?? [])
		if (!layers.includes(wanted.text))
			fail(
				wanted,
				`\`${statement.file.text}\` has no curves on a layer \`${wanted.text}\`${didYouMean(wanted.text, layers) || `; there are ${layers.join(', ')}`}`
			);
	const chosen = drawing.curves.filter((c) => !statement.layers || statement.layers.some((l) => l.text === c.layer));
	if (chosen.length === 0) fail(statement.file, `\`${statement.file.text}\` holds no curves`);
	const { curvesByName, curves } = shop.model;
	const perLayer = new Map<string, number>();
	for (const { curve, layer } of chosen) {
		const own = `${name}.${layerName(layer)}`;
		const number = (perLayer.get(own) ?? 0) + 1;
		perLayer.set(own, number);
		shop.add(transformCurve(curve, map, `${own}_${number}`), name);
		const list = curvesByName.get(own);
		if (list) list.push(curves.length - 1);
		else curvesByName.set(own, [curves.length - 1]);
	}
}

/** A layer's name as a name of the recipe. */
export function layerName(layer: string): string {
	const clean = layer.replace(/[^\p{L}\p{N}_]+/gu, '_').replace(/^_+|_+$/g, '');
	return /^[\p{L}_]/u.test(clean) ? clean : `layer_${clean || 'unnamed'}`;
}
