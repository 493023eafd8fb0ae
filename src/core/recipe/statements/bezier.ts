import { CurveBuilder } from '../../geometry/build.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface BezierSyntax extends Statement {
	kind: 'bezier';
	name: Word;
	points: Expression[];
}

export const bezier: StatementRecord<BezierSyntax> = {
	kind: 'bezier',
	title: 'Bézier curve',
	words: ['bezier', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'bezier ${name} = ${start} to ${pull} to ${end}',
	doc: 'A Bézier curve of 3 to 6 points.',
	grammar(p) {
		p.CONSUME(keyword('bezier'));
		const name = p.SUBRULE(p.definedName);
		return { kind: 'bezier', name, points: p.SUBRULE(p.pointChain) };
	},
	evaluate(statement, context) {
		const points = statement.points.map((e) => evaluatePoint(e, context.scope));
		if (points.length < 3 || points.length > 6)
			fail(statement.name, `a Bézier curve has 3 to 6 points, its ends and what pulls it between them; found ${points.length}`);
		context.add(new CurveBuilder().rational(points.flatMap((p) => [p.x, p.y, 1])).build(statement.name.text, false));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: ({ points }) => namesIn(points)
};
