import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { Model, WithLine } from '../model/model.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';

/** Two sets of pieces of which one is the other moved, or turned about a point. */
export interface PeriodicStatement {
	from: CurveReference[];
	to: CurveReference[];
	about?: Point;
}

export interface PeriodicSyntax extends Statement {
	kind: 'periodic';
	fromPieces: CurveReference[];
	toPieces: CurveReference[];
	about?: Expression;
}

export const periodic: StatementRecord<PeriodicSyntax, PeriodicStatement> = {
	kind: 'periodic',
	title: 'Periodic pair',
	words: ['periodic', 'with', 'about', ...pieceSetWords],
	stage: 'labels',
	rules: pieceSetRules,
	clauses: ['pieces', 'with', 'about'],
	form: 'periodic ${low} with ${high}',
	doc: 'Makes pieces periodic with others that are the same but moved, or turned about a point (`about p`): they get the same divisions, and their nodes are delivered as pairs.',
	grammar(p) {
		p.CONSUME(keyword('periodic'));
		const fromPieces = p.clause('pieces', () => p.SUBRULE(p.ruleOf(pieceSets)));
		const toPieces = p.clause('with', () => {
			p.CONSUME(keyword('with'));
			return p.SUBRULE2(p.ruleOf(pieceSets));
		});
		const about = p.OPTION(() =>
			p.clause('about', () => {
				p.CONSUME(keyword('about'));
				return p.SUBRULE(p.expression);
			})
		);
		return { kind: 'periodic', fromPieces, toPieces, ...(about ? { about } : {}) };
	},
	evaluate: ({ fromPieces, toPieces, about }, context) => ({
		from: withSets(fromPieces, context),
		to: withSets(toPieces, context),
		...(about ? { about: evaluatePoint(about, context.scope) } : {})
	}),
	promises: ({ from, to }) => [{ asks: 'periodic', from, to }],
	actsOn: ({ fromPieces, toPieces }) => [fromPieces, toPieces],
	uses: ({ fromPieces, toPieces, about }) => namesIn(fromPieces, toPieces, about)
};

/** The periodic pairs of a recipe, in their order. */
export const periodicOf = (model: Model): WithLine<PeriodicStatement>[] => stated(model, periodic);
