import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { Equals, keyword, Name } from '../language/tokens.ts';

/** The group that owns the node at a place. */
export interface OwnerStatement {
	at: Point;
	group: string;
}

export interface OwnerSyntax extends Statement {
	kind: 'owner';
	at: Expression;
	group: Word;
}

export const owner: StatementRecord<OwnerSyntax, OwnerStatement> = {
	kind: 'owner',
	title: 'Owner',
	words: ['owner', 'of'],
	stage: 'labels',
	clauses: ['at', 'group'],
	form: 'owner of ${p} = ${wall}',
	doc: 'Says which group owns the node at a place where several meet. Without it, the group owns it that is stated first.',
	grammar(p) {
		p.CONSUME(keyword('owner'));
		p.CONSUME(keyword('of'));
		const at = p.clause('at', () => p.SUBRULE(p.expression));
		p.CONSUME(Equals);
		const group = p.clause('group', () => word(p.CONSUME(Name)));
		return { kind: 'owner', at, group };
	},
	evaluate: ({ at, group }, context) => ({ at: evaluatePoint(at, context.scope), group: group.text }),
	uses: ({ at, group }) => [...namesIn(at), { space: 'group', name: group.text, from: group.from }],
	needs: ({ at }) => (at.kind === 'name' ? [{ name: at.name, from: at.from, to: at.to }] : [])
};
