import { mapped } from '../../text/typed.ts';
import { flatten } from '../../geometry/parts.ts';
import { fileNamed } from './shared/curve-files.ts';
import type { CoordinateFile, Model, ResultField } from '../model/model.ts';
import { type Point, segmentCount } from '../../geometry/curve.ts';
import { evaluatePoint } from '../model/expressions.ts';
import type { WithLine } from '../model/model.ts';
import { hypot } from '../../numeric/elementary.ts';
import { largestCurvature, mostBeside, sizesForError } from '../../numeric/curvature.ts';
import { didYouMean } from '../../text/nearest.ts';
import { fileScale } from '../language/units.ts';
import { short } from '../../text/sentences.ts';
import { namesIn, type NameUse } from '../language/names.ts';
import { pieceSetRules, pieceSets, pieceSetWords, withSets } from './shared/piece-sets.ts';
import { inAnyOrder, led, type NamedRule, withNeeded, word } from '../language/rules.ts';
import type { StatementPromise } from '../language/promise.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword, Name } from '../language/tokens.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

/** Where a size of its own holds. */
export type ZoneClause =
	| { kind: 'near'; references: CurveReference[]; within?: Expression }
	| { kind: 'at'; points: Expression[] }
	| { kind: 'circle'; centre: Expression; radius: Expression }
	| { kind: 'box'; corners: [Expression, Expression] }
	/** A polygon by its corners. */
	| { kind: 'corners'; corners: Expression[] }
	| { kind: 'line'; points: Expression[]; within?: Expression }
	| { kind: 'curve'; curve: CurveReference }
	| { kind: 'wake'; references: CurveReference[]; along?: Expression; length: Expression; widening?: Expression }
	/** Everywhere: elements in a full turn of a curve, or across a gap. */
	| { kind: 'turn' | 'gap'; number: Expression }
	/** Wherever a run has values: by how a field of them curves. */
	| ({ kind: 'result'; file: Word } & ResultClauses);

/** What is said of a result: its field, how far it may be missed, and between which sizes. */
interface ResultClauses {
	field?: Word;
	error: Expression;
	least?: Expression;
	most?: Expression;
}

/** The size everywhere, how fast sizes may grow, and the ratio of neighbouring cells above which a jump is reported. */
export interface GlobalSize {
	size: number;
	growth?: number;
	jump?: number;
}

/** A place with a size of its own, as a statement has it; lengths in recipe units, angles in radians. */
export interface ZoneStatement {
	size?: number;
	fade?: number;
	zone:
		| { kind: 'near'; references: CurveReference[]; within: number }
		| { kind: 'at'; point: Point }
		| { kind: 'circle'; centre: Point; radius: number }
		/** A polyline of its own, flat x, y pairs. */
		| { kind: 'line'; points: Float64Array; within: number }
		/** A closed polygon, flat x, y pairs. */
		| { kind: 'polygon'; outline: Float64Array }
		| { kind: 'wake'; references: CurveReference[]; along: number; length: number; widening: number }
		| { kind: 'turn' | 'gap'; number: number }
		/** Sizes at the places of a result. */
		| { kind: 'result'; x: Float64Array; y: Float64Array; sizes: Float64Array };
}

export interface SizeSyntax extends Statement {
	kind: 'size';
	size?: Expression;
	growth?: Expression;
	jump?: Expression;
	zone?: ZoneClause;
	fade?: Expression;
}

const [within, along, length, widening, fade] = mapped(['within', 'along', 'length', 'widening', 'fade'] as const, led);

