import { formulaCurve } from '../../geometry/build.ts';
import type { Curve } from '../../geometry/curve.ts';
import { hypot } from '../../numeric/elementary.ts';
import { evaluate } from '../model/expressions.ts';
import { compileJet } from '../model/jets.ts';
import { namesIn } from '../language/names.ts';
import { word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { keyword, Name } from '../language/tokens.ts';
import { constructed, fail, round, type EvaluationContext } from '../model/evaluation-context.ts';
import { UserError } from '../../text/user-error.ts';

export interface CurveSyntax extends Statement {
	kind: 'curve';
	name: Word;
	value: Expression;
	parameter: Word;
	from: Expression;
	to: Expression;
}

export const curve: StatementRecord<CurveSyntax> = {
	kind: 'curve',
	title: 'Curve by formula',
	words: ['curve', 'for', 'from', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'curve ${name} = (${10*cos(t)}, ${5*sin(t)}) for t from ${0} to ${1}',
	doc: 'A curve by formula, followed to 1e-12 of its size.',
	grammar(p) {
		p.CONSUME(keyword('curve'));
		const name = p.SUBRULE(p.definedName);
		const value = p.SUBRULE(p.expression);
		p.CONSUME(keyword('for'));
		const parameter = word(p.CONSUME(Name));
		p.CONSUME(keyword('from'));
		const from = p.SUBRULE2(p.expression);
		p.CONSUME(keyword('to'));
		return { kind: 'curve', name, value, parameter, from, to: p.SUBRULE3(p.expression) };
	},
	evaluate(statement, context) {
		context.add(analyticCurve(statement, context));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	// Its parameter is its own.
	uses: (s) => namesIn(s.value, s.from, s.to).filter((use) => use.name !== s.parameter.text)
};

function analyticCurve(statement: CurveSyntax, context: EvaluationContext): Curve {
	const { value, parameter } = statement;
	if (value.kind !== 'pair')
		fail(value, `a curve by formula is a point of two expressions, like (20*cos(${parameter.text}), 12*sin(${parameter.text}))`);
	const from = context.number(statement.from, 'any');
	const to = context.number(statement.to, 'any');
	if (from === to) fail(statement.to, 'the parameter ends where it starts');
	// One plain evaluation first: it finds every mistake in names and kinds.
	const inner = {
		...context.scope,
		units: context.scope.units,
		lookup: (name: string) =>
			name === parameter.text
				? ({ kind: 'number', value: (from + to) / 2, dimension: null } as const)
				: context.scope.lookup(name)
	};
	evaluate(value, inner);
	const [x, y] = [compileJet(value.x, inner, parameter.text), compileJet(value.y, inner, parameter.text)];
	const formula = (t: number) => {
		const [px, dx, ddx] = x(t);
		const [py, dy, ddy] = y(t);
		if (![px, dx, ddx, py, dy, ddy].every(Number.isFinite))
			throw new UserError(`the formula or its derivatives have no value at ${parameter.text} = ${round(t)}`);
		return { x: px, y: py, dx, dy, ddx, ddy };
	};
	return constructed(value, () => {
		let [size, magnitude] = [0, 0];
		const first = formula(from);
		for (let k = 1; k <= 16; k++) {
			const p = formula(from + ((to - from) * k) / 16);
			size = Math.max(size, hypot(p.x - first.x, p.y - first.y));
			magnitude = Math.max(magnitude, Math.abs(p.x), Math.abs(p.y));
		}
		// Far from the origin, the formula itself is known no better than to its rounding.
		return formulaCurve(statement.name.text, formula, from, to, Math.max(1e-12 * size, 16 * Number.EPSILON * magnitude));
	});
}
