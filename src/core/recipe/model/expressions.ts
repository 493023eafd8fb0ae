import { counted } from '../../text/sentences.ts';
import { acos, asin, atan, atan2, cos, exp, hypot, log, pow, sin, tan } from '../../numeric/elementary.ts';
import { ARC, curveLength, parameterAtLength, pointAt, segmentCount, type Curve, type Point } from '../../geometry/curve.ts';
import { reach } from '../../geometry/reach.ts';
import { meetings, nearestOnCurve } from '../../geometry/meet.ts';
import { didYouMean } from '../../text/nearest.ts';
import { curvePoints, functionNames, type NumberFunction, numberFunctions } from '../language/functions.ts';
import type { Expression } from '../language/syntax.ts';
import { toRecipeUnits, unitKind } from '../language/units.ts';
import { bare, common, dimensionName, fits, product, type Dimension, type Value, type ExpectedKind } from './values.ts';
import { isUserError, UserError } from '../../text/user-error.ts';
import type { TextEdit } from '../../text/edit.ts';
import type { Mend } from '../../text/finding.ts';

/** An expression that has no value, with the place in its statement. */
export class ExpressionError extends UserError {
	/** @param mends edits that settle it, by offsets in the statement, the likeliest first */
	constructor(
		message: string,
		readonly from: number,
		readonly to: number,
		readonly mends: readonly Mend[] = []
	) {
		super(message);
	}
}

/** A name has no value because of an error in its own statement, which is told there. */
export class FollowingError extends ExpressionError {}

/** What an expression may refer to. */
export interface Scope {
	units: string;
	/** A parameter or point by its name; throws an Error with a sentence when there is none. */
	lookup(name: string): Value;
	/** A point of a placed part, by the name of the placement and its own. */
	find?(name: string): Value | undefined;
	/** The curves that a name stands for; throws an Error with a sentence when there are none. */
	curves(name: string): readonly Curve[];
	/** Told of a bare number that a function takes as an angle. */
	bareAngle?(expression: Expression): void;
	/** Told of every expression that must be a quantity of a certain kind. */
	wanted?(expression: Expression, want: ExpectedKind): void;
}

type NumberValue = Extract<Value, { kind: 'number' }>;

/** The value of an expression. Throws {@link ExpressionError}. */
export function evaluate(expression: Expression, scope: Scope): Value {
	const value = compute(expression, scope);
	const finite = value.kind === 'number' ? Number.isFinite(value.value) : Number.isFinite(value.x) && Number.isFinite(value.y);
	if (!finite) fail(expression, 'this has no finite value; a division by zero, or a number too large?');
	return value;
}

/** The value of an expression that must be a number of a certain kind. Throws {@link ExpressionError}. */
export function evaluateNumber(expression: Expression, scope: Scope, want: ExpectedKind): number {
	scope.wanted?.(expression, want);
	if (want === 'angle') return evaluateAngle(expression, scope);
	// A bare number fits everything else.
	if (expression.kind === 'number' && expression.unit === undefined && Number.isFinite(expression.value)) return expression.value;
	const value = evaluate(expression, scope);
	if (value.kind === 'point') fail(expression, `a point stands where ${wantName(want)} is needed`);
	if (!fits(value.dimension, want)) {
		const literal = expression.kind === 'negate' ? expression.operand : expression;
		const unit = literal.kind === 'number' && literal.unit !== undefined ? literal : undefined;
		throw new ExpressionError(
			`${dimensionName(value.dimension)} stands where ${wantName(want)} is needed`,
			expression.from,
			expression.to,
			unit ? [{ label: 'Take out the unit', edits: [{ from: unit.from, to: unit.to, insert: String(unit.value) }] }] : []
		);
	}
	return value.value;
}

/** The value of an expression that must be an angle, in radians: of a bare number only 0 is one. */
function evaluateAngle(expression: Expression, scope: Scope): number {
	const value = evaluate(expression, scope);
	if (value.kind === 'point') fail(expression, `a point stands where an angle is needed`);
	const { dimension } = value;
	if (dimension === null && value.value !== 0) {
		const text = isSimple(expression) ? String(value.value) : 'this';
		throw new ExpressionError(
			`an angle needs its unit, and ${text} has none: write “${unitAfter(expression, 'deg', value.value)}” or “${unitAfter(expression, 'rad', value.value)}”`,
			expression.from,
			expression.to,
			(['deg', 'rad'] as const).map((unit) => ({
				label: `Make it ${unit === 'deg' ? 'degrees' : 'radians'}`,
				edits: unitEdits(expression, unit)
			}))
		);
	}
	if (!fits(dimension, 'angle')) fail(expression, `${dimensionName(dimension)} stands where an angle is needed`);
	return value.value;
}

