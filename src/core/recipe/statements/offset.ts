import { segmentCount } from '../../geometry/curve.ts';
import { startOf } from '../../geometry/meet.ts';
import { offsetCurve } from '../../geometry/offset.ts';
import { partArea } from '../../geometry/parts.ts';
import { chain, curvesOf } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { constructed, fail, round } from '../model/evaluation-context.ts';

export interface OffsetSyntax extends Statement {
	kind: 'offset';
	name: Word;
	curves: CurveReference[];
	by: Expression;
	side: 'left' | 'right' | 'both' | 'inside' | 'outside';
	mitred: boolean;
}

export const offset: StatementRecord<OffsetSyntax> = {
	kind: 'offset',
	title: 'Offset',
	words: ['offset', 'by', 'left', 'right', 'both', 'inside', 'outside', 'mitred'],
	stage: 'shape',
	clauses: [],
	form: 'offset ${name} = ${curves} by ${d} ${left}',
	doc: 'A curve at a distance from a chain of curves: `left`, `right`, `both`, or for a closed chain `inside`, `outside`. Outer joints are rounded, or pointed with `mitred`; what comes nearer than the distance elsewhere is cut away.',
	grammar(p) {
		p.CONSUME(keyword('offset'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.SUBRULE(p.curveReferences);
		const found = inAnyOrder<{ by: Expression; side: OffsetSyntax['side']; mitred: true }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				by: () => {
					p.CONSUME(keyword('by'));
					return p.SUBRULE(p.expression);
				},
				side: () =>
					p.OR2([
						{ ALT: () => p.CONSUME(keyword('left')) },
						{ ALT: () => p.CONSUME(keyword('right')) },
						{ ALT: () => p.CONSUME(keyword('both')) },
						{ ALT: () => p.CONSUME(keyword('inside')) },
						{ ALT: () => p.CONSUME(keyword('outside')) }
					]).image,
				mitred: () => p.CONSUME(keyword('mitred')) && true
			}
		);
		const { by, side, mitred } = withNeeded(found, {
			by: () => p.CONSUME2(keyword('by')),
			side: () => p.CONSUME2(keyword('left'))
		});
		return { kind: 'offset', name, curves, by, side, mitred: mitred ?? false };
	},
	evaluate(statement, context) {
		const list = curvesOf(statement.curves, context).map((c) => context.model.curves[c]!);
		const name = statement.name.text;
		const by = context.positive(statement.by, 'a distance');
		const along = constructed(statement.curves[0]!, () => chain(list, name));
		if (!along.closed && (statement.side === 'inside' || statement.side === 'outside'))
			fail(statement.curves[0]!, `the chain is open, so it has no ${statement.side}; say left or right of its direction`);
		const inward = along.closed && partArea({ curve: along, t0: 0, t1: segmentCount(along) }, startOf(along)) > 0 ? 1 : -1;
		const sides = { left: [1], right: [-1], both: [1, -1], inside: [inward], outside: [-inward] }[statement.side];
		const parts = sides.flatMap((side) => offsetCurve(name, along, side * by, statement.mitred));
		if (parts.length === 0) fail(statement.by, `nothing is ${round(by)} away on that side; the chain is too narrow there`);
		if (parts.length === 1) return context.add(parts[0]!);
		parts.forEach((part, k) => context.add({ ...part, name: `${name}.part${k + 1}` }, name));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by }) => namesIn(curves, by)
};
