import type { Point } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { layerNumbers, type LayerNumbers } from '../model/layer-numbers.ts';
import type { Model, WithLine } from '../model/model.ts';
import { namesIn, regionsIn } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { inAnyOrder } from '../language/rules.ts';
import type { StatementPromise } from '../language/promise.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { constructed, fail } from '../model/evaluation-context.ts';

const numberWords = ['first', 'growth', 'count', 'thickness', 'last'] as const;
type NumberWord = (typeof numberWords)[number];

/** Layers of cells that grow from walls, as a statement has them; lengths in recipe units. */
/** On which side of the walls layers grow: of a curve as it runs, or of a closed chain. */
export type WallSide = 'left' | 'right' | 'inside' | 'outside';

export interface LayerStatement extends LayerNumbers {
	pieces: CurveReference[];
	/** Only in this region, where a wall has regions on both sides. */
	region?: string;
	/** Only on this side of the curve, as it runs. */
	side?: WallSide;
	/** First heights at places along the walls, where they vary; `first` is that of the first place. */
	firsts?: { first: number; at: Point }[];
	/** They end where a cell is as tall as the elements behind are wide. */
	toSize?: boolean;
	/** Elements that are to fit between two stacks, or a stack and what it faces, as it is typed. */
	gap?: number;
	/** In narrow places all cells stay, and become lower by one factor. */
	squeeze?: boolean;
	/** In narrow places cells stay as high as asked, and upper ones are left out. */
	exact?: boolean;
	/** The cells are cut into triangles. */
	halved?: boolean;
}

export interface LayersSyntax extends Statement {
	kind: 'layers';
	pieces: CurveReference[];
	region?: Word;
	numbers: Partial<Record<NumberWord, Expression>>;
	/** Where `first` holds, and further heights with their places. */
	places?: { first: Expression; at: Expression }[];
	toSize?: boolean;
	side?: WallSide;
	gap?: Expression;
	squeeze?: boolean;
	exact?: boolean;
	halved?: boolean;
}

