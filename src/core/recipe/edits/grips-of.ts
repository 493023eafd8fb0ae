import type { Point } from '../../geometry/curve.ts';
import type { TextEdit } from '../../text/edit.ts';
import { pairGrip } from './grips.ts';
import { formatNumber, tidyNumber } from '../language/literals.ts';
import { scopeOf } from '../model/evaluate.ts';
import { evaluateNumber, evaluatePoint, ExpressionError } from '../model/expressions.ts';
import { language } from '../language/language.ts';
import type { Model } from '../model/model.ts';
import { isA, type ValueReader, type Rewrite } from '../language/statement.ts';
import { placement } from '../statements/place.ts';
import { placementDimensions, type TextDimension } from './placements.ts';

/** A place of a statement that can be dragged, and the edits of the recipe's text that bring it elsewhere. */
export interface TextGrip extends Point {
	move(to: Point): TextEdit[];
}

/**
 * What can be dragged of what a statement draws: places that are written as numbers, and what its record adds, like the
 * rim of a circle. Coordinates that are formulas stay as they are.
 *
 * @param line the index of the statement in the model's recipe
 */
export function gripsOf(model: Model, line: number): TextGrip[] {
	const statementLine = model.recipe.lines[line];
	if (!statementLine?.statement) return [];
	const { statement, from } = statementLine;
	const record = language().recordOf(statement);
	return guarded(model, (look) => {
		const grips =
			record.grips?.(statement, look) ??
			Object.values(statement)
				.flat()
				.flatMap((part) => pairGrip(part, look));
		return grips.map(({ x, y, move }) => ({ x, y, move: (to) => move(to).map((rewrite) => asEdit(rewrite, from)) }));
	});
}

/** The dimensions of what a statement draws that can be typed. */
export function dimensionsOf(model: Model, line: number): TextDimension[] {
	const statementLine = model.recipe.lines[line];
	if (!statementLine?.statement) return [];
	const { statement, from } = statementLine;
	if (isA(placement, statement))
		return guarded(model, (look) => placementDimensions(model.recipe, statementLine, statement, look));
	const record = language().recordOf(statement);
	return guarded(model, (look) =>
		(record.dimensions?.(statement, look) ?? []).map(({ label, value, of, set }) => ({
			label,
			value,
			source: of ? model.recipe.text.slice(from + of.from, from + of.to) : '',
			set: (source) => set(source).map((rewrite) => asEdit(rewrite, from))
		}))
	);
}

function guarded<T>(model: Model, run: (look: ValueReader) => T[]): T[] {
	const scope = scopeOf(model);
	try {
		return run({ point: (e) => evaluatePoint(e, scope), number: (e) => evaluateNumber(e, scope, 'any') });
	} catch (error) {
		// What has no value has no place.
		if (error instanceof ExpressionError) return [];
		throw error;
	}
}

const asEdit = ({ of, as }: Rewrite, from: number): TextEdit => ({
	from: from + of.from,
	to: from + of.to,
	insert: typeof as === 'number' ? formatNumber(tidyNumber(as)) : as
});
