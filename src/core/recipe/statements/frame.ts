import type { StatementRecord } from '../language/statement.ts';
import { word } from '../language/rules.ts';
import type { Statement, Word } from '../language/syntax.ts';
import { keyword, Name } from '../language/tokens.ts';
import { fail, replacing } from '../model/evaluation-context.ts';

export interface FrameSyntax extends Statement {
	kind: 'frame';
	frame: 'planar' | 'axisymmetric';
	axis?: Word;
}

export const frame: StatementRecord<FrameSyntax> = {
	kind: 'frame',
	title: 'Frame',
	words: ['frame', 'planar', 'axisymmetric', 'about'],
	stage: 'header',
	once: true,
	clauses: ['frame'],
	form: 'frame axisymmetric about ${x}',
	doc: 'Planar, or the half-section of a body about the axis `x` or `y`; planar without it.',
	grammar(p) {
		p.CONSUME(keyword('frame'));
		return p.clause('frame', () =>
			p.OR([
				{
					ALT: () => {
						p.CONSUME(keyword('planar'));
						return { kind: 'frame', frame: 'planar' };
					}
				},
				{
					ALT: () => {
						p.CONSUME(keyword('axisymmetric'));
						p.CONSUME(keyword('about'));
						return { kind: 'frame', frame: 'axisymmetric', axis: word(p.CONSUME(Name)) };
					}
				}
			])
		);
	},
	evaluate(statement, context) {
		if (statement.frame === 'planar') return;
		const { axis } = statement;
		const name = axis!.text;
		if (name !== 'x' && name !== 'y')
			fail(
				axis!,
				`the axis is “x” or “y”, not “${name}”`,
				['x', 'y'].map((other) => replacing(axis!, other))
			);
		context.model.frame = { kind: 'axisymmetric', axis: name };
	}
};
