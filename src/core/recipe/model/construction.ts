import { CurveBuilder } from '../../geometry/build.ts';
import { type Curve, extent, type Point, toleranceOfBox } from '../../geometry/curve.ts';
import { endOf, startOf } from '../../geometry/meet.ts';
import { type Affine, reverseCurve, transformCurve } from '../../geometry/transform.ts';
import { hypot } from '../../numeric/elementary.ts';
import { evaluatePoint } from './expressions.ts';
import type { CurveReference, Expression } from '../language/syntax.ts';
import { round, type EvaluationContext } from './evaluation-context.ts';
import { UserError } from '../../text/user-error.ts';

/** Two points nearer than this are one while curves are built: as in the arrangement of the curves at hand. */
export function toleranceOf(curves: readonly Curve[]): number {
	const box = extent(curves);
	return box ? toleranceOfBox(box) : 0;
}

/** The diagonal of the box around curves, and points if there are any. */
export function sizeOf(curves: readonly Curve[], points: readonly Point[] = []): number {
	const box = extent(curves) ?? [Infinity, Infinity, -Infinity, -Infinity];
	const x = [box[0], box[2], ...points.map((p) => p.x)];
	const y = [box[1], box[3], ...points.map((p) => p.y)];
	const size = hypot(Math.max(...x) - Math.min(...x), Math.max(...y) - Math.min(...y));
	return Number.isFinite(size) ? size : 0;
}

export const curvesOf = (references: readonly CurveReference[], context: EvaluationContext): number[] => [
	...new Set(references.flatMap((r) => context.curves(r)))
];

export const centreOf = (e: Expression | undefined, context: EvaluationContext): Point =>
	e ? evaluatePoint(e, context.scope) : { x: 0, y: 0 };

/** Puts curves end to end in whatever order they are named, turning round those that run against the first; throws RangeError where they do not meet. */
export function chain(list: readonly Curve[], name: string): Curve {
	if (list.length === 1) return list[0]!;
	const tolerance = 1000 * toleranceOf(list);
	const near = (p: Point, q: Point) => hypot(p.x - q.x, p.y - q.y) <= tolerance;
	for (const curve of list) if (curve.closed) throw new UserError(`“${curve.name}” is closed and joins nothing`);
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
		throw new UserError(
			`“${left[0]!.name}” does not meet the chain of the others, which ends at (${round(startOf(ordered[0]!).x)}, ${round(startOf(ordered[0]!).y)}) and (${round(end.x)}, ${round(end.y)})`
		);
	const builder = new CurveBuilder();
	for (const curve of ordered) builder.along(curve);
	return builder.build(name, near(startOf(ordered[0]!), end));
}

/** Maps curves where they stand. */
export function place(statement: { curves: CurveReference[] }, map: Affine, context: EvaluationContext): void {
	const { curves } = context.model;
	context.replace(curvesOf(statement.curves, context).map((c) => [c, transformCurve(curves[c]!, map)]));
}

/** Adds an image of the curves for every map: `m` for one image of one curve, `m.wall` or `m.wall_2` otherwise. */
export function copies(
	statement: { name: { text: string }; curves: CurveReference[] },
	maps: readonly Affine[],
	context: EvaluationContext
): void {
	const name = statement.name.text;
	const list = curvesOf(statement.curves, context);
	const only = statement.curves.length === 1 ? `${statement.curves[0]!.name}.` : '';
	maps.forEach((map, k) => {
		for (const c of list) {
			const source = context.model.curves[c]!;
			if (list.length === 1 && maps.length === 1) {
				context.add(transformCurve(source, map, name));
				continue;
			}
			const bare = source.name.startsWith(only) ? source.name.slice(only.length) : source.name;
			const stem = bare.replaceAll('.', '_');
			context.add(transformCurve(source, map, `${name}.${stem}${maps.length === 1 ? '' : `_${k + 2}`}`), name);
		}
	});
}
