import { type Affine, rotation, translation } from '../../geometry/transform.ts';
import { copies } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import { stepParts } from './about-point.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface RepeatSyntax extends Statement {
	kind: 'repeat';
	name: Word;
	curves: CurveReference[];
	by?: Expression;
	centre?: Expression;
	count: Expression;
}

export const repeat: StatementRecord<RepeatSyntax> = {
	kind: 'repeat',
	title: 'Repeated curve',
	words: ['repeat', 'by', 'about', 'count'],
	stage: 'shape',
	clauses: [],
	form: 'repeat ${name} = ${curves} by (${dx}, ${dy}) count ${n}',
	doc: 'Copies along a line, or turned about a point (`by angle` for less than a full turn); the count includes the original. Copies are `NAME.curve_2`, `NAME.curve_3` and so on.',
	grammar(p) {
		p.CONSUME(keyword('repeat'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.SUBRULE(p.curveReferences);
		const found = inAnyOrder<{ by: Expression; centre: Expression; count: Expression }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				...stepParts(p),
				count: () => {
					p.CONSUME(keyword('count'));
					return p.SUBRULE3(p.expression);
				}
			}
		);
		const parts = withNeeded(found, { count: () => p.CONSUME2(keyword('count')) });
		// Copies stand by a step, or are turned about a point.
		if (!parts.by && !parts.centre) p.CONSUME2(keyword('by'));
		return { kind: 'repeat', name, curves, ...parts };
	},
	evaluate(statement, context) {
		const count = context.number(statement.count, 'number');
		if (!(Number.isInteger(count) && count >= 2 && count <= 10_000))
			fail(statement.count, `the count, with the original, is a whole number from 2 to 10000; found ${count}`);
		const maps: Affine[] = [];
		if (statement.centre) {
			const centre = evaluatePoint(statement.centre, context.scope);
			const step = statement.by ? context.number(statement.by, 'angle') : (2 * Math.PI) / count;
			for (let k = 1; k < count; k++) maps.push(rotation(k * step, centre));
		} else {
			const step = evaluatePoint(statement.by!, context.scope);
			for (let k = 1; k < count; k++) maps.push(translation(k * step.x, k * step.y));
		}
		copies(statement, maps, context);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by, centre, count }) => namesIn(curves, by, centre, count)
};
