import { entriesOf, keysOf } from '../../text/typed.ts';
import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { inAnyOrder, type NamedRule } from '../language/rules.ts';
import {
	countOf,
	spacingClause,
	spacingNumber,
	spacingRules,
	type SpacingSyntax,
	spacingUses,
	type SpacingWord,
	spacingWords
} from './shared/spacing-clause.ts';
import type { StatementPromise } from '../language/promise.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface DivideStatement {
	pieces: CurveReference[];
	/** The pieces are divided as if they were one. */
	asOne?: boolean;
	count?: number;
	size?: number;
	perTurn?: number;
	chordError?: number;
	numbers?: Partial<Record<SpacingWord, number>>;
	/** Fractions of the length from the end that `toward` names. */
	positions?: number[];
	toward?: 'both' | 'middle' | CurveReference;
	/** Where `toward` is a written place. */
	towardPlace?: Point;
	like?: CurveReference;
}

export interface DivideSyntax extends Statement, SpacingSyntax {
	kind: 'divide';
	pieces: CurveReference[];
	/** The pieces are divided as if they were one. */
	asOne?: boolean;
	into?: Expression;
	size?: Expression;
	/** Divisions in a full turn of the curve. */
	perTurn?: Expression;
	/** How far an edge may be from the curve. */
	chordError?: Expression;
}

type CountSyntax = Pick<DivideSyntax, 'into' | 'size' | 'perTurn' | 'chordError'>;

const countClause: NamedRule<CountSyntax> = {
	name: 'countClause',
	parse(p) {
		return p.clause('count', () =>
			p.OR([
				{
					ALT: () => {
						p.CONSUME(keyword('into'));
						return { into: p.SUBRULE(p.expression) };
					}
				},
				{
					ALT: () => {
						p.CONSUME(keyword('by'));
						return p.OR2([
							{
								ALT: () => {
									p.CONSUME(keyword('size'));
									return { size: p.SUBRULE2(p.expression) };
								}
							},
							{
								ALT: () => {
									p.CONSUME(keyword('turn'));
									return { perTurn: p.SUBRULE3(p.expression) };
								}
							},
							{
								ALT: () => {
									p.CONSUME(keyword('chord'));
									return { chordError: p.SUBRULE4(p.expression) };
								}
							}
						]);
					}
				}
			])
		);
	}
};

export const divide: StatementRecord<DivideSyntax, DivideStatement> = {
	kind: 'divide',
	title: 'Division',
	words: ['divide', 'as', 'one', 'into', 'by', 'size', 'turn', 'chord', ...spacingWords, ...pieceSetWords],
	stage: 'divisions',
	rules: [countClause, ...spacingRules, ...pieceSetRules],
	clauses: ['pieces', 'chain', 'count', 'spacing'],
	form: 'divide ${pieces} into ${n}',
	doc: 'Gives pieces a count, a spacing, or both. `as one` divides a chain of pieces as if it were one.',
	grammar(p) {
		p.CONSUME(keyword('divide'));
		const pieces = p.clause('pieces', () => p.SUBRULE(p.ruleOf(pieceSets)));
		const { asOne, count, spacing } = inAnyOrder<{ asOne: true; count: CountSyntax; spacing: SpacingSyntax }>(
			(parse) => p.AT_LEAST_ONE(parse),
			(choices) => p.OR(choices),
			{
				asOne: () =>
					p.clause('chain', () => {
						p.CONSUME(keyword('as'));
						p.CONSUME(keyword('one'));
						return true;
					}),
				count: () => p.SUBRULE(p.ruleOf(countClause)),
				spacing: () => p.SUBRULE(p.ruleOf(spacingClause))
			}
		);
		// A chain alone asks for nothing.
		if (asOne && !count && !spacing) p.CONSUME(keyword('into'));
		return { kind: 'divide', pieces, ...(asOne ? { asOne } : {}), ...count, ...spacing };
	},
	evaluate(statement, context) {
		const count = statement.into && countOf(statement.into, 1e6, context);
		const numbers: Partial<Record<SpacingWord, number>> = {};
		for (const [word, expression] of entriesOf(statement.numbers ?? {})) numbers[word] = spacingNumber(word, expression, context);
		const perTurn = statement.perTurn && context.number(statement.perTurn, 'number');
		if (perTurn !== undefined && !(perTurn >= 3 && perTurn <= 1e5))
			fail(statement.perTurn!, `${perTurn} divisions in a full turn do not work: the number must be from 3 to 100000`);
		const positions = statement.positions?.map((p) => context.number(p, 'number'));
		positions?.forEach((p, k) => {
			if (!(p > (positions[k - 1] ?? 0) && p < 1))
				fail(statement.positions![k]!, `${p} does not follow; positions are fractions of the length that rise between 0 and 1`);
		});
		const { toward, like } = statement;
		if (positions && (toward === 'both' || toward === 'middle'))
			fail(
				statement.clauses.find((c) => c.name === 'spacing')!,
				`positions are counted from one end; name a point or a curve there`
			);
		checkNumbers(statement, numbers);
		return {
			pieces: withSets(statement.pieces, context),
			...(statement.asOne ? { asOne: true } : {}),
			...(count === undefined ? {} : { count }),
			...(statement.size ? { size: context.positive(statement.size, 'a division size') } : {}),
			...(perTurn === undefined ? {} : { perTurn }),
			...(statement.chordError ? { chordError: context.positive(statement.chordError, 'a chord error') } : {}),
			...(statement.numbers ? { numbers } : {}),
			...(positions ? { positions } : {}),
			...(toward ? { toward } : {}),
			...(typeof toward === 'object' && toward.point ? { towardPlace: evaluatePoint(toward.point, context.scope) } : {}),
			...(like ? { like } : {})
		};
	},
	promises: divisionPromises,
	actsOn: ({ pieces }) => [pieces],
	uses: (s) => [...namesIn(s.pieces, s.into, s.size, s.perTurn, s.chordError), ...spacingUses(s)],
	// Without what it was like, it keeps its count, where it has one.
	loses: ({ like, clauses }, gone) =>
		like && gone(like) ? (clauses.some((c) => c.name === 'count') ? { clause: 'spacing' } : 'all') : undefined
};

