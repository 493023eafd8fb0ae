import { LINE, segmentCount } from '../../geometry/curve.ts';
import { endOf, startOf } from '../../geometry/meet.ts';
import { type Affine, reflection } from '../../geometry/transform.ts';
import { copies } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

export interface MirrorSyntax extends Statement {
	kind: 'mirror';
	name: Word;
	curves: CurveReference[];
	across: Expression;
	to?: Expression;
}

export const mirror: StatementRecord<MirrorSyntax> = {
	kind: 'mirror',
	title: 'Mirror image',
	words: ['mirror', 'across', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'mirror ${name} = ${curves} across ${x}',
	doc: "Copies curves across a line, `p to q`, or an axis: `x`, `y`, or `axis` in an axisymmetric frame. A copy of one curve has the statement's name; copies of several are `NAME.curve`.",
	grammar(p) {
		p.CONSUME(keyword('mirror'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('across'));
		const across = p.SUBRULE(p.expression);
		const to = p.OPTION(() => {
			p.CONSUME(keyword('to'));
			return p.SUBRULE2(p.expression);
		});
		return { kind: 'mirror', name, curves, across, to };
	},
	evaluate(statement, context) {
		copies(statement, [mirrorMap(statement, context)], context);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, across, to }) => namesIn(curves, across, to)
};

function mirrorMap(statement: MirrorSyntax, context: EvaluationContext): Affine {
	const { across, to } = statement;
	if (to) {
		const [p, q] = [evaluatePoint(across, context.scope), evaluatePoint(to, context.scope)];
		if (p.x === q.x && p.y === q.y) fail(to, 'the two points of the mirror line are one');
		return reflection(p, q);
	}
	const named = context.curvesNamed(across);
	if (named) {
		const curve = context.model.curves[named[0]!]!;
		if (named.length > 1 || segmentCount(curve) !== 1 || curve.kinds[0] !== LINE)
			fail(across, 'the mirror is a straight line, two points, or an axis');
		return reflection(startOf(curve), endOf(curve));
	}
	if (across.kind === 'name') {
		const { frame } = context.model;
		const axis = across.name === 'axis' && frame.kind === 'axisymmetric' ? frame.axis : across.name;
		if (axis === 'x') return reflection({ x: 0, y: 0 }, { x: 1, y: 0 });
		if (axis === 'y') return reflection({ x: 0, y: 0 }, { x: 0, y: 1 });
		if (axis === 'axis') fail(across, 'a planar recipe has no axis; mirror across “x”, “y”, a line, or “p to q”');
	}
	return fail(across, 'the mirror is a straight line of the drawing, two points as “p to q”, or the axis “x” or “y”');
}
