import { LINE, segmentCount } from '../../../geometry/curve.ts';
import { endOf, startOf } from '../../../geometry/meet.ts';
import { type Affine, reflection } from '../../../geometry/transform.ts';
import { evaluatePoint } from '../../model/expressions.ts';
import type { Expression } from '../../language/syntax.ts';
import { fail, type EvaluationContext } from '../../model/evaluation-context.ts';

/** A line to mirror across: `p to q`, a straight line of the drawing, or an axis. */
export interface MirrorLine {
	across: Expression;
	to?: Expression;
}

/** The reflection at such a line. Throws {@link ExpressionError}. */
export function mirrorMap({ across, to }: MirrorLine, context: EvaluationContext): Affine {
	if (to) {
		const [p, q] = [evaluatePoint(across, context.scope), evaluatePoint(to, context.scope)];
		if (p.x === q.x && p.y === q.y) fail(to, 'the two points of the mirror line are one');
		return reflection(p, q);
	}
	const named = context.curvesNamed(across);
	if (named) {
		const curve = context.model.curves[named[0]!]!;
		if (named.length > 1 || segmentCount(curve) !== 1 || curve.kinds[0] !== LINE)
			fail(across, 'the mirror is a straight line, two points, or an axis');
		return reflection(startOf(curve), endOf(curve));
	}
	if (across.kind === 'name') {
		const { frame } = context.model;
		const axis = across.name === 'axis' && frame.kind === 'axisymmetric' ? frame.axis : across.name;
		if (axis === 'x') return reflection({ x: 0, y: 0 }, { x: 1, y: 0 });
		if (axis === 'y') return reflection({ x: 0, y: 0 }, { x: 0, y: 1 });
		if (axis === 'axis') fail(across, 'a planar recipe has no axis; mirror across “x”, “y”, a line, or “p to q”');
	}
	return fail(across, 'the mirror is a straight line of the drawing, two points as “p to q”, or the axis “x” or “y”');
}
