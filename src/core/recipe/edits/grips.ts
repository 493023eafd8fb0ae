import type { Point } from '../../geometry/curve.ts';
import { isLiteral } from '../language/literals.ts';
import type { Dimensioned, Grip, ValueReader, Rewrite } from '../language/statement.ts';
import type { Expression } from '../language/syntax.ts';

/** A grip at a place that is written as a pair with a number in it; it leaves what is a formula. */
export function pairGrip(e: unknown, look: ValueReader): Grip[] {
	const pair = e as Expression | undefined;
	if (pair?.kind !== 'pair' || (!isLiteral(pair.x) && !isLiteral(pair.y))) return [];
	return [{ ...look.point(pair), move: (to) => movePair(pair, to) }];
}

/** A place that is written as a pair brought elsewhere; nothing where it is no pair of numbers. */
export function movePair(e: Expression | undefined, to: Point): Rewrite[] {
	if (e?.kind !== 'pair') return [];
	return [...(isLiteral(e.x) ? [{ of: e.x, as: to.x }] : []), ...(isLiteral(e.y) ? [{ of: e.y, as: to.y }] : [])];
}

/** A grip that sets one number; none where it is a formula. */
export const numberGrip = (of: Expression | undefined, at: Point, value: (to: Point) => number): Grip[] =>
	of && isLiteral(of)
		? [
				{
					...at,
					move: (to) => {
						const as = value(to);
						return as > 0 ? [{ of, as }] : [];
					}
				}
			]
		: [];

/** A dimension that is written as an expression of its own. */
export const writtenDimension = (label: string, of: Expression | undefined, look: ValueReader): Dimensioned[] =>
	of ? [{ label, value: look.number(of), of, set: (source) => [{ of, as: source }] }] : [];
