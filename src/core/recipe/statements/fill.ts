import { entriesOf, mapped } from '../../text/typed.ts';
import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { namesIn, regionsIn } from '../language/names.ts';
import {
	countOf,
	spacingClause,
	spacingNumber,
	spacingRules,
	spacingUses,
	type SpacingWord,
	spacingWords,
	type SpacingSyntax
} from './shared/spacing-clause.ts';
import { inAnyOrder } from '../language/rules.ts';
import type { StatementPromise } from '../language/promise.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

export type FillKind = 'structured' | 'quads' | 'triangles' | 'none';

/** How a ring, or what lies between a round outline and its core, is divided across. */
export interface Across {
	count?: number;
	number?: { word: SpacingWord; value: number; toward: 'both' | 'middle' | CurveReference };
}

export interface FillStatement {
	regions: string[];
	fill: FillKind;
	corners?: Point[];
	size?: number;
	across?: Across;
	/** A point outside and one inside that a line across a ring joins. */
	seam?: [Point, Point];
	/** Triangles of a near-equilateral lattice inside. */
	even?: boolean;
	/** Triangles may stand where quadrilaterals would be worse. */
	mostly?: boolean;
	/** The quadrilaterals of a structured layout are cut into triangles. */
	halved?: boolean;
	/** The blocks of a structured fill are found by themselves. */
	blocks?: boolean;
	/** Smoothing sweeps; absent where the fill decides. */
	sweeps?: number;
}

export interface FillSyntax extends Statement {
	kind: 'fill';
	regions: Word[];
	fill: FillKind;
	corners?: Expression[];
	size?: Expression;
	/** Blocks that are found by themselves. */
	blocks?: boolean;
	/** Triangles with a right angle, in the rows of a structured layout. */
	halved?: boolean;
	/** Triangles of a near-equilateral lattice inside. */
	even?: boolean;
	/** Triangles may stand where quadrilaterals would be worse. */
	mostly?: boolean;
	/** Divisions across a ring or from a round outline to its core. */
	into?: Expression;
	spacing?: { numbers?: Partial<Record<SpacingWord, Expression>>; toward?: 'both' | 'middle' | CurveReference };
	/** Where a ring's lines across start: a point outside and one inside. */
	seam?: [Expression, Expression];
	smooth?: boolean;
	sweeps?: Expression;
}

export const fill: StatementRecord<FillSyntax, FillStatement> = {
	kind: 'fill',
	title: 'Fill',
	words: [
		'fill',
		'structured',
		'blocks',
		'corners',
		'seam',
		'to',
		'into',
		'smooth',
		'quads',
		'mostly',
		'triangles',
		'halved',
		'even',
		'size',
		'none',
		...spacingWords
	],
	stage: 'fills',
	rules: spacingRules,
	clauses: ['regions', 'fill', 'pattern', 'corners', 'seam', 'across', 'spacing', 'smooth', 'size'],
	form: 'fill ${regions} ${triangles}',
	doc: 'What regions are filled with: `structured` quadrilaterals in blocks; `structured blocks`, whose blocks are found by themselves in any outline; `quads`, in any outline, or `quads mostly`, with a triangle where that is better; `triangles`, `triangles even`, `triangles halved`, the quadrilaterals of `structured`, each cut in two; or `none`.',
	grammar(p) {
		p.CONSUME(keyword('fill'));
		const regions = p.clause('regions', () => p.SUBRULE(p.names));
		const fill = p.OR([
			{
				ALT: () => {
					p.clause('fill', () => p.CONSUME(keyword('structured')));
					const { blocks, size, corners, seam, across, spacing, smooth } = inAnyOrder<{
						blocks: true;
						size: Expression;
						corners: Expression[];
						seam: [Expression, Expression];
						across: { into: Expression };
						spacing: SpacingSyntax;
						smooth: { sweeps?: Expression | undefined };
					}>(
						(parse) => p.MANY(parse),
						(choices) => p.OR6(choices),
						{
							blocks: () => p.clause('pattern', () => p.CONSUME(keyword('blocks')) && true),
							size: () =>
								p.clause('size', () => {
									p.CONSUME3(keyword('size'));
									return p.SUBRULE9(p.expression);
								}),
							corners: () =>
								p.clause('corners', () => {
									p.CONSUME(keyword('corners'));
									const list = [p.SUBRULE(p.expression)];
									p.AT_LEAST_ONE(() => {
										p.CONSUME(Comma);
										list.push(p.SUBRULE2(p.expression));
									});
									return list;
								}),
							seam: () =>
								p.clause('seam', () => {
									p.CONSUME(keyword('seam'));
									const outside = p.SUBRULE6(p.expression);
									p.CONSUME(keyword('to'));
									return [outside, p.SUBRULE7(p.expression)];
								}),
							across: () =>
								p.clause('across', () => {
									p.CONSUME(keyword('into'));
									return { into: p.SUBRULE4(p.expression) };
								}),
							spacing: () => p.SUBRULE(p.ruleOf(spacingClause)),
							smooth: () =>
								p.clause('smooth', () => {
									p.CONSUME(keyword('smooth'));
									return { sweeps: p.OPTION6(() => p.SUBRULE5(p.expression)) };
								})
						}
					);
					return {
						fill: 'structured',
						corners,
						...(blocks ? { blocks } : {}),
						...(size ? { size } : {}),
						...(seam ? { seam } : {}),
						...across,
						...(spacing ? { spacing } : {}),
						...(smooth ? { smooth: true, ...smooth } : {})
					};
				}
			},
			{
				ALT: () => {
					p.clause('fill', () => p.CONSUME(keyword('triangles')));
					const { pattern, size } = inAnyOrder<{ pattern: { halved: boolean } | { even: boolean }; size: Expression }>(
						(parse) => p.MANY2(parse),
						(choices) => p.OR7(choices),
						{
							pattern: () =>
								p.clause('pattern', () =>
									p.OR5([
										{ ALT: () => ({ halved: !!p.CONSUME(keyword('halved')) }) },
										{ ALT: () => ({ even: !!p.CONSUME(keyword('even')) }) }
									])
								),
							size: () =>
								p.clause('size', () => {
									p.CONSUME(keyword('size'));
									return p.SUBRULE3(p.expression);
								})
						}
					);
					return { fill: 'triangles', size, ...pattern };
				}
			},
			{
				ALT: () => {
					p.clause('fill', () => p.CONSUME(keyword('quads')));
					const { mostly, size } = inAnyOrder<{ mostly: true; size: Expression }>(
						(parse) => p.MANY3(parse),
						(choices) => p.OR8(choices),
						{
							mostly: () => p.clause('pattern', () => p.CONSUME(keyword('mostly')) && true),
							size: () =>
								p.clause('size', () => {
									p.CONSUME2(keyword('size'));
									return p.SUBRULE8(p.expression);
								})
						}
					);
					return { fill: 'quads', size, ...(mostly ? { mostly: true } : {}) };
				}
			},
			{
				ALT: () => {
					p.clause('fill', () => p.CONSUME(keyword('none')));
					return { fill: 'none' };
				}
			}
		]);
		return { kind: 'fill', regions, ...fill };
	},
	evaluate(statement, context) {
		checkBlocks(statement);
		return {
			regions: statement.regions.flatMap((r) => context.regions(r)),
			fill: statement.halved ? 'structured' : statement.fill,
			...(statement.halved ? { halved: true } : {}),
			...(statement.blocks ? { blocks: true } : {}),
			...(statement.even ? { even: true } : {}),
			...(statement.mostly ? { mostly: true } : {}),
			...(statement.corners ? { corners: cornersOf(statement.corners, context) } : {}),
			...structureOf(statement, context),
			...(statement.size ? { size: context.positive(statement.size, 'an element size') } : {})
		};
	},
	promises: fillPromises,
	actsOn: ({ regions }) => [regions],
	uses: (s) => [
		...regionsIn(s.regions),
		...namesIn(s.corners, s.size, s.into, s.seam, s.sweeps),
		...(s.spacing ? spacingUses(s.spacing) : [])
	]
};