/** A zone and its fade: the clause of a zone ends where its fade begins. */
const zoneRule: NamedRule<{ zone: ZoneClause; fade?: Expression }> = {
	name: 'zone',
	parse(p) {
		const value = (rule: NamedRule<Expression>) => () => p.SUBRULE(p.ruleOf(rule));
		const later = (rule: NamedRule<Expression>) => () => p.SUBRULE2(p.ruleOf(rule));
		const fading = { fade: () => p.clause('fade', () => p.SUBRULE3(p.ruleOf(fade))) };
		return p.OR([
			{
				ALT: () => {
					const found: { within?: Expression; fade?: Expression } = {};
					const place = p.clause('zone', () => {
						p.CONSUME(keyword('near'));
						const place = p.OR3({
							// A curve may be called `polyline`; before a place the word wins.
							IGNORE_AMBIGUITIES: true,
							DEF: [
								{
									ALT: () => {
										p.CONSUME(keyword('polyline'));
										return { kind: 'line', points: p.SUBRULE(p.pointChain) };
									}
								},
								{ ALT: () => ({ kind: 'near', references: p.SUBRULE(p.ruleOf(pieceSets)) }) }
							]
						});
						inAnyOrder(
							(parse) => p.MANY(parse),
							(choices) => p.OR4(choices),
							{ within: value(within) },
							found
						);
						return place;
					});
					inAnyOrder(
						(parse) => p.MANY2(parse),
						(choices) => p.OR5(choices),
						{ ...fading, within: later(within) },
						found
					);
					return { zone: { ...place, within: found.within }, fade: found.fade };
				}
			},
			{
				ALT: () => {
					const zone = p.clause('zone', () => {
						p.CONSUME(keyword('at'));
						return { kind: 'at', points: p.SUBRULE(p.expressions) };
					});
					return { zone, fade: p.OPTION(() => p.clause('fade', () => p.SUBRULE4(p.ruleOf(fade)))) };
				}
			},
			{
				ALT: () => {
					const zone = p.clause('zone', () => {
						p.CONSUME(keyword('inside'));
						return p.OR2({
							// A curve may be called `box`; here the word wins.
							IGNORE_AMBIGUITIES: true,
							DEF: [
								{
									ALT: () => {
										p.CONSUME(keyword('circle'));
										p.CONSUME(keyword('around'));
										const centre = p.SUBRULE3(p.expression);
										p.CONSUME(keyword('radius'));
										return { kind: 'circle', centre, radius: p.SUBRULE4(p.expression) };
									}
								},
								{
									ALT: () => {
										p.CONSUME(keyword('box'));
										const from = p.SUBRULE5(p.expression);
										p.CONSUME(keyword('to'));
										return { kind: 'box', corners: [from, p.SUBRULE6(p.expression)] };
									}
								},
								{
									ALT: () => {
										p.CONSUME2(keyword('polyline'));
										return { kind: 'corners', corners: p.SUBRULE2(p.pointChain) };
									}
								},
								{ ALT: () => ({ kind: 'curve', curve: p.SUBRULE(p.curveReference) }) }
							]
						});
					});
					return { zone, fade: p.OPTION2(() => p.clause('fade', () => p.SUBRULE5(p.ruleOf(fade)))) };
				}
			},
			{
				ALT: () => {
					const found: Partial<Record<'along' | 'length' | 'widening' | 'fade', Expression>> = {};
					const references = p.clause('zone', () => {
						p.CONSUME(keyword('behind'));
						const references = p.SUBRULE2(p.curveReferences);
						inAnyOrder(
							(parse) => p.MANY3(parse),
							(choices) => p.OR6(choices),
							{ along: value(along), length: value(length), widening: value(widening) },
							found
						);
						return references;
					});
					inAnyOrder(
						(parse) => p.MANY4(parse),
						(choices) => p.OR7(choices),
						{
							fade: () => p.clause('fade', () => p.SUBRULE6(p.ruleOf(fade))),
							along: later(along),
							length: later(length),
							widening: later(widening)
						},
						found
					);
					const { fade: faded, ...parts } = withNeeded(found, { length: () => p.CONSUME(keyword('length')) });
					return { zone: { kind: 'wake', references, ...parts }, fade: faded };
				}
			}
		]);
	}
};

/** `from "run.vtu" field temperature error 0.01 least 0.1 most 4` */
const resultRule: NamedRule<ZoneClause> = {
	name: 'resultZone',
	parse(p) {
		p.CONSUME(keyword('from'));
		const file = p.SUBRULE(p.quoted);
		const found = inAnyOrder<Required<ResultClauses>>(
			(parse) => p.MANY(parse),
			(choices) => p.OR(choices),
			{
				field: () => {
					p.CONSUME(keyword('field'));
					return p.OR2([{ ALT: () => word(p.CONSUME(Name)) }, { ALT: () => p.SUBRULE2(p.quoted) }]) as Word;
				},
				error: () => {
					p.CONSUME(keyword('error'));
					return p.SUBRULE(p.expression);
				},
				least: () => {
					p.CONSUME(keyword('least'));
					return p.SUBRULE2(p.expression);
				},
				most: () => {
					p.CONSUME(keyword('most'));
					return p.SUBRULE3(p.expression);
				}
			}
		);
		return { kind: 'result', file, ...withNeeded(found, { error: () => p.CONSUME2(keyword('error')) }) };
	}
};

