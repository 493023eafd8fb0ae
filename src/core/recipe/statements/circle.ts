import { circleCurve } from '../../geometry/build.ts';
import { hypot } from '../../numeric/elementary.ts';
import { drawnFrom } from '../model/drawn.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { numberGrip, pairGrip, writtenDimension } from '../edits/grips.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

export interface CircleSyntax extends Statement {
	kind: 'circle';
	name: Word;
	centre: Expression;
	radius: Expression;
}

export const circle: StatementRecord<CircleSyntax> = {
	kind: 'circle',
	title: 'Circle',
	words: ['circle', 'around', 'radius'],
	stage: 'shape',
	clauses: [],
	form: 'circle ${name} = around ${centre} radius ${r}',
	doc: 'A full circle, counter-clockwise, that starts at its rightmost point.',
	grammar(p) {
		p.CONSUME(keyword('circle'));
		const name = p.SUBRULE(p.definedName);
		p.CONSUME(keyword('around'));
		const centre = p.SUBRULE(p.expression);
		p.CONSUME(keyword('radius'));
		return { kind: 'circle', name, centre, radius: p.SUBRULE2(p.expression) };
	},
	evaluate(statement, context) {
		const centre = evaluatePoint(statement.centre, context.scope);
		const radius = context.positive(statement.radius, 'a radius');
		context.add(drawnFrom(statement, [centre.x, centre.y, radius], () => circleCurve(statement.name.text, centre, radius)));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	grips({ centre, radius }, look) {
		const m = look.point(centre);
		return [
			...pairGrip(centre, look),
			...numberGrip(radius, { x: m.x + look.number(radius), y: m.y }, (to) => hypot(to.x - m.x, to.y - m.y))
		];
	},
	dimensions: ({ radius }, look) => writtenDimension('radius', radius, look),
	uses: ({ centre, radius }) => namesIn(centre, radius)
};