export const layers: StatementRecord<LayersSyntax, LayerStatement> = {
	kind: 'layers',
	title: 'Layers',
	words: [
		'layers',
		'on',
		'in',
		...numberWords,
		'to',
		'size',
		'left',
		'right',
		'inside',
		'outside',
		'at',
		'gap',
		'squeeze',
		'exact',
		'triangles',
		...pieceSetWords
	],
	rules: pieceSetRules,
	stage: 'fills',
	clauses: ['pieces', 'region', ...numberWords, 'to', 'side', 'gap', 'squeeze', 'exact', 'cut'],
	form: 'layers on ${walls} first ${h} growth ${1.2} count ${10}',
	doc: 'Thin cells that grow from walls into regions of triangles, or the spacing across a structured one: three of `first` (the height at the wall), `growth`, `count`, `thickness` and `last`, or first and growth `to size`. `in r`, `left` or `right`, and `inside` or `outside` of a closed chain, say on which side; `gap k` how many elements fit between two stacks at least. Where there is little room growth falls first, to 1 at least, then all cells become lower, to half, then there are fewer; with `squeeze` all stay and become lower by one factor, with `exact` none becomes lower and upper ones are left out, and both are said with their place; `first h at p, h2 at q` lets the first height vary along the walls; `triangles` cuts the cells.',
	grammar(p) {
		p.CONSUME(keyword('layers'));
		p.CONSUME(keyword('on'));
		const pieces = p.clause('pieces', () => p.SUBRULE(p.ruleOf(pieceSets)));
		const places: { first: Expression; at: Expression }[] = [];
		const parts = inAnyOrder<
			Record<NumberWord, Expression> & {
				region: Word;
				to: boolean;
				side: WallSide;
				gap: Expression;
				squeeze: boolean;
				exact: boolean;
				halved: boolean;
			}
		>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				region: () =>
					p.clause('region', () => {
						p.CONSUME(keyword('in'));
						return p.SUBRULE(p.dottedName);
					}),
				first: () =>
					p.clause('first', () => {
						p.CONSUME(keyword('first'));
						const first = p.SUBRULE(p.expression);
						p.OPTION(() => {
							p.CONSUME(keyword('at'));
							places.push({ first, at: p.SUBRULE7(p.expression) });
							p.MANY2(() => {
								p.CONSUME(Comma);
								const further = p.SUBRULE8(p.expression);
								p.CONSUME2(keyword('at'));
								places.push({ first: further, at: p.SUBRULE9(p.expression) });
							});
						});
						return first;
					}),
				growth: () =>
					p.clause('growth', () => {
						p.CONSUME(keyword('growth'));
						return p.SUBRULE2(p.expression);
					}),
				count: () =>
					p.clause('count', () => {
						p.CONSUME(keyword('count'));
						return p.SUBRULE3(p.expression);
					}),
				thickness: () =>
					p.clause('thickness', () => {
						p.CONSUME(keyword('thickness'));
						return p.SUBRULE4(p.expression);
					}),
				last: () =>
					p.clause('last', () => {
						p.CONSUME(keyword('last'));
						return p.SUBRULE5(p.expression);
					}),
				to: () =>
					p.clause('to', () => {
						p.CONSUME(keyword('to'));
						p.CONSUME(keyword('size'));
						return true;
					}),
				side: () =>
					p.clause('side', () =>
						p.OR2([
							{ ALT: () => p.CONSUME(keyword('left')).image },
							{ ALT: () => p.CONSUME(keyword('right')).image },
							{ ALT: () => p.CONSUME(keyword('inside')).image },
							{ ALT: () => p.CONSUME(keyword('outside')).image }
						])
					),
				gap: () =>
					p.clause('gap', () => {
						p.CONSUME(keyword('gap'));
						return p.SUBRULE6(p.expression);
					}),
				squeeze: () => p.clause('squeeze', () => p.CONSUME(keyword('squeeze')) !== undefined),
				exact: () => p.clause('exact', () => p.CONSUME(keyword('exact')) !== undefined),
				halved: () => p.clause('cut', () => p.CONSUME(keyword('triangles')) !== undefined)
			}
		);
		const { region, to, side, gap, squeeze, exact, halved, ...numbers } = parts;
		return {
			kind: 'layers',
			pieces,
			region,
			numbers,
			...(places.length > 0 ? { places } : {}),
			toSize: to,
			side,
			gap,
			squeeze,
			exact,
			halved
		};
	},
	evaluate(statement, context) {
		const { pieces, region, numbers, places, toSize, side, gap, squeeze, exact, halved, clauses } = statement;
		const given = Object.fromEntries(
			Object.entries(numbers).map(([name, e]) => [
				name,
				context.number(e, name === 'growth' || name === 'count' ? 'number' : 'length')
			])
		);
		const all = { from: clauses[0]!.from, to: clauses.at(-1)!.to };
		const stack = constructed(all, () => layerNumbers({ ...given, ...(toSize ? { toSize } : {}) }));
		const between = gap ? context.number(gap, 'number') : undefined;
		if (between !== undefined && !(between >= 0 && between <= 100))
			fail(gap!, `${between} elements in a gap do not work: the number must be from 0 to 100`);
		if (squeeze && exact) fail(all, '“squeeze” lowers the cells where there is little room, “exact” never does: one of the two');
		if (squeeze && toSize)
			fail(all, '“squeeze” keeps the count of the cells where there is little room; layers “to size” have none to keep');
		const firsts = places?.map(({ first, at }) => ({
			first: context.number(first, 'length'),
			at: evaluatePoint(at, context.scope),
			source: first
		}));
		for (const { first, source } of firsts ?? [])
			if (!(first > 0)) fail(source, `a first height of layers is above zero, found ${first}`);
		if (firsts && !toSize && (numbers.growth === undefined || numbers.count === undefined))
			fail(
				numbers.thickness ?? numbers.last ?? numbers.first!,
				'a first height that varies along the walls goes with “growth” and “count”, or with “growth” and “to size”; thickness and last vary with it'
			);
		const outcome = {
			...stack,
			pieces: withSets(pieces, context),
			...(between === undefined ? {} : { gap: between }),
			...(side ? { side } : {}),
			...(toSize ? { toSize } : {}),
			...(firsts ? { firsts: firsts.map(({ first, at }) => ({ first, at })) } : {}),
			...(squeeze ? { squeeze } : {}),
			...(exact ? { exact } : {}),
			...(halved ? { halved } : {})
		};
		return region ? context.regions(region).map((name) => ({ ...outcome, region: name })) : outcome;
	},
	promises: layerPromises,
	actsOn: ({ pieces }) => [pieces],
	uses: ({ pieces, region, numbers, places = [], gap }) => [
		...namesIn(pieces, ...Object.values(numbers), ...places.flatMap(({ first, at }) => [first, at]), gap),
		...(region ? regionsIn([region]) : [])
	]
};

function layerPromises(statement: LayerStatement): StatementPromise[] {
	const { pieces, region, side, halved, first, firsts, growth, count, toSize, squeeze } = statement;
	const of = { pieces, ...(region ? { region } : {}), ...(side ? { side } : {}), ...(halved ? { halved } : {}) };
	// With “squeeze” cells become lower where there is little room, and where the first height varies it has no one value.
	const isFixed = !squeeze && !firsts;
	return [
		...(isFixed ? [{ asks: 'first height', ...of, value: first } as const] : []),
		...(toSize ? [] : [{ asks: 'layer count', ...of, value: count } as const]),
		...(firsts ? [] : [{ asks: 'layer growth', ...of, value: growth, count } as const])
	];
}

/** The layers of a recipe, in their order. */
export const layersOf = (model: Model): WithLine<LayerStatement>[] => stated(model, layers);
