import { segmentCount, type Point } from '../geometry/curve.ts';
import { flatten } from '../geometry/parts.ts';
import { evaluatePoint } from './expressions.ts';
import type { Across, DivideStatement, FillStatement, ZoneStatement } from './model.ts';
import type { Expression, SpacingWord, StatementOf } from './syntax.ts';
import { fail, type Workshop } from './workshop.ts';

/** What a `fill` statement asks. Throws {@link ExpressionError}. */
export function evaluateFill(statement: StatementOf<'fill'>, shop: Workshop): FillStatement {
	return {
		regions: statement.regions.map((r) => r.text),
		fill: statement.right ? 'structured' : statement.fill,
		...(statement.right ? { halved: true } : {}),
		...(statement.even ? { even: true } : {}),
		line: shop.line,
		...(statement.corners ? { corners: cornersOf(statement.corners, shop) } : {}),
		...structureOf(statement, shop),
		...(statement.size ? { size: shop.positive(statement.size, 'an element size') } : {})
	};
}

/** What a structured fill says of the divisions across, and of smoothing. */
function structureOf(statement: StatementOf<'fill'>, shop: Workshop): Pick<FillStatement, 'across' | 'sweeps' | 'seam'> {
	const { into, spacing, smooth, sweeps } = statement;
	const across: Across = {};
	if (into) across.count = countOf(into, 10_000, shop);
	if (spacing) {
		const span = statement.clauses.find((c) => c.name === 'spacing')!;
		const words = Object.entries(spacing.numbers ?? {}) as [SpacingWord, Expression][];
		const [[word, expression]] =
			words.length === 1 && words[0]![0] !== 'largest'
				? (words as [[SpacingWord, Expression]])
				: fail(span, 'the divisions across a region take one of bias, first, last and growth');
		across.number = { word, value: spacingNumber(word, expression, shop), toward: spacing.toward! };
	}
	const count = sweeps ? shop.number(sweeps, 'number') : 20;
	if (!(Number.isInteger(count) && count >= 0 && count <= 1000))
		fail(sweeps!, `${count} is no number of smoothing sweeps; it is a whole number from 0 to 1000`);
	return {
		...(into || spacing ? { across } : {}),
		...(smooth ? { sweeps: count } : {}),
		...(statement.seam ? { seam: statement.seam.map((e) => evaluatePoint(e, shop.scope)) as [Point, Point] } : {})
	};
}

function countOf(expression: Expression, most: number, shop: Workshop): number {
	const count = shop.number(expression, 'number');
	if (!(Number.isInteger(count) && count >= 1))
		fail(expression, `${count} is no count of divisions; it is a whole number from 1`);
	if (count > most) fail(expression, `${count} divisions are too many here; the limit is ${most}`);
	return count;
}

/** What a `divide` statement asks, with its numbers worked out. Throws {@link ExpressionError}. */
export function evaluateDivide(statement: StatementOf<'divide'>, shop: Workshop): DivideStatement {
	const { line } = shop;
	const count = statement.into && countOf(statement.into, 1e6, shop);
	const numbers: Partial<Record<SpacingWord, number>> = {};
	for (const [word, expression] of Object.entries(statement.numbers ?? {}) as [SpacingWord, Expression][])
		numbers[word] = spacingNumber(word, expression, shop);
	const perTurn = statement.perTurn && shop.number(statement.perTurn, 'number');
	if (perTurn !== undefined && !(perTurn >= 3 && perTurn <= 1e5))
		fail(statement.perTurn!, `${perTurn} divisions in a full turn are out of reach; from 3 to 100000 make sense`);
	const positions = statement.positions?.map((p) => shop.number(p, 'number'));
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
		pieces: statement.pieces,
		line,
		...(statement.asOne ? { asOne: true } : {}),
		...(count === undefined ? {} : { count }),
		...(statement.size ? { size: shop.positive(statement.size, 'a division size') } : {}),
		...(perTurn === undefined ? {} : { perTurn }),
		...(statement.chordError ? { chordError: shop.positive(statement.chordError, 'a chord error') } : {}),
		...(statement.numbers ? { numbers } : {}),
		...(positions ? { positions } : {}),
		...(toward ? { toward } : {}),
		...(like ? { like } : {})
	};
}

