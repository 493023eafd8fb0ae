import { chain, curvesOf } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { constructed, fail } from '../model/evaluation-context.ts';

export interface JoinSyntax extends Statement {
	kind: 'join';
	name: Word;
	curves: CurveReference[];
}

export const join: StatementRecord<JoinSyntax> = {
	kind: 'join',
	title: 'Joined curve',
	words: ['join'],
	stage: 'shape',
	clauses: [],
	form: 'join ${name} = ${a}, ${b}',
	doc: 'One curve of a chain, in whatever order it is named.',
	grammar(p) {
		p.CONSUME(keyword('join'));
		const name = p.SUBRULE(p.definedName);
		return { kind: 'join', name, curves: p.SUBRULE(p.curveReferences) };
	},
	evaluate(statement, context) {
		const list = curvesOf(statement.curves, context);
		if (list.length < 2) fail(statement.curves[0]!, 'joining takes two curves or more');
		const { curves } = context.model;
		const name = statement.name.text;
		const joined = constructed(statement.curves[0]!, () =>
			chain(
				list.map((c) => curves[c]!),
				name
			)
		);
		context.remove(list, `this curve was joined into “${name}”; use that`);
		context.add(joined);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves }) => namesIn(curves)
};
