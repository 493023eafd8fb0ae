import { polylineCurve } from '../../geometry/build.ts';
import type { Curve } from '../../geometry/curve.ts';
import { cos, hypot, sin } from '../../numeric/elementary.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { numberGrip, pairGrip, writtenDimension } from '../edits/grips.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

export interface PolygonSyntax extends Statement {
	kind: 'polygon';
	name: Word;
	centre: Expression;
	sides: Expression;
	radius: Expression;
	turned?: Expression;
}

export const polygon: StatementRecord<PolygonSyntax> = {
	kind: 'polygon',
	title: 'Polygon',
	words: ['polygon', 'around', 'sides', 'radius', 'turned'],
	stage: 'shape',
	clauses: [],
	form: 'polygon ${name} = around ${centre} sides ${6} radius ${r}',
	doc: 'A regular polygon by the circle around it; all its corners are junctions.',
	grammar(p) {
		p.CONSUME(keyword('polygon'));
		const name = p.SUBRULE(p.definedName);
		p.CONSUME(keyword('around'));
		const centre = p.SUBRULE(p.expression);
		const found = inAnyOrder<{ sides: Expression; radius: Expression; turned: Expression }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				sides: () => {
					p.CONSUME(keyword('sides'));
					return p.SUBRULE2(p.expression);
				},
				radius: () => {
					p.CONSUME(keyword('radius'));
					return p.SUBRULE3(p.expression);
				},
				turned: () => p.SUBRULE(p.turnClause)
			}
		);
		const parts = withNeeded(found, {
			sides: () => p.CONSUME2(keyword('sides')),
			radius: () => p.CONSUME2(keyword('radius'))
		});
		return { kind: 'polygon', name, centre, ...parts };
	},
	evaluate(statement, context) {
		context.add(regularPolygon(statement, context));
	},
	grips({ centre, radius, turned }, look) {
		const m = look.point(centre);
		const angle = turned ? look.number(turned) : 0;
		const r = look.number(radius);
		return [
			...pairGrip(centre, look),
			...numberGrip(radius, { x: m.x + r * cos(angle), y: m.y + r * sin(angle) }, (to) => hypot(to.x - m.x, to.y - m.y))
		];
	},
	dimensions: ({ radius, sides }, look) => [
		...writtenDimension('radius', radius, look),
		...writtenDimension('sides', sides, look)
	],
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.centre, s.sides, s.radius, s.turned)
};

function regularPolygon(statement: PolygonSyntax, context: EvaluationContext): Curve {
	const sides = context.number(statement.sides, 'number');
	if (!(Number.isInteger(sides) && sides >= 3 && sides <= 10_000))
		fail(statement.sides, `a polygon has 3 to 10000 sides, a whole number; found ${sides}`);
	const radius = context.positive(statement.radius, 'a radius');
	const turned = statement.turned ? context.number(statement.turned, 'angle') : 0;
	const centre = evaluatePoint(statement.centre, context.scope);
	const at = (f: (a: number) => number, from: number) =>
		Float64Array.from({ length: sides }, (_, k) => from + radius * f(turned + (2 * Math.PI * k) / sides));
	const curve = polylineCurve(statement.name.text, at(cos, centre.x), at(sin, centre.y), true);
	curve.corners = Array.from({ length: sides }, (_, k) => k);
	return curve;
}
