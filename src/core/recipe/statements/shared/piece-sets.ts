import { mapped } from '../../../text/typed.ts';
import { evaluatePoint } from '../../model/expressions.ts';
import type { NamedRule } from '../../language/rules.ts';
import type { CurveReference, Expression, PieceSet, PieceSetSyntax, Word } from '../../language/syntax.ts';
import { Comma, keyword } from '../../language/tokens.ts';
import { fail, type EvaluationContext } from '../../model/evaluation-context.ts';

/** The words of {@link pieceSets}. */
export const pieceSetWords: readonly string[] = [
	...['except', 'at'],
	...['outer', 'holes', 'of', 'between', 'all', 'touching', 'box', 'to'],
	...['facing', 'up', 'down', 'left', 'right', 'within']
];

const directions: Record<string, number> = { right: 0, up: 90, left: 180, down: 270 };
/** A piece faces a direction where nothing else is said if it does so within this, in degrees. */
const usuallyWithin = 45;
const degree = Math.PI / 180;

const facingClause: NamedRule<NonNullable<PieceSetSyntax['facing']>> = {
	name: 'facingClause',
	parse(p) {
		p.CONSUME(keyword('facing'));
		const direction = p.OR({
			// A parameter may be called `up`; here the words win.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				...Object.keys(directions).map((name) => ({ ALT: () => p.CONSUME(keyword(name)).image })),
				{ ALT: () => p.SUBRULE(p.expression) }
			]
		}) as string | Expression;
		const within = p.OPTION(() => {
			p.CONSUME(keyword('within'));
			return p.SUBRULE2(p.expression);
		});
		return { direction, ...(within ? { within } : {}) };
	}
};

const description: NamedRule<PieceSetSyntax> = {
	name: 'pieceDescription',
	parse(p) {
		const facing = () => p.SUBRULE(p.ruleOf(facingClause));
		return p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('outer'));
					return { kind: 'outer', facing: facing() };
				}
			},
			{
				ALT: () => {
					const set = p.OR2([
						{
							ALT: () => {
								p.CONSUME(keyword('holes'));
								p.CONSUME(keyword('of'));
								return { kind: 'holes', regions: [p.SUBRULE(p.dottedName)] };
							}
						},
						{
							ALT: () => {
								p.CONSUME(keyword('between'));
								const first = p.SUBRULE2(p.dottedName);
								p.CONSUME(Comma);
								return { kind: 'between', regions: [first, p.SUBRULE3(p.dottedName)] };
							}
						},
						{
							ALT: () => {
								p.CONSUME(keyword('all'));
								p.CONSUME2(keyword('of'));
								return { kind: 'layer', layer: p.SUBRULE(p.curveReference) };
							}
						},
						{
							ALT: () => {
								p.CONSUME(keyword('touching'));
								p.CONSUME(keyword('box'));
								const from = p.SUBRULE(p.expression);
								p.CONSUME(keyword('to'));
								return { kind: 'touching', box: [from, p.SUBRULE2(p.expression)] };
							}
						}
					]) as PieceSetSyntax;
					const direction = p.OPTION(() => p.SUBRULE2(p.ruleOf(facingClause)));
					return direction ? { ...set, facing: direction } : set;
				}
			}
		]) as PieceSetSyntax;
	}
};

const pieceSet: NamedRule<CurveReference> = {
	name: 'pieceSet',
	parse(p) {
		return p.OR({
			// A curve may be called `outer`; where one is, the name alone means it.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				{
					// A curve may be called `between`; the word has two names behind it.
					GATE: () => p.LA(1).image !== 'between' || p.LA(3).image === ',',
					ALT: () => {
						const { value, from, to, source } = p.spanned(() => p.SUBRULE(p.ruleOf(description)));
						return { name: '', set: value, source, from, to };
					}
				},
				{
					ALT: () => {
						const { value, from, to, source } = p.spanned(() => {
							const first = p.SUBRULE(p.curveReference);
							return (
								p.OPTION(() =>
									p.OR2([
										{
											ALT: () => {
												p.CONSUME(keyword('to'));
												const last = p.SUBRULE2(p.curveReference);
												return { ...first, through: last, to: last.to };
											}
										},
										{
											ALT: () => {
												p.CONSUME(keyword('at'));
												return { kind: 'piece', curve: first, at: p.SUBRULE(p.expression) };
											}
										}
									])
								) ?? first
							);
						}) as { value: CurveReference | PieceSetSyntax; from: number; to: number; source: string };
						return value && 'kind' in value ? { name: '', set: value, source, from, to } : value;
					}
				}
			]
		}) as CurveReference;
	}
};

/** Pieces by name and number or by a place on them, chains like `wall[2] to wall[5]`, and descriptions like `holes of r`, in one list; `except` leaves others out. */
export const pieceSets: NamedRule<CurveReference[]> = {
	name: 'pieceSets',
	parse(p) {
		const { value, from, to, source } = p.spanned(() => {
			const of = [p.SUBRULE(p.ruleOf(pieceSet))];
			p.MANY(() => {
				p.CONSUME(Comma);
				of.push(p.SUBRULE2(p.ruleOf(pieceSet)));
			});
			// What follows “except” is left out of all that stands before it.
			const but = p.OPTION(() => {
				p.CONSUME(keyword('except'));
				const list = [p.SUBRULE3(p.ruleOf(pieceSet))];
				p.MANY2(() => {
					p.CONSUME2(Comma);
					list.push(p.SUBRULE4(p.ruleOf(pieceSet)));
				});
				return list;
			});
			return { of, but };
		});
		const { of, but } = value;
		return but ? [{ name: '', set: { kind: 'except', of, but }, source, from, to }] : of;
	}
};

export const pieceSetRules: readonly NamedRule<unknown>[] = [facingClause, description, pieceSet, pieceSets];

/** References with their descriptions worked out. */
export const withSets = (references: readonly CurveReference[], context: EvaluationContext): CurveReference[] =>
	references.map((r) => (r.set ? { ...r, found: worked(r.set, context) } : r));

function worked(
	{ kind, regions = [], layer, box, facing, of = [], but = [], curve, at }: PieceSetSyntax,
	context: EvaluationContext
): PieceSet {
	const toward = facing && {
		facing: {
			angle:
				typeof facing.direction === 'string' ? directions[facing.direction]! * degree : context.number(facing.direction, 'angle'),
			within: facing.within ? context.number(facing.within, 'angle') : usuallyWithin * degree
		}
	};
	if (toward && facing.within && !(toward.facing.within > 0 && toward.facing.within <= Math.PI))
		fail(facing.within, 'a piece faces a direction within more than 0° and up to 180°, like “within 30 deg”');
	const names = regions.flatMap((r: Word) => context.regions(r));
	switch (kind) {
		case 'outer':
			return { kind, ...toward };
		case 'holes':
			return { kind, regions: names, ...toward };
		case 'between':
			return { kind, regions: names as [string, string], ...toward };
		case 'layer':
			return { kind, layer: layer!.name, ...toward };
		case 'touching':
			return { kind, box: mapped(box!, (corner) => evaluatePoint(corner, context.scope)), ...toward };
		case 'except':
			return { kind, of: withSets(of, context), but: withSets(but, context) };
		case 'piece':
			return { kind, curve: curve!, at: evaluatePoint(at!, context.scope) };
	}
}
