import { bsplineCurve } from '../../geometry/build.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { constructed } from '../model/evaluation-context.ts';

export interface BsplineSyntax extends Statement {
	kind: 'bspline';
	name: Word;
	points: Expression[];
	degree: Expression;
	knots?: Expression[];
	weights?: Expression[];
}

export const bspline: StatementRecord<BsplineSyntax> = {
	kind: 'bspline',
	title: 'B-spline',
	words: ['bspline', 'to', 'degree', 'knots', 'weights'],
	stage: 'shape',
	clauses: [],
	form: 'bspline ${name} = ${p} to ${q} to ${r} to ${s} degree ${3}',
	doc: 'A B-spline of degree 1 to 5, rational with `weights`; without `knots` they are uniform and it starts and ends on its first and last point.',
	grammar(p) {
		p.CONSUME(keyword('bspline'));
		const name = p.SUBRULE(p.definedName);
		const points = p.SUBRULE(p.pointChain);
		const found = inAnyOrder<{ degree: Expression; knots: Expression[]; weights: Expression[] }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				degree: () => {
					p.CONSUME(keyword('degree'));
					return p.SUBRULE(p.expression);
				},
				knots: () => {
					p.CONSUME(keyword('knots'));
					return p.SUBRULE(p.expressions);
				},
				weights: () => {
					p.CONSUME(keyword('weights'));
					return p.SUBRULE2(p.expressions);
				}
			}
		);
		const parts = withNeeded(found, { degree: () => p.CONSUME2(keyword('degree')) });
		return { kind: 'bspline', name, points, ...parts };
	},
	evaluate(statement, context) {
		const points = statement.points.map((e) => evaluatePoint(e, context.scope));
		const degree = context.number(statement.degree, 'number');
		const weights = statement.weights?.map((w) => context.number(w, 'number')) ?? points.map(() => 1);
		const knots = statement.knots?.map((k) => context.number(k, 'number')) ?? uniformKnots(points.length, degree);
		context.add(constructed(statement.degree, () => bsplineCurve(statement.name.text, degree, points, weights, knots)));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.points, s.degree, s.knots, s.weights)
};

const uniformKnots = (points: number, degree: number): number[] =>
	Array.from({ length: points + degree + 1 }, (_, k) => Math.min(Math.max(k - degree, 0), points - degree));
