import type { Curve } from '../../geometry/curve.ts';
import { sameNumbers } from '../../numeric/same.ts';
import type { Statement } from '../language/syntax.ts';

const drawn = new WeakMap<Statement, { numbers: ArrayLike<number>; curve: Curve }>();

/**
 * The curve that a statement draws from some numbers: the same as the last time where those are the same, so that nothing
 * that was made of it need be made again.
 */
export function drawnFrom(statement: Statement, numbers: ArrayLike<number>, draw: () => Curve): Curve {
	const before = drawn.get(statement);
	if (before && sameNumbers(before.numbers, numbers)) return before.curve;
	const curve = draw();
	drawn.set(statement, { numbers, curve });
	return curve;
}