export const size: StatementRecord<SizeSyntax, GlobalSize | ZoneStatement> = {
	kind: 'size',
	title: 'Size',
	words: [
		'size',
		'by',
		'turn',
		'gap',
		'growth',
		'jump',
		'fade',
		'near',
		'polyline',
		'within',
		'at',
		'inside',
		'circle',
		'around',
		'radius',
		'box',
		'behind',
		'along',
		'length',
		'widening',
		'from',
		'field',
		'error',
		'least',
		'most',
		...pieceSetWords
	],
	stage: 'fills',
	rules: [within, along, length, widening, fade, zoneRule, resultRule, ...pieceSetRules],
	clauses: ['size', 'zone', 'fade', 'growth', 'jump'],
	form: 'size ${h} growth ${1.2}',
	doc: 'How large elements are: everywhere, with the growth from fine to coarse and the jump between neighbouring cells that is still taken; or at a place with a size of its own, which goes over into the size around by the growth or over the distance that `fade` gives; or by curvature (`by turn n`) and gaps (`by gap n`); or by a result of a run, so that straight interpolation misses its field by a share of its range at most.',
	grammar(p) {
		p.CONSUME(keyword('size'));
		return p.OR([
			{
				ALT: () => {
					const zone = p.clause('zone', () => {
						p.CONSUME(keyword('by'));
						const by = p.OR2([{ ALT: () => p.CONSUME(keyword('turn')) }, { ALT: () => p.CONSUME(keyword('gap')) }]).image;
						return { kind: by, number: p.SUBRULE(p.expression) };
					});
					return { kind: 'size', zone };
				}
			},
			{ ALT: () => ({ kind: 'size', zone: p.clause('zone', () => p.SUBRULE(p.ruleOf(resultRule))) }) },
			{
				ALT: () => {
					const size = p.clause('size', () => p.SUBRULE2(p.expression));
					return p.OR3([
						{
							ALT: () => {
								const { zone, fade } = p.SUBRULE(p.ruleOf(zoneRule));
								return { kind: 'size', size, zone, ...(fade ? { fade } : {}) };
							}
						},
						{
							ALT: () => {
								const rest = inAnyOrder<{ growth: Expression; jump: Expression }>(
									(parse) => p.MANY(parse),
									(choices) => p.OR4(choices),
									{
										growth: () =>
											p.clause('growth', () => {
												p.CONSUME(keyword('growth'));
												return p.SUBRULE4(p.expression);
											}),
										jump: () =>
											p.clause('jump', () => {
												p.CONSUME(keyword('jump'));
												return p.SUBRULE5(p.expression);
											})
									}
								);
								return { kind: 'size', size, ...rest };
							}
						}
					]);
				}
			}
		]);
	},
	evaluate(statement, context) {
		if (statement.zone) return evaluateZone(statement, statement.zone, context);
		const size = context.positive(statement.size!, 'an element size');
		const growth = statement.growth && context.number(statement.growth, 'number');
		if (growth !== undefined && !(growth > 1 && growth <= 3))
			fail(statement.growth!, `a growth of ${growth} does not work: it must be above 1 and at most 3, like 1.2`);
		const jump = statement.jump && context.number(statement.jump, 'number');
		if (jump !== undefined && !(jump > 1)) fail(statement.jump!, `a jump of ${jump} is none; it is a ratio above 1, like 2`);
		return { size, ...(growth === undefined ? {} : { growth }), ...(jump === undefined ? {} : { jump }) };
	},
	promises: sizePromises,
	actsOn: ({ zone }) => (zone && 'references' in zone ? [zone.references] : []),
	needs: ({ zone }) => (zone?.kind === 'curve' ? [zone.curve] : []),
	file: ({ zone }) => (zone?.kind === 'result' ? zone.file : undefined),
	uses: ({ size, growth, jump, zone, fade }) => [...namesIn(size, growth, jump, fade), ...(zone ? zoneUses(zone) : [])]
};

