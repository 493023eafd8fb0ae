import { compose, identity, rotation, scaling, translation, type Affine } from '../../geometry/transform.ts';
import { centreOf, copies } from '../model/construction.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { led } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';
import { type MirrorLine, mirrorMap } from './shared/mirror-line.ts';

/** What is done to a copy. */
type Step =
	| { kind: 'moved'; by: Expression }
	| { kind: 'turned' | 'scaled'; by: Expression; about?: Expression }
	| ({ kind: 'mirrored' } & MirrorLine);

export interface CopySyntax extends Statement {
	kind: 'copy';
	name: Word;
	curves: CurveReference[];
	/** In the order in which they are written and done. */
	steps: Step[];
}

const aboutPoint = led('about');

export const copy: StatementRecord<CopySyntax> = {
	kind: 'copy',
	title: 'Copy',
	words: ['copy', 'moved', 'turned', 'scaled', 'mirrored', 'about', 'across', 'to'],
	stage: 'shape',
	rules: [aboutPoint],
	clauses: ['name', 'curves'],
	form: 'copy ${name} = ${curves} moved (${dx}, ${dy})',
	doc: "A copy of curves, `moved` by a step, `turned` by an angle or `scaled` by a factor (both `about` a point, or the origin), `mirrored across` a line, two points or an axis; one after the other, as they are written. A copy of one curve has the statement's name; copies of several are `NAME.curve`.",
	grammar(p) {
		p.CONSUME(keyword('copy'));
		const name = p.SUBRULE(p.definedName);
		const curves = p.clause('curves', () => p.SUBRULE(p.curveReferences));
		const steps: Step[] = [];
		p.AT_LEAST_ONE(() => {
			steps.push(
				p.OR([
					{ ALT: () => ({ kind: 'moved', by: p.SUBRULE(p.moveClause) }) },
					{
						ALT: () => {
							const by = p.SUBRULE(p.turnClause);
							const about = p.OPTION(() => p.SUBRULE(p.ruleOf(aboutPoint)));
							return { kind: 'turned', by, ...(about ? { about } : {}) };
						}
					},
					{
						ALT: () => {
							const by = p.SUBRULE(p.scaleClause);
							const about = p.OPTION2(() => p.SUBRULE2(p.ruleOf(aboutPoint)));
							return { kind: 'scaled', by, ...(about ? { about } : {}) };
						}
					},
					{
						ALT: () => {
							p.CONSUME(keyword('mirrored'));
							p.CONSUME(keyword('across'));
							const across = p.SUBRULE3(p.expression);
							const to = p.OPTION3(() => {
								p.CONSUME(keyword('to'));
								return p.SUBRULE4(p.expression);
							});
							return { kind: 'mirrored', across, ...(to ? { to } : {}) };
						}
					}
				])
			);
		});
		return { kind: 'copy', name, curves, steps };
	},
	evaluate(statement, context) {
		const map = statement.steps.reduce((map, step) => compose(mapOf(step, context), map), identity);
		copies(statement, [map], context);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, steps }) =>
		namesIn(
			curves,
			steps.flatMap((step) => {
				const [of, more] =
					step.kind === 'mirrored' ? [step.across, step.to] : [step.by, 'about' in step ? step.about : undefined];
				return more ? [of, more] : [of];
			})
		)
};

function mapOf(step: Step, context: EvaluationContext): Affine {
	switch (step.kind) {
		case 'moved': {
			const { x, y } = evaluatePoint(step.by, context.scope);
			return translation(x, y);
		}
		case 'turned':
			return rotation(context.number(step.by, 'angle'), centreOf(step.about, context));
		case 'scaled': {
			const factor = context.number(step.by, 'number');
			if (factor === 0) fail(step.by, 'a scale of zero leaves nothing');
			return scaling(factor, centreOf(step.about, context));
		}
		case 'mirrored':
			return mirrorMap(step, context);
	}
}