function divisionPromises(statement: DivideStatement): StatementPromise[] {
	const { pieces, asOne, count, size, perTurn, chordError, numbers = {}, positions, toward, towardPlace, like } = statement;
	const of = { pieces, ...(asOne ? { asOne } : {}) };
	const list: StatementPromise[] = [];
	if (count !== undefined) list.push({ asks: 'count', ...of, value: count });
	if (size !== undefined) list.push({ asks: 'division size', ...of, value: size });
	if (perTurn !== undefined) list.push({ asks: 'divisions a turn', ...of, value: perTurn });
	if (chordError !== undefined) list.push({ asks: 'chord error', ...of, value: chordError });
	if (like) list.push({ asks: 'like another', ...of, other: like });
	if (!toward) return list;
	const end = { ...of, toward, ...(towardPlace ? { place: towardPlace } : {}) };
	const { first, last, growth, bias, largest } = numbers;
	if (positions) list.push({ asks: 'positions', ...end, fractions: positions });
	if (first !== undefined) list.push({ asks: 'first cell', ...end, value: first });
	if (last !== undefined) list.push({ asks: 'last cell', ...end, value: last });
	if (growth !== undefined)
		list.push({ asks: 'cell growth', ...end, value: growth, ...(largest === undefined ? {} : { largest }) });
	if (bias !== undefined) list.push({ asks: 'bias', ...end, value: bias });
	if (largest !== undefined) list.push({ asks: 'largest cell', ...of, value: largest });
	return list;
}

/** One number shapes a given count; two give the count as well; a first and a last size shape any count. */
function checkNumbers(statement: DivideSyntax, numbers: Partial<Record<SpacingWord, number>>): void {
	const words = keysOf(numbers);
	const counted =
		statement.into !== undefined ||
		statement.size !== undefined ||
		statement.perTurn !== undefined ||
		statement.chordError !== undefined;
	const ends = words.length === 2 && words.includes('first') && words.includes('last');
	const span = statement.clauses.find((c) => c.name === 'spacing')!;
	if (words.includes('largest')) {
		if (words.length !== 3 || !words.includes('first') || !words.includes('growth'))
			fail(span, '“largest” ends a growth: it stands with “first” and “growth”, like “first 0.1 growth 1.2 largest 2”');
		if (counted) fail(span, 'a first cell, a growth and a largest cell give the count; leave the count out');
		if (numbers.growth! <= 1) fail(span, `cells that grow by ${numbers.growth!} never reach a largest one; use a growth above 1`);
		if (numbers.largest! < numbers.first!)
			fail(span, `the largest cell, ${numbers.largest!}, is smaller than the first, ${numbers.first!}`);
		if (statement.toward === 'middle') fail(span, 'cells that grow up to a largest one start at an end, or at “both”');
		return;
	}
	if (words.length > 2)
		fail(span, `${words.join(', ')} together say more than a spacing has room for; two of them and no count give the count`);
	if (words.length === 2 && counted && !ends)
		fail(
			span,
			`with a count there is room for one of ${words.join(' and ')}, or for “first” and “last”; leave the count out and both give it`
		);
	if (ends && counted && (statement.toward === 'both' || statement.toward === 'middle'))
		fail(span, `a first and a last cell need to know which end is first; name a point or a curve there`);
}