/** A size with the place where it holds. Throws {@link ExpressionError}. */
export function evaluateZone(statement: StatementOf<'zone'>, shop: Workshop): ZoneStatement {
	const { zone, size, fade } = statement;
	const rest = {
		line: shop.line,
		...(size ? { size: shop.positive(size, 'an element size') } : {}),
		...(fade ? { fade: shop.positive(fade, 'a fade') } : {})
	};
	const flat = (points: readonly Expression[]) =>
		Float64Array.from(
			points.flatMap((e) => {
				const { x, y } = evaluatePoint(e, shop.scope);
				return [x, y];
			})
		);
	switch (zone.kind) {
		case 'near':
			return { ...rest, zone: { ...zone, within: zone.within ? shop.positive(zone.within, 'a distance') : 0 } };
		case 'at':
			return { ...rest, zone: { kind: 'at', point: evaluatePoint(zone.point, shop.scope) } };
		case 'circle':
			return {
				...rest,
				zone: { kind: 'circle', centre: evaluatePoint(zone.centre, shop.scope), radius: shop.positive(zone.radius, 'a radius') }
			};
		case 'box': {
			const [a, b] = zone.corners.map((c) => evaluatePoint(c, shop.scope)) as [Point, Point];
			return { ...rest, zone: { kind: 'polygon', outline: Float64Array.of(a.x, a.y, b.x, a.y, b.x, b.y, a.x, b.y) } };
		}
		case 'corners':
			if (zone.corners.length < 3)
				fail(
					statement.clauses.find((c) => c.name === 'zone')!,
					`a polygon has at least three corners, found ${zone.corners.length}; a band along a line is \`near line p to q within d\``
				);
			return { ...rest, zone: { kind: 'polygon', outline: flat(zone.corners) } };
		case 'line':
			return {
				...rest,
				zone: { kind: 'line', points: flat(zone.points), within: zone.within ? shop.positive(zone.within, 'a distance') : 0 }
			};
		case 'curve': {
			const c = shop.curve(zone.curve);
			const curve = shop.model.curves[c]!;
			if (!curve.closed) fail(zone.curve, `\`${curve.name}\` is open; a zone is the inside of a closed curve`);
			const count = segmentCount(curve);
			const whole = { curve, t0: 0, t1: count };
			const size = curve.lengths[count]!;
			shop.remove([c], `this curve only shapes a zone; it is no part of the domain`);
			return { ...rest, zone: { kind: 'polygon', outline: flatten(whole, 1e-4 * size).slice(0, -2) } };
		}
		case 'wake': {
			const along = zone.along ? shop.number(zone.along, 'angle') : 0;
			const widening = zone.widening ? shop.number(zone.widening, 'angle') : 0;
			if (!(widening >= 0 && widening < 1.4)) fail(zone.widening!, 'a wake widens by an angle from 0 to 80 degrees');
			return {
				...rest,
				zone: { kind: 'wake', references: zone.references, along, length: shop.positive(zone.length, 'a length'), widening }
			};
		}
		default: {
			const number = shop.number(zone.number, 'number');
			const least = zone.kind === 'turn' ? 3 : 1;
			if (!(number >= least && number <= 1000))
				fail(
					zone.number,
					zone.kind === 'turn'
						? `${number} elements in a full turn are out of reach; from 3 to 1000 make sense`
						: `${number} elements across a gap are out of reach; from 1 to 1000 make sense`
				);
			return { ...rest, zone: { kind: zone.kind, number } };
		}
	}
}

function spacingNumber(word: SpacingWord, expression: Expression, shop: Workshop): number {
	if (word === 'first' || word === 'last' || word === 'largest') return shop.positive(expression, `a ${word} cell`);
	const value = shop.number(expression, 'number');
	if (word === 'bias' && !(value >= 1 && value <= 1e12))
		fail(
			expression,
			`a bias of ${value} is out of reach; it is the largest cell over the smallest, from 1 up; to cluster at the other end, name that end after \`toward\``
		);
	if (word === 'growth' && !(value > 0 && value <= 100))
		fail(
			expression,
			`a growth of ${value} is out of reach; it is each cell over the one before, away from the end named, such as 1.2`
		);
	return value;
}

/** One number shapes a given count; two give the count as well; a first and a last size shape any count. */
function checkNumbers(statement: StatementOf<'divide'>, numbers: Partial<Record<SpacingWord, number>>): void {
	const words = Object.keys(numbers) as SpacingWord[];
	const counted =
		statement.into !== undefined ||
		statement.size !== undefined ||
		statement.perTurn !== undefined ||
		statement.chordError !== undefined;
	const ends = words.length === 2 && words.includes('first') && words.includes('last');
	const span = statement.clauses.find((c) => c.name === 'spacing')!;
	if (words.includes('largest')) {
		if (words.length !== 3 || !words.includes('first') || !words.includes('growth'))
			fail(span, '`largest` ends a growth: it stands with `first` and `growth`, like `first 0.1 growth 1.2 largest 2`');
		if (counted) fail(span, 'a first cell, a growth and a largest cell give the count; leave the count out');
		if (numbers.growth! <= 1) fail(span, `cells that grow by ${numbers.growth!} never reach a largest one; use a growth above 1`);
		if (numbers.largest! < numbers.first!)
			fail(span, `the largest cell, ${numbers.largest!}, is smaller than the first, ${numbers.first!}`);
		if (statement.toward === 'middle') fail(span, 'cells that grow up to a largest one start at an end, or at `both`');
		return;
	}
	if (words.length > 2)
		fail(span, `${words.join(', ')} together say more than a spacing has room for; two of them and no count give the count`);
	if (words.length === 2 && counted && !ends)
		fail(
			span,
			`with a count there is room for one of ${words.join(' and ')}, or for \`first\` and \`last\`; leave the count out and both give it`
		);
	if (ends && counted && (statement.toward === 'both' || statement.toward === 'middle'))
		fail(span, `a first and a last cell need to know which end is first; name a point or a curve there`);
}

function cornersOf(list: Expression[], shop: Workshop): Point[] {
	if (list.length < 3)
		fail({ from: list[0]!.from, to: list.at(-1)!.to }, `a structured region has at least three corners, found ${list.length}`);
	return list.map((e) => evaluatePoint(e, shop.scope));
}