const isSimple = (e: Expression): boolean => e.kind === 'number' || (e.kind === 'negate' && e.operand.kind === 'number');

/** A number, or a bracket, with a unit behind it. */
const unitAfter = (e: Expression, unit: string, value: number) => (isSimple(e) ? `${value} ${unit}` : `(…) ${unit}`);

/** What writes a unit behind an expression: in brackets where it is more than a number. */
const unitEdits = (e: Expression, unit: string): TextEdit[] =>
	isSimple(e)
		? [{ from: e.to, to: e.to, insert: ` ${unit}` }]
		: [
				{ from: e.from, to: e.from, insert: '(' },
				{ from: e.to, to: e.to, insert: `) ${unit}` }
			];

/** The value of an expression that must be a point. Throws {@link ExpressionError}. */
export function evaluatePoint(expression: Expression, scope: Scope): { x: number; y: number } {
	const value = evaluate(expression, scope);
	if (value.kind === 'number') fail(expression, 'a number stands where a point is needed, like (10, 0) or the name of a point');
	if (!(Math.abs(value.x) <= reach && Math.abs(value.y) <= reach))
		fail(expression, `this lies beyond ${reach.toExponential()}, farther away than can be worked with`);
	return { x: value.x, y: value.y };
}

const wantName = (want: ExpectedKind) =>
	({ length: 'a length', angle: 'an angle', number: 'a plain number', any: 'a number' })[want];

function fail(at: { from: number; to: number }, message: string): never {
	throw new ExpressionError(message, at.from, at.to);
}

function compute(node: Expression, scope: Scope): Value {
	switch (node.kind) {
		case 'number': {
			if (node.unit === undefined) return bare(node.value);
			const value = toRecipeUnits(node.value, node.unit, scope.units);
			return {
				kind: 'number',
				value,
				dimension: unitKind(node.unit) === 'length' ? { length: 1, angle: 0 } : { length: 0, angle: 1 }
			};
		}
		case 'name':
			return guarded(node, () => (node.name === 'pi' ? bare(Math.PI) : scope.lookup(node.name)));
		case 'member': {
			const whole = scope.find?.(`${node.object}.${node.member}`);
			if (whole) return whole;
			const value = guarded(node, () => scope.lookup(node.object));
			if (value.kind !== 'point') fail(node, `“${node.object}” is a number and has no “${node.member}”`);
			if (node.member !== 'x' && node.member !== 'y') fail(node, `a point has “x” and “y”, not “${node.member}”`);
			return { kind: 'number', value: value[node.member], dimension: { length: 1, angle: 0 } };
		}
		case 'negate': {
			const value = compute(node.operand, scope);
			return value.kind === 'point' ? { kind: 'point', x: -value.x, y: -value.y } : { ...value, value: -value.value };
		}
		case 'pair':
			return { kind: 'point', x: evaluateNumber(node.x, scope, 'length'), y: evaluateNumber(node.y, scope, 'length') };
		case 'binary':
			return computeBinary(node, scope);
		case 'call':
			return computeCall(node, scope);
	}
}

function guarded<T>(node: Expression, run: () => T): T {
	try {
		return run();
	} catch (error) {
		// What follows from an error elsewhere goes up as it is.
		if (error instanceof ExpressionError || !isUserError(error)) throw error;
		fail(node, error.message);
	}
}