/** What goes with blocks that are found by themselves, and what with a layout that is given, is not mixed. */
function checkBlocks({ fill, halved, blocks, size, clauses }: FillSyntax): void {
	if (fill !== 'structured') return;
	const other = clauses.find(({ name }) => ['corners', 'seam', 'across', 'spacing', 'smooth'].includes(name));
	if (blocks && other)
		fail(other, 'blocks that are found by themselves take a size alone; leave this out, or leave out “blocks”');
	if (!blocks && !halved && size)
		fail(size, 'a structured fill has the sizes of the divisions around it; “structured blocks” takes a size');
}

function fillPromises({ regions, fill, halved, mostly, size, across }: FillStatement): StatementPromise[] {
	const shape = halved ? 'triangles' : 'quadrilaterals';
	return regions.flatMap((region): StatementPromise[] => [
		// Layers on walls are cells of four sides among triangles, too.
		...(fill === 'none' || fill === 'triangles' || mostly ? [] : [{ asks: 'shape', region, shape } as const]),
		...(size === undefined ? [] : [{ asks: 'size', place: { kind: 'region', region }, value: size } as const]),
		...(across?.count === undefined || halved ? [] : [{ asks: 'rows across', region, value: across.count } as const]),
		...(across?.number?.word !== 'first' || typeof across.number.toward === 'string' || halved
			? []
			: [{ asks: 'first row', region, at: across.number.toward, value: across.number.value } as const])
	]);
}

/** What a structured fill says of the divisions across, and of smoothing. */
function structureOf(statement: FillSyntax, context: EvaluationContext): Pick<FillStatement, 'across' | 'sweeps' | 'seam'> {
	const { into, spacing, smooth, sweeps } = statement;
	const across: Across = {};
	if (into) across.count = countOf(into, 10_000, context);
	if (spacing) {
		const span = statement.clauses.find((c) => c.name === 'spacing')!;
		const words = entriesOf(spacing.numbers ?? {});
		const [[word, expression]] =
			words.length === 1 && words[0]![0] !== 'largest'
				? (words as [[SpacingWord, Expression]])
				: fail(span, 'the divisions across a region take one of bias, first, last and growth');
		across.number = { word, value: spacingNumber(word, expression, context), toward: spacing.toward! };
	}
	const count = sweeps ? context.number(sweeps, 'number') : 20;
	if (!(Number.isInteger(count) && count >= 0 && count <= 1000))
		fail(sweeps!, `${count} is no number of smoothing sweeps; it is a whole number from 0 to 1000`);
	return {
		...(into || spacing ? { across } : {}),
		...(smooth ? { sweeps: count } : {}),
		...(statement.seam ? { seam: mapped(statement.seam, (e) => evaluatePoint(e, context.scope)) } : {})
	};
}

function cornersOf(list: Expression[], context: EvaluationContext): Point[] {
	if (list.length < 3)
		fail({ from: list[0]!.from, to: list.at(-1)!.to }, `a structured region has at least three corners, found ${list.length}`);
	return list.map((e) => evaluatePoint(e, context.scope));
}
