import { circleCurve } from '../../geometry/build.ts';
import { evaluatePoint } from '../expressions.ts';
import { namesIn } from '../names.ts';
import type { StatementRecord } from '../statement.ts';
import type { Expression, Statement, Word } from '../syntax.ts';
import { keyword } from '../tokens.ts';

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
	evaluate(statement, shop) {
		shop.add(
			circleCurve(statement.name.text, evaluatePoint(statement.centre, shop.scope), shop.positive(statement.radius, 'a radius'))
		);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	radius: ({ radius }) => radius,
	uses: ({ centre, radius }) => namesIn(centre, radius)
};