function computeBinary(node: Extract<Expression, { kind: 'binary' }>, scope: Scope): Value {
	const a = compute(node.left, scope);
	const b = compute(node.right, scope);
	switch (node.operator) {
		case '+':
		case '-': {
			const sign = node.operator === '+' ? 1 : -1;
			if (a.kind === 'point' && b.kind === 'point') return { kind: 'point', x: a.x + sign * b.x, y: a.y + sign * b.y };
			if (a.kind === 'point' || b.kind === 'point') fail(node, 'a point and a number do not add; write a step as (dx, dy)');
			const dimension = common(a.dimension, b.dimension);
			if (dimension === undefined) fail(node, `${dimensionName(a.dimension)} and ${dimensionName(b.dimension)} do not add`);
			return { kind: 'number', value: a.value + sign * b.value, dimension };
		}
		case '*':
			if (a.kind === 'point' && b.kind === 'point') fail(node, 'two points do not multiply');
			if (a.kind === 'point') return scaled(a, (b as NumberValue).value);
			if (b.kind === 'point') return scaled(b, a.value);
			return { kind: 'number', value: a.value * b.value, dimension: product(a.dimension, b.dimension, 1) };
		case '/':
			if (b.kind === 'point') fail(node, 'nothing divides by a point');
			if (b.value === 0) fail(node.right, 'this is zero, and nothing divides by zero');
			if (a.kind === 'point') return scaled(a, 1 / b.value);
			return { kind: 'number', value: a.value / b.value, dimension: product(a.dimension, b.dimension, -1) };
		case '^': {
			if (a.kind === 'point' || b.kind === 'point') fail(node, 'a point has no power');
			if (b.dimension) fail(node.right, `an exponent is a plain number, not ${dimensionName(b.dimension)}`);
			const d = a.dimension;
			const dimension: Dimension = d && b.value !== 0 ? { length: d.length * b.value, angle: d.angle * b.value } : null;
			return { kind: 'number', value: pow(a.value, b.value), dimension };
		}
	}
}

const scaled = (p: { x: number; y: number }, factor: number): Value => ({ kind: 'point', x: p.x * factor, y: p.y * factor });

type FunctionRule = {
	takes: ExpectedKind | 'same';
	gives: 'same' | 'angle' | 'number';
	count: number | 'many';
	run: (...v: number[]) => number;
};

/** The functions of the recipe language: what they take, what they give. */
const functions: Record<NumberFunction, FunctionRule> = {
	abs: { takes: 'same', gives: 'same', count: 1, run: Math.abs },
	min: { takes: 'same', gives: 'same', count: 'many', run: Math.min },
	max: { takes: 'same', gives: 'same', count: 'many', run: Math.max },
	floor: { takes: 'same', gives: 'same', count: 1, run: Math.floor },
	ceil: { takes: 'same', gives: 'same', count: 1, run: Math.ceil },
	round: { takes: 'same', gives: 'same', count: 1, run: Math.round },
	sin: { takes: 'angle', gives: 'number', count: 1, run: sin },
	cos: { takes: 'angle', gives: 'number', count: 1, run: cos },
	tan: { takes: 'angle', gives: 'number', count: 1, run: tan },
	asin: { takes: 'number', gives: 'angle', count: 1, run: asin },
	acos: { takes: 'number', gives: 'angle', count: 1, run: acos },
	atan: { takes: 'number', gives: 'angle', count: 1, run: atan },
	atan2: { takes: 'same', gives: 'angle', count: 2, run: atan2 },
	exp: { takes: 'number', gives: 'number', count: 1, run: exp },
	log: { takes: 'number', gives: 'number', count: 1, run: log }
};

const isNumberFunction = (name: string): name is NumberFunction => (numberFunctions as readonly string[]).includes(name);

function curvesOf(of: Expression, caller: string, scope: Scope): readonly Curve[] {
	const name =
		of.kind === 'name'
			? of.name
			: of.kind === 'member'
				? `${of.object}.${of.member}`
				: fail(of, `“${caller}” takes the name of a curve`);
	return guarded(of, () => scope.curves(name));
}

/** Points of curves: `start(c)`, `end(c)`, `middle(c)`, `along(c, 0.3)`, `centre(c)`, `crossing(c, d)`, `nearest(c, p)`. */
function pointOfCurve(node: Extract<Expression, { kind: 'call' }>, scope: Scope): Point {
	const { text: name } = node.callee;
	const list = node.arguments;
	const wanted = name === 'along' || name === 'crossing' || name === 'nearest' ? 2 : 1;
	if (list.length !== wanted) fail(node, `“${name}” takes ${counted(wanted, 'value')}, found ${list.length}`);
	const curves = curvesOf(list[0]!, name, scope);
	const [curve] = curves as [Curve];
	if (curves.length > 1 && name !== 'crossing') fail(list[0]!, `this names ${curves.length} curves; “${name}” takes one of them`);
	switch (name) {
		case 'start':
			return pointAt(curve, 0);
		case 'end':
			return pointAt(curve, segmentCount(curve));
		case 'middle':
			return pointAt(curve, parameterAtLength(curve, curveLength(curve) / 2));
		case 'along': {
			const share = evaluateNumber(list[1]!, scope, 'number');
			if (!(share >= 0 && share <= 1)) fail(list[1]!, `a share of the length is between 0 and 1, found ${share}`);
			return pointAt(curve, parameterAtLength(curve, share * curveLength(curve)));
		}
		case 'centre':
			if (curve.kinds[0] !== ARC) fail(list[0]!, `“${curve.name}” is no arc or circle and has no centre`);
			return { x: curve.data[4]!, y: curve.data[5]! };
		case 'nearest': {
			const p = evaluatePoint(list[1]!, scope);
			return pointAt(curve, nearestOnCurve(curve, p).t);
		}
		default: {
			const others = curvesOf(list[1]!, name, scope);
			const tolerance = 1e-9 * Math.max(...[...curves, ...others].map(curveLength));
			for (const a of curves)
				for (const b of others) {
					const [place] = meetings(a, b, tolerance);
					if (place) return { x: place.x, y: place.y };
				}
			return fail(node, 'these two curves do not meet');
		}
	}
}

