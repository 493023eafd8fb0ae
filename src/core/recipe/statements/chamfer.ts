import { mapped } from '../../text/typed.ts';
import { chamfer } from '../../geometry/corner.ts';
import { cornerCurves, cornerPlace, type CornerSyntax, cornerUses, cutCorner } from './shared/corner.ts';
import type { StatementRecord } from '../language/statement.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface ChamferSyntax extends CornerSyntax {
	kind: 'chamfer';
}

export const chamferStatement: StatementRecord<ChamferSyntax> = {
	kind: 'chamfer',
	title: 'Chamfer',
	words: ['chamfer', 'with', 'near', 'lengths'],
	stage: 'shape',
	rules: [cornerPlace, cornerCurves],
	clauses: ['name', 'curves', 'near', 'lengths'],
	form: 'chamfer ${name} = ${a} with ${b} lengths ${d}',
	doc: 'Bevels the corner of two curves, by one length along both or by one along each.',
	grammar(p) {
		p.CONSUME(keyword('chamfer'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.SUBRULE(p.ruleOf(cornerCurves));
		const lengths = p.clause('lengths', () => {
			p.CONSUME(keyword('lengths'));
			return p.SUBRULE(p.expressions);
		});
		const near = p.OPTION({ GATE: () => !curves.near, DEF: () => p.SUBRULE2(p.ruleOf(cornerPlace)) });
		return { kind: 'chamfer', name, ...curves, ...(near ? { near } : {}), lengths };
	},
	evaluate(statement, context) {
		cutCorner(statement, context, 'lengths', (first, second, tolerance, near) => {
			const [one, two, more] = statement.lengths;
			if (more) fail(more, 'a chamfer takes one length, or two');
			const lengths = mapped([one!, two ?? one!], (e) => context.positive(e, 'a length'));
			return chamfer(statement.name.text, first, second, lengths, tolerance, near);
		});
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: cornerUses,
	needs: ({ first, second }) => [first, second]
};