/** A size with the place where it holds. Throws {@link ExpressionError}. */
function evaluateZone(statement: SizeSyntax, zone: ZoneClause, context: EvaluationContext): ZoneStatement | ZoneStatement[] {
	const { size, fade } = statement;
	const rest = {
		...(size ? { size: context.positive(size, 'an element size') } : {}),
		...(fade ? { fade: context.positive(fade, 'a fade') } : {})
	};
	const flat = (points: readonly Expression[]) =>
		Float64Array.from(
			points.flatMap((e) => {
				const { x, y } = evaluatePoint(e, context.scope);
				return [x, y];
			})
		);
	switch (zone.kind) {
		case 'near':
			return nearZones(zone, rest, context);
		case 'at':
			return zone.points.map((p) => ({ ...rest, zone: { kind: 'at', point: evaluatePoint(p, context.scope) } }));
		case 'circle':
			return {
				...rest,
				zone: {
					kind: 'circle',
					centre: evaluatePoint(zone.centre, context.scope),
					radius: context.positive(zone.radius, 'a radius')
				}
			};
		case 'box': {
			const [a, b] = mapped(zone.corners, (c) => evaluatePoint(c, context.scope));
			return { ...rest, zone: { kind: 'polygon', outline: Float64Array.of(a.x, a.y, b.x, a.y, b.x, b.y, a.x, b.y) } };
		}
		case 'corners':
			if (zone.corners.length < 3)
				fail(
					statement.clauses.find((c) => c.name === 'zone')!,
					`a polygon has at least three corners, found ${zone.corners.length}; a band along a line is “near polyline p to q within d”`
				);
			return { ...rest, zone: { kind: 'polygon', outline: flat(zone.corners) } };
		case 'line':
			return {
				...rest,
				zone: { kind: 'line', points: flat(zone.points), within: zone.within ? context.positive(zone.within, 'a distance') : 0 }
			};
		case 'curve': {
			const curve = context.model.curves[context.curve(zone.curve)]!;
			if (!curve.closed) fail(zone.curve, `“${curve.name}” is open; a zone is the inside of a closed curve`);
			const count = segmentCount(curve);
			const whole = { curve, t0: 0, t1: count };
			const size = curve.lengths[count]!;
			return { ...rest, zone: { kind: 'polygon', outline: flatten(whole, 1e-4 * size).slice(0, -2) } };
		}
		case 'wake': {
			const along = zone.along ? context.number(zone.along, 'angle') : 0;
			const widening = zone.widening ? context.number(zone.widening, 'angle') : 0;
			if (!(widening >= 0 && widening < 1.4)) fail(zone.widening!, 'a wake widens by an angle from 0 to 80 degrees');
			return {
				...rest,
				zone: { kind: 'wake', references: zone.references, along, length: context.positive(zone.length, 'a length'), widening }
			};
		}
		case 'result':
			return { ...rest, zone: { kind: 'result', ...sizesOfResult(zone, context) } };
		default: {
			const number = context.number(zone.number, 'number');
			const least = zone.kind === 'turn' ? 3 : 1;
			if (!(number >= least && number <= 1000))
				fail(
					zone.number,
					zone.kind === 'turn'
						? `${number} elements in a full turn do not work: the number must be from 3 to 1000`
						: `${number} elements across a gap do not work: the number must be from 1 to 1000`
				);
			return { ...rest, zone: { kind: zone.kind, number } };
		}
	}
}

/** The zone near pieces, and one near each guide among the curves that are named: guides are no part of the mesh and have no pieces. */
function nearZones(
	zone: Extract<ZoneClause, { kind: 'near' }>,
	rest: Pick<ZoneStatement, 'size' | 'fade'>,
	context: EvaluationContext
): ZoneStatement[] {
	const within = zone.within ? context.positive(zone.within, 'a distance') : 0;
	const isGuide = ({ name, set, through, piece }: CurveReference) => !set && !through && !piece && context.isGuide(name);
	const references = zone.references.filter((r) => !isGuide(r));
	const guides = zone.references.filter(isGuide).flatMap((r) => context.curves(r).map((c) => context.model.curves[c]!));
	return [
		...(references.length > 0
			? [{ ...rest, zone: { kind: 'near' as const, references: withSets(references, context), within } }]
			: []),
		...guides.map((curve) => {
			const count = segmentCount(curve);
			const points = flatten({ curve, t0: 0, t1: count }, 1e-4 * curve.lengths[count]!);
			return { ...rest, zone: { kind: 'line' as const, points, within } };
		})
	];
}

/** The places of a result with the sizes that it asks for. */
type SizedPlaces = Record<'x' | 'y' | 'sizes', Float64Array>;

/** What has been worked out of the values of a field: their curvatures, and the last sizes with what was asked of them. */
const cache = new WeakMap<Float64Array, { curvature: Float64Array; asked?: string; sized?: SizedPlaces }>();