function computeCall(node: Extract<Expression, { kind: 'call' }>, scope: Scope): Value {
	const name = node.callee.text;
	const list = node.arguments;
	const needs = (count: number) => {
		if (list.length !== count) fail(node, `“${name}” takes ${counted(count, 'value')}, found ${list.length}`);
	};
	if (name === 'length') {
		needs(1);
		const value = curvesOf(list[0]!, name, scope).reduce((sum, curve) => sum + curveLength(curve), 0);
		return { kind: 'number', value, dimension: { length: 1, angle: 0 } };
	}
	if (curvePoints.includes(name)) return { kind: 'point', ...pointOfCurve(node, scope) };
	if (name === 'distance') {
		needs(2);
		const p = evaluatePoint(list[0]!, scope);
		const q = evaluatePoint(list[1]!, scope);
		return { kind: 'number', value: hypot(q.x - p.x, q.y - p.y), dimension: { length: 1, angle: 0 } };
	}
	if (name === 'sqrt') {
		needs(1);
		const value = numeric(list[0]!, scope);
		if (value.value < 0) fail(list[0]!, 'a negative number has no square root');
		const d = value.dimension;
		return { kind: 'number', value: Math.sqrt(value.value), dimension: d && { length: d.length / 2, angle: d.angle / 2 } };
	}
	const rule = isNumberFunction(name) ? functions[name] : undefined;
	if (!rule)
		fail(node.callee, `there is no function “${name}”${didYouMean(name, functionNames)}; there are ${functionNames.join(', ')}`);
	if (rule.count !== 'many') needs(rule.count);
	if (list.length === 0) fail(node, `“${name}” takes at least one value`);
	let dimension: Dimension = null;
	const values: number[] = [];
	for (const item of list) {
		const value = numeric(item, scope);
		if (rule.takes === 'same') {
			const both = common(dimension, value.dimension);
			if (both === undefined)
				fail(
					item,
					`the values of “${name}” must all be of one kind; ${dimensionName(value.dimension)} is not ${dimensionName(dimension)}`
				);
			dimension = both;
		} else if (!fits(value.dimension, rule.takes))
			fail(item, `“${name}” takes ${wantName(rule.takes)}, not ${dimensionName(value.dimension)}`);
		if (rule.takes === 'angle' && isSimple(item) && value.dimension === null && value.value !== 0) scope.bareAngle?.(item);
		values.push(value.value);
	}
	const value = rule.run(...values);
	if (Number.isNaN(value)) fail(node, `“${name}” has no value there`);
	if (rule.gives === 'same') return { kind: 'number', value, dimension };
	return { kind: 'number', value, dimension: rule.gives === 'angle' ? { length: 0, angle: 1 } : null };
}

function numeric(node: Expression, scope: Scope): NumberValue {
	const value = compute(node, scope);
	if (value.kind === 'point') fail(node, 'a point stands where a number is needed');
	return value;
}

/** Whether an expression uses a name. */
export function mentions(e: Expression, name: string): boolean {
	switch (e.kind) {
		case 'number':
			return false;
		case 'name':
			return e.name === name;
		case 'member':
			return e.object === name;
		case 'negate':
			return mentions(e.operand, name);
		case 'binary':
			return mentions(e.left, name) || mentions(e.right, name);
		case 'call':
			return e.arguments.some((a) => mentions(a, name));
		case 'pair':
			return mentions(e.x, name) || mentions(e.y, name);
	}
}
