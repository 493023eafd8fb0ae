import type { Point } from '../../geometry/curve.ts';
import { type EndConditions, splineCurve, type SplineParameter } from '../../geometry/spline.ts';
import { evaluatePoint } from '../model/expressions.ts';
import {
	fileClauses,
	fileRules,
	fileShape,
	fileWords,
	type Outlined,
	outlineOf,
	type SplineEnds,
	usesOf,
	endsOf
} from './shared/outlined.ts';
import { inAnyOrder, type NamedRule } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

export interface SplineSyntax extends Outlined {
	kind: 'spline';
}

const splineEnds: NamedRule<SplineEnds> = {
	name: 'splineEnds',
	parse(p) {
		p.CONSUME(keyword('ends'));
		return p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('natural'));
					return { kind: 'natural' };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('not-a-knot'));
					return { kind: 'not-a-knot' };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('clamped'));
					const start = p.SUBRULE(p.expression);
					p.CONSUME(Comma);
					return { kind: 'clamped', start, end: p.SUBRULE2(p.expression) };
				}
			}
		]);
	}
};

export const spline: StatementRecord<SplineSyntax> = {
	kind: 'spline',
	title: 'Spline',
	words: [
		'spline',
		'closed',
		'parameter',
		'chord',
		'centripetal',
		'corners',
		'above',
		'ends',
		'natural',
		'not-a-knot',
		'clamped',
		'to',
		...fileWords
	],
	stage: 'shape',
	rules: [...fileRules, splineEnds],
	clauses: ['name', 'shape', ...fileClauses, 'parameter', 'ends', 'corners'],
	form: 'spline ${name} = ${p} to ${q} to ${r}',
	doc: 'The C2 interpolating cubic through points, written out or from a `"file"`; periodic when closed. `ends` are `natural` unless they are `not-a-knot` or `clamped` by directions; `parameter` is `chord` or `centripetal`; `corners above a` makes a corner wherever the points\' polygon turns by more than a.',
	grammar(p) {
		p.CONSUME(keyword('spline'));
		const name = p.SUBRULE(p.definedName);
		const shape = p.clause('shape', () =>
			p.OR([{ ALT: () => p.SUBRULE(p.ruleOf(fileShape)) }, { ALT: () => ({ points: p.SUBRULE(p.pointChain) }) }])
		);
		const { closed, parameter, ends, corners } = inAnyOrder<{
			closed: true;
			parameter: SplineParameter;
			ends: SplineEnds;
			corners: Expression;
		}>(
			(parse) => p.MANY(parse),
			(choices) => p.OR3(choices),
			{
				closed: () => p.CONSUME(keyword('closed')) && true,
				parameter: () =>
					p.clause('parameter', () => {
						p.CONSUME(keyword('parameter'));
						const chosen = p.OR2([{ ALT: () => p.CONSUME(keyword('chord')) }, { ALT: () => p.CONSUME(keyword('centripetal')) }]);
						return chosen.image as SplineParameter;
					}),
				ends: () => p.clause('ends', () => p.SUBRULE(p.ruleOf(splineEnds))),
				corners: () =>
					p.clause('corners', () => {
						p.CONSUME(keyword('corners'));
						p.CONSUME(keyword('above'));
						return p.SUBRULE(p.expression);
					})
			}
		);
		const method = parameter ?? 'chord';
		return { kind: 'spline', name, points: [], ...shape, closed: closed ?? false, parameter: method, ends, corners };
	},
	evaluate(statement, context) {
		const { x, y, closed, lines } = outlineOf(statement, context);
		const name = statement.name.text;
		const corners = statement.corners && context.number(statement.corners, 'angle');
		if (corners !== undefined && !(corners > 0)) fail(statement.corners!, 'the turn of a corner is above zero, like 30 deg');
		const ends = statement.ends && endConditions(statement.ends, context);
		if (ends && closed) fail(statement.name, 'a closed spline has no ends; leave “ends” out');
		context.add(splineCurve(name, x, y, closed, statement.parameter, ends, corners), name, lines);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	ends: endsOf,
	file: ({ file }) => file,
	uses: usesOf
};

function endConditions(ends: SplineEnds, context: EvaluationContext): EndConditions {
	if (ends.kind !== 'clamped') return ends;
	const direction = (e: Expression): Point => {
		const d = evaluatePoint(e, context.scope);
		if (d.x === 0 && d.y === 0) fail(e, 'a direction is not (0, 0)');
		return d;
	};
	return { kind: 'clamped', start: direction(ends.start), end: direction(ends.end) };
}