/** The sizes that a result asks for. Throws {@link ExpressionError}. */
function sizesOfResult(
	{ file, field, error, least, most }: ResultClauses & { file: Word },
	context: EvaluationContext
): SizedPlaces {
	const read = fileNamed(file, context);
	const result = resultIn(read);
	if (!result || result.fields.size === 0)
		fail(file, `“${file.text}” holds no values at nodes; a VTU file with point data, or rows of x, y and a value, is wanted`);
	const names = [...result.fields.keys()];
	const name = field?.text ?? (names.length === 1 ? names[0]! : undefined);
	if (name === undefined) fail(file, `“${file.text}” has the fields ${names.join(', ')}; say which, like “field ${names[0]}”`);
	const values = result.fields.get(name);
	if (!values)
		fail(field!, `“${file.text}” has no field “${name}”${didYouMean(name, names) || `; there are ${names.join(', ')}`}`);
	const share = context.number(error, 'number');
	if (!(share > 0 && share < 1))
		fail(error, `an error of ${share} does not work: it is a share of the field's range and must be between 0 and 1, like 0.01`);
	const unit = fileScale('drawing' in read ? read.drawing.unit : undefined, context.scope.units);
	const [x, y] = mapped([result.x, result.y], (list) => list.map((v) => unit * v));
	let [low, high, minX, minY, maxX, maxY] = [Infinity, -Infinity, Infinity, Infinity, -Infinity, -Infinity];
	for (let k = 0; k < values.length; k++) {
		if (!Number.isFinite(values[k]))
			fail(file, `the field “${name}” has no number at node ${k + 1}, (${short(x[k]!)}, ${short(y[k]!)})`);
		[low, high] = [Math.min(low, values[k]!), Math.max(high, values[k]!)];
		[minX, maxX] = [Math.min(minX, x[k]!), Math.max(maxX, x[k]!)];
		[minY, maxY] = [Math.min(minY, y[k]!), Math.max(maxY, y[k]!)];
	}
	const across = hypot(maxX - minX, maxY - minY);
	const smallest = least ? context.positive(least, 'an element size') : across / 2000;
	const largest = most ? context.positive(most, 'an element size') : across / 8;
	if (smallest > largest) fail(most ?? least!, `the least size, ${short(smallest)}, is above the most, ${short(largest)}`);
	const found = cache.get(values) ?? { curvature: mostBeside(largestCurvature(result, values), result.triangles) };
	cache.set(values, found);
	// The same as before is the same arrays, so that what is made of them is known too.
	const asked = [unit, share, smallest, largest].join(' ');
	if (!found.sized || found.asked !== asked) {
		const curvature = found.curvature.map((c) => c / unit ** 2);
		found.asked = asked;
		found.sized = { x, y, sizes: sizesForError(curvature, share * (high - low), smallest, largest) };
	}
	return found.sized;
}

/** The values of a file: those of a result, or the third column of rows. */
function resultIn(read: Exclude<CoordinateFile, { error: string }>): ResultField | undefined {
	if ('drawing' in read) return read.drawing.result;
	const cached = rowFields.get(read);
	if (cached) return cached;
	const rows = read.outlines.filter((o) => o.columns && o.columns.length > 2);
	if (rows.length === 0) return undefined;
	const joined = (of: (o: (typeof rows)[number]) => Float64Array) => Float64Array.from(rows.flatMap((o) => Array.from(of(o))));
	const result = { x: joined((o) => o.x), y: joined((o) => o.y), fields: new Map([['value', joined((o) => o.columns![2]!)]]) };
	rowFields.set(read, result);
	return result;
}

/** Rows as results, made once of each file. */
const rowFields = new WeakMap<object, ResultField>();

function sizePromises(statement: GlobalSize | ZoneStatement): StatementPromise[] {
	if (!('zone' in statement)) return [{ asks: 'size', place: { kind: 'all' }, value: statement.size }];
	const { zone, size: value } = statement;
	switch (zone.kind) {
		case 'turn':
			return [{ asks: 'elements a turn', value: zone.number }];
		case 'gap':
		case 'wake':
		case 'result':
			return [];
		default:
			return value === undefined ? [] : [{ asks: 'size', place: zone, value }];
	}
}

/** The sizes that hold everywhere, in their order. */
export const globalSizes = (model: Model): WithLine<GlobalSize>[] =>
	stated(model, size).filter((s): s is WithLine<GlobalSize> => !('zone' in s));

/** The places with a size of their own. */
export const zonesOf = (model: Model): WithLine<ZoneStatement>[] =>
	stated(model, size).filter((s): s is WithLine<ZoneStatement> => 'zone' in s);

/** The names that a zone uses. */
function zoneUses(zone: ZoneClause): NameUse[] {
	switch (zone.kind) {
		case 'near':
			return namesIn(zone.references, zone.within);
		case 'at':
			return namesIn(zone.points);
		case 'circle':
			return namesIn(zone.centre, zone.radius);
		case 'box':
		case 'corners':
			return namesIn(zone.corners);
		case 'line':
			return namesIn(zone.points, zone.within);
		case 'curve':
			return namesIn(zone.curve);
		case 'wake':
			return namesIn(zone.references, zone.along, zone.length, zone.widening);
		case 'result':
			return namesIn(zone.error, zone.least, zone.most);
		default:
			return namesIn(zone.number);
	}
}
