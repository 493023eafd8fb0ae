import { isLiteral } from '../recipe/language/literals.ts';
import type { Expression } from '../recipe/language/syntax.ts';
import { extent } from '../geometry/curve.ts';
import type { ShapeCheck } from './shape-check.ts';

/** A point nearer to the axis than this share of the drawing, and not on it, was meant to be on it. */
const nearly = 1e-4;

/** In an axisymmetric frame: what lies on the wrong side of the axis, and points nearly on it, with the edit that puts them there. */
export function checkAxis({ model, arrangement, report }: ShapeCheck): void {
	const { frame, recipe } = model;
	if (frame.kind !== 'axisymmetric') return;
	const { curves, diagonal, tolerance, x, y } = arrangement;
	const away = frame.axis === 'x' ? y : x;
	const coordinate = frame.axis === 'x' ? 'y' : 'x';
	for (const [line, { statement, from }] of recipe.lines.entries()) {
		if (!statement) continue;
		for (const pair of pairsOf(statement)) {
			const cell = pair[coordinate];
			if (!isLiteral(cell)) continue;
			const value = Number(recipe.text.slice(from + cell.from, from + cell.to).replace(/\s/g, ''));
			if (!(Math.abs(value) > tolerance && Math.abs(value) <= nearly * diagonal)) continue;
			report
				.about(line)
				.add(
					'near-axis',
					{ distance: Math.abs(value) },
					{ within: pair, mend: [{ from: from + cell.from, to: from + cell.to, insert: '0' }] }
				);
		}
	}
	const box = extent(curves);
	if (!box || (frame.axis === 'x' ? box[1] : box[0]) >= -Math.max(tolerance, nearly * diagonal)) return;
	if ((frame.axis === 'x' ? box[3] : box[2]) <= tolerance) return;
	let lowest = 0;
	for (let j = 0; j < away.length; j++) if (away[j]! < away[lowest]!) lowest = j;
	const at = { x: x[lowest]!, y: y[lowest]! };
	report.add('below-axis', { at, coordinate }, { at });
}

type Pair = Extract<Expression, { kind: 'pair' }>;

/** Every written point of a statement. */
function pairsOf(value: unknown): Pair[] {
	if (Array.isArray(value)) return value.flatMap(pairsOf);
	if (typeof value !== 'object' || value === null) return [];
	if ('kind' in value && value.kind === 'pair') return [value as Pair];
	return Object.values(value).flatMap(pairsOf);
}
