import { polylineCurve } from '../../geometry/build.ts';
import { concatenated } from '../../numeric/lists.ts';
import { drawnFrom } from '../model/drawn.ts';
import { fileClauses, fileRules, fileShape, fileWords, type Outlined, outlineOf, usesOf, endsOf } from './shared/outlined.ts';
import { inAnyOrder } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface PolylineSyntax extends Outlined {
	kind: 'polyline';
}

export const polyline: StatementRecord<PolylineSyntax> = {
	kind: 'polyline',
	title: 'Polyline',
	words: ['polyline', 'closed', 'corners', 'above', 'to', ...fileWords],
	stage: 'shape',
	rules: [...fileRules],
	clauses: ['name', 'shape', ...fileClauses, 'corners'],
	form: 'polyline ${name} = ${p} to ${q} to ${r}',
	doc: 'Straight lines from point to point, written out or `from "file"`; joints that turn by more than 20° are junctions, or by more than `corners above a`: so a noisy line is one piece. `thinned within d` leaves out what is not needed within that distance.',
	grammar(p) {
		p.CONSUME(keyword('polyline'));
		const name = p.SUBRULE(p.definedName);
		const shape = p.OR([{ ALT: () => p.SUBRULE(p.ruleOf(fileShape)) }, { ALT: () => ({ points: p.SUBRULE(p.pointChain) }) }]);
		const { closed, corners } = inAnyOrder<{ closed: true; corners: Expression }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR2(choices),
			{
				closed: () => p.CONSUME(keyword('closed')) && true,
				corners: () =>
					p.clause('corners', () => {
						p.CONSUME(keyword('corners'));
						p.CONSUME(keyword('above'));
						return p.SUBRULE(p.expression);
					})
			}
		);
		return { kind: 'polyline', name, points: [], ...shape, closed: closed ?? false, parameter: 'chord', corners };
	},
	evaluate(statement, context) {
		const { x, y, closed, lines } = outlineOf(statement, context);
		const name = statement.name.text;
		const corners = statement.corners && context.number(statement.corners, 'angle');
		if (corners !== undefined && !(corners > 0 && corners <= Math.PI))
			fail(statement.corners!, 'the turn of a corner is above zero and no more than 180°, like 60 deg');
		const numbers = concatenated(concatenated(x, y), Float64Array.of(Number(closed), corners ?? -1));
		context.add(
			drawnFrom(statement, numbers, () => polylineCurve(name, x, y, closed, corners)),
			name,
			lines
		);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	ends: endsOf,
	file: ({ file }) => file,
	uses: usesOf
};
