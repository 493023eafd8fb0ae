import { fillet } from '../../geometry/corner.ts';
import { cornerCurves, cornerPlace, type CornerSyntax, cornerUses, cutCorner } from './shared/corner.ts';
import { writtenDimension } from '../edits/grips.ts';
import type { StatementRecord } from '../language/statement.ts';
import { keyword } from '../language/tokens.ts';

export interface FilletSyntax extends CornerSyntax {
	kind: 'fillet';
}

export const filletStatement: StatementRecord<FilletSyntax> = {
	kind: 'fillet',
	title: 'Fillet',
	words: ['fillet', 'with', 'near', 'radius'],
	stage: 'shape',
	rules: [cornerPlace, cornerCurves],
	clauses: ['name', 'curves', 'near', 'radius'],
	form: 'fillet ${name} = ${a} with ${b} radius ${r}',
	doc: 'Rounds the corner of two curves by an arc tangent to both, and cuts both short; `near p` says where, when they meet more than once.',
	grammar(p) {
		p.CONSUME(keyword('fillet'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.SUBRULE(p.ruleOf(cornerCurves));
		const lengths = p.clause('radius', () => {
			p.CONSUME(keyword('radius'));
			return [p.SUBRULE(p.expression)];
		});
		const near = p.OPTION({ GATE: () => !curves.near, DEF: () => p.SUBRULE2(p.ruleOf(cornerPlace)) });
		return { kind: 'fillet', name, ...curves, ...(near ? { near } : {}), lengths };
	},
	evaluate(statement, context) {
		cutCorner(statement, context, 'radius', (first, second, tolerance, near) =>
			fillet(statement.name.text, first, second, context.positive(statement.lengths[0]!, 'a radius'), tolerance, near)
		);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	dimensions: ({ lengths }, look) => writtenDimension('radius', lengths[0], look),
	uses: cornerUses,
	needs: ({ first, second }) => [first, second]
};
