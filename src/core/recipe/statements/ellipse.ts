import { mapped } from '../../text/typed.ts';
import { ellipseCurve } from '../../geometry/build.ts';
import { cos, sin } from '../../numeric/elementary.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { numberGrip, pairGrip, writtenDimension } from '../edits/grips.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface EllipseSyntax extends Statement {
	kind: 'ellipse';
	name: Word;
	centre: Expression;
	radii: [Expression, Expression];
	turned?: Expression;
	from?: Expression;
	to?: Expression;
}

export const ellipse: StatementRecord<EllipseSyntax> = {
	kind: 'ellipse',
	title: 'Ellipse',
	words: ['ellipse', 'around', 'radii', 'turned', 'from', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'ellipse ${name} = around ${centre} radii ${a}, ${b}',
	doc: 'An ellipse, or the arc of one between two eccentric angles.',
	grammar(p) {
		p.CONSUME(keyword('ellipse'));
		const name = p.SUBRULE(p.definedName);
		p.CONSUME(keyword('around'));
		const centre = p.SUBRULE(p.expression);
		const found = inAnyOrder<{
			radii: [Expression, Expression];
			turned: Expression;
			range: { from: Expression; to: Expression };
		}>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				radii: () => {
					p.CONSUME(keyword('radii'));
					const a = p.SUBRULE2(p.expression);
					p.CONSUME(Comma);
					return [a, p.SUBRULE3(p.expression)];
				},
				turned: () => p.SUBRULE(p.turnClause),
				range: () => {
					p.CONSUME(keyword('from'));
					const from = p.SUBRULE4(p.expression);
					p.CONSUME(keyword('to'));
					return { from, to: p.SUBRULE5(p.expression) };
				}
			}
		);
		const { radii, turned, range } = withNeeded(found, { radii: () => p.CONSUME2(keyword('radii')) });
		return { kind: 'ellipse', name, centre, radii, turned, ...range };
	},
	evaluate(statement, context) {
		const [a, b] = mapped(statement.radii, (r) => context.positive(r, 'a radius'));
		const turned = statement.turned ? context.number(statement.turned, 'angle') : 0;
		const from = statement.from ? context.number(statement.from, 'angle') : 0;
		const sweep = statement.to ? context.number(statement.to, 'angle') - from : 2 * Math.PI;
		if (!(Math.abs(sweep) > 0 && Math.abs(sweep) <= 2 * Math.PI + 1e-12))
			fail(statement.to!, 'an elliptical arc runs over more than nothing and at most a full turn');
		const [c, s] = [cos(turned), sin(turned)];
		const [u, v] = [
			{ x: a * c, y: a * s },
			{ x: -b * s, y: b * c }
		];
		context.add(ellipseCurve(statement.name.text, evaluatePoint(statement.centre, context.scope), u, v, from, sweep));
	},
	grips({ centre, radii, turned }, look) {
		const m = look.point(centre);
		const angle = turned ? look.number(turned) : 0;
		const axis = (of: Expression, [x, y]: readonly [number, number]) =>
			numberGrip(of, { x: m.x + look.number(of) * x, y: m.y + look.number(of) * y }, (to) =>
				Math.abs((to.x - m.x) * x + (to.y - m.y) * y)
			);
		return [...pairGrip(centre, look), ...axis(radii[0], [cos(angle), sin(angle)]), ...axis(radii[1], [-sin(angle), cos(angle)])];
	},
	dimensions: ({ radii }, look) => [
		...writtenDimension('radius a', radii[0], look),
		...writtenDimension('radius b', radii[1], look)
	],
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.centre, s.radii, s.turned, s.from, s.to)
};
