import { place } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { type MirrorLine, mirrorMap } from './shared/mirror-line.ts';

export interface MirrorSyntax extends Statement, MirrorLine {
	kind: 'mirror';
	curves: CurveReference[];
}

export const mirror: StatementRecord<MirrorSyntax> = {
	kind: 'mirror',
	title: 'Mirrored curve',
	words: ['mirror', 'across', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'mirror ${curves} across ${x}',
	doc: 'Mirrors curves where they stand, across a line, `p to q`, or an axis: `x`, `y`, or `axis` in an axisymmetric frame. `copy` leaves them and makes another.',
	grammar(p) {
		p.CONSUME(keyword('mirror'));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('across'));
		const across = p.SUBRULE(p.expression);
		const to = p.OPTION(() => {
			p.CONSUME(keyword('to'));
			return p.SUBRULE2(p.expression);
		});
		return { kind: 'mirror', curves, across, ...(to ? { to } : {}) };
	},
	evaluate(statement, context) {
		place(statement, mirrorMap(statement, context), context);
	},
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, across, to }) => namesIn(curves, across, to)
};
