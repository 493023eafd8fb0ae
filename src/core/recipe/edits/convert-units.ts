import { addTo } from '../../numeric/lists.ts';
import { segmentCount } from '../../geometry/curve.ts';
import { applyEdits, type TextEdit } from '../../text/edit.ts';
import { addStatement, partsOfLines, setClause } from './edits.ts';
import { formatNumber } from '../language/literals.ts';
import { evaluateRecipe, wantedQuantities } from '../model/evaluate.ts';
import type { CoordinateFiles, Model } from '../model/model.ts';
import { parseRecipe } from '../language/parse.ts';
import type { Recipe } from '../language/recipe.ts';
import { isA, linesOf, type StatementRecord } from '../language/statement.ts';
import { drawing } from '../statements/drawing.ts';
import { frame } from '../statements/frame.ts';
import { parameter } from '../statements/let.ts';
import { part } from '../statements/part.ts';
import { placement } from '../statements/place.ts';
import { polyline } from '../statements/polyline.ts';
import { spline } from '../statements/spline.ts';
import { units } from '../statements/units.ts';
import type { Expression, Statement } from '../language/syntax.ts';
import { metres, unitKind } from '../language/units.ts';

/** The edits that set a statement that stands at most once, added where it is not there. */
const setOnce = <S extends Statement>(recipe: Recipe, record: StatementRecord<S>, clause: string, source: string) => {
	const found = linesOf(recipe.lines, record)[0];
	return found ? setClause(found.line, clause, source) : addStatement(recipe, `${record.kind} ${source}`);
};

/** The unit of bare lengths; the numbers stay as they stand, so that the drawing changes its true size. */
export const setUnits = (recipe: Recipe, unit: string): string => applyEdits(recipe.text, setOnce(recipe, units, 'unit', unit));

/** The frame: planar, or axisymmetric about an axis. */
export const setFrame = (recipe: Recipe, kind: 'planar' | 'x' | 'y'): string => {
	const found = linesOf(recipe.lines, frame)[0];
	const source = kind === 'planar' ? 'planar' : `axisymmetric about ${kind}`;
	if (!found) return applyEdits(recipe.text, addStatement(recipe, `frame ${source}`));
	return applyEdits(recipe.text, [{ from: found.line.from, to: found.line.to, insert: `frame ${source}` }]);
};

/**
 * Another unit of bare lengths, every number that is a length converted, so that the drawing keeps its true size. Which
 * numbers are lengths follows from what they are used for; a power of a length is converted as one. What comes of it is
 * drawn and compared, and where it is not the same drawing the answer is a sentence.
 */
export function convertUnits(recipe: Recipe, unit: string, files: CoordinateFiles): { text: string } | { error: string } {
	const { model, wanted } = wantedQuantities(recipe, files);
	const factor = metres(model.units) / metres(unit);
	const powers = new Powers(recipe);
	for (const { line, expression, want } of wanted) if (want !== 'any') powers.take(line, expression, want === 'length' ? 1 : 0);
	powers.settle();
	const edits: TextEdit[] = powers.lengths().map(({ from, to, value, power }) => ({
		from,
		to,
		insert: formatNumber(Number((value * factor ** power).toPrecision(14)))
	}));
	edits.push(...scaledFiles(recipe, files, factor), ...setOnce(recipe, units, 'unit', unit));
	edits.sort((a, b) => a.from - b.from);
	const text = applyEdits(recipe.text, edits);
	const place = differs(model, evaluateRecipe(parseRecipe(text), files), factor);
	if (place === undefined) return { text };
	return {
		error: `the numbers cannot be converted by themselves: ${place} would not keep its size. Give the lengths there their unit, like 25 ${model.units}, or keep the numbers and scale the drawing`
	};
}

/** A number as it is written, and the power of length that it carries. */
interface Written {
	from: number;
	to: number;
	value: number;
	power: number;
}

/** Powers of length of the numbers and parameters of a recipe, found from what they are used for. */
class Powers {
	private readonly numbers = new Map<number, Written>();
	/** Powers of parameters, by the part in which they stand and their name. */
	private readonly powers = new Map<string, number>();
	/** What gives each parameter its value, and bounds it. */
	private readonly parameters = new Map<string, { line: number; value: Expression }[]>();
	/** The part in which each line stands, or an empty text. */
	private readonly partOf: string[] = [];
	/** Products of which it is not clear yet which part carries the length. */
	private waiting: { line: number; expression: Expression; power: number }[] = [];

	constructor(private readonly recipe: Recipe) {
		const parts = partsOfLines(recipe);
		recipe.lines.forEach(({ statement }, line) => {
			// What a part is given by itself is worked out in it.
			const inside = isA(part, statement) ? statement.name.text : parts[line]!;
			this.partOf.push(inside);
			const take = (of: string, name: string, ...values: (Expression | undefined)[]) =>
				values.forEach((value) => value && addTo(this.parameters, `${of}:${name}`, { line, value }));
			if (isA(parameter, statement))
				take(inside, statement.name.text, statement.value, statement.range?.low, statement.range?.high);
			else if (isA(part, statement)) for (const { name, value } of statement.parameters) take(inside, name.text, value);
			else if (isA(placement, statement))
				for (const { name, value } of statement.arguments ?? []) take(statement.part.text, name.text, value);
		});
	}

	lengths(): Written[] {
		return [...this.numbers.values()].filter(({ power, value }) => power !== 0 && value !== 0);
	}

	/** Takes an expression that must be a quantity of a power of length. */
	take(line: number, e: Expression, power: number): void {
		const part = (of: Expression, powerOfPart = power) => this.take(line, of, powerOfPart);
		switch (e.kind) {
			case 'number': {
				if (e.unit !== undefined) return;
				const { from } = this.recipe.lines[line]!;
				this.numbers.set(from + e.from, { from: from + e.from, to: from + e.to, value: e.value, power });
				return;
			}
			case 'name': {
				const key = `${this.partOf[line]!}:${e.name}`;
				const values = this.parameters.get(key);
				if (!values || this.powers.has(key)) return;
				this.powers.set(key, power);
				for (const { line: at, value } of values) this.take(at, value, power);
				return;
			}
			case 'member':
				return;
			case 'negate':
				return part(e.operand);
			case 'pair':
				part(e.x, 1);
				return part(e.y, 1);
			case 'call':
				return this.takeCall(line, e, power);
			case 'binary':
				return this.takeBinary(line, e, power);
		}
	}

	private takeCall(line: number, e: Extract<Expression, { kind: 'call' }>, power: number): void {
		const { text: name } = e.callee;
		const argumentPower = ['abs', 'min', 'max', 'floor', 'ceil', 'round'].includes(name)
			? power
			: name === 'sqrt'
				? 2 * power
				: 0;
		// What the other functions take is told by their own evaluation, or carries no length.
		if (!['length', 'start', 'end', 'middle', 'centre', 'crossing', 'distance', 'nearest', 'along', 'atan2'].includes(name))
			for (const value of e.arguments) this.take(line, value, argumentPower);
	}

	private takeBinary(line: number, e: Extract<Expression, { kind: 'binary' }>, power: number): void {
		const { operator, left, right } = e;
		if (operator === '+' || operator === '-') {
			this.take(line, left, power);
			return this.take(line, right, power);
		}
		if (operator === '^') {
			this.take(line, right, 0);
			return right.kind === 'number' && right.value !== 0 ? this.take(line, left, power / right.value) : undefined;
		}
		const sign = operator === '*' ? 1 : -1;
		const [a, b] = [this.powerOf(line, left), this.powerOf(line, right)];
		if (a !== undefined) {
			this.take(line, left, a);
			return this.take(line, right, sign * (power - a));
		}
		if (b !== undefined) {
			this.take(line, right, b);
			return this.take(line, left, power - sign * b);
		}
		// Beside a name a bare number is a factor.
		const [ownLeft, ownRight] = [hasNames(left), hasNames(right)];
		if (ownLeft && ownRight) this.waiting.push({ line, expression: e, power });
		else if (ownLeft) {
			this.take(line, right, 0);
			this.take(line, left, power);
		} else if (ownRight || operator === '*') {
			this.take(line, left, 0);
			this.take(line, right, sign * power);
		} else {
			this.take(line, left, power);
			this.take(line, right, 0);
		}
	}

	/** The power of an expression, as far as it is known without what it is used for. */
	private powerOf(line: number, e: Expression): number | undefined {
		const keyed = (name: string) => `${this.partOf[line]!}:${name}`;
		switch (e.kind) {
			case 'number':
				return e.unit === undefined ? undefined : unitKind(e.unit) === 'length' ? 1 : 0;
			case 'name':
				return e.name === 'pi' ? 0 : this.parameters.has(keyed(e.name)) ? this.powers.get(keyed(e.name)) : 1;
			case 'member':
			case 'pair':
				return 1;
			case 'negate':
				return this.powerOf(line, e.operand);
			case 'call':
				return ['abs', 'min', 'max', 'floor', 'ceil', 'round'].includes(e.callee.text)
					? e.arguments.map((a) => this.powerOf(line, a)).find((p) => p !== undefined)
					: ['sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'atan2', 'exp', 'log'].includes(e.callee.text)
						? 0
						: e.callee.text === 'sqrt'
							? halved(this.powerOf(line, e.arguments[0]!))
							: 1;
			case 'binary': {
				const [a, b] = [this.powerOf(line, e.left), this.powerOf(line, e.right)];
				if (e.operator === '+' || e.operator === '-') return a ?? b;
				if (e.operator === '^') return a !== undefined && e.right.kind === 'number' ? a * e.right.value : undefined;
				const factor = (power: number | undefined, of: Expression) => power ?? (hasNames(of) ? undefined : 0);
				if (a === undefined && b === undefined) return undefined;
				const [left, right] = [factor(a, e.left), factor(b, e.right)];
				return left === undefined || right === undefined ? undefined : left + (e.operator === '*' ? right : -right);
			}
		}
	}

	/** Settles what waits: as other uses make it known, and what nothing makes known carries no length. */
	settle(): void {
		for (;;) {
			const before = this.waiting;
			this.waiting = [];
			for (const { line, expression, power } of before) this.take(line, expression, power);
			if (this.waiting.length === 0) return;
			if (this.waiting.length < before.length) continue;
			const [{ line, expression }] = this.waiting as [(typeof before)[0]];
			const isUnclear = (key: string) => this.parameters.has(key) && !this.powers.has(key);
			const unclear = namesOf(expression).find((name) => isUnclear(`${this.partOf[line]!}:${name}`));
			if (unclear === undefined) return;
			// One with a range below 1 is a ratio; otherwise the first of them is.
			this.take(line, { kind: 'name', name: unclear, from: 0, to: 0 }, 0);
		}
	}
}

const halved = (power: number | undefined) => (power === undefined ? undefined : power / 2);

function namesOf(e: Expression): string[] {
	switch (e.kind) {
		case 'name':
			return [e.name];
		case 'negate':
			return namesOf(e.operand);
		case 'binary':
			return [...namesOf(e.left), ...namesOf(e.right)];
		case 'pair':
			return [...namesOf(e.x), ...namesOf(e.y)];
		case 'call':
			return [e.callee.text, ...e.arguments.flatMap(namesOf)];
		case 'member':
			return [e.object];
		default:
			return [];
	}
}

const hasNames = (e: Expression) => namesOf(e).length > 0;

/** What makes files without a unit of their own, which stand in the recipe's, keep their size. */
function scaledFiles(recipe: Recipe, files: CoordinateFiles, factor: number): TextEdit[] {
	const records: StatementRecord[] = [polyline, spline, drawing];
	return recipe.lines.flatMap((line) => {
		const { statement } = line;
		const record = statement && records.find(({ kind }) => kind === statement.kind);
		const name = record?.file?.(statement!)?.text;
		const file = name !== undefined && Object.hasOwn(files, name) ? files[name] : undefined;
		if (!file || 'error' in file) return [];
		if ('drawing' in file && file.drawing.unit !== undefined) return [];
		const clause = statement!.clauses.find((c) => c.name === 'scaled');
		const text = clause && recipe.text.slice(line.from + clause.from, line.from + clause.to).replace(/^scaled\s+/, '');
		const by = formatNumber(Number(factor.toPrecision(14)));
		const scale =
			text === undefined
				? by
				: /^[\d.eE+-]+$/.test(text)
					? formatNumber(Number((Number(text) * factor).toPrecision(14)))
					: `(${text})*${by}`;
		return setClause(line, 'scaled', `scaled ${scale}`);
	});
}

/** The first curve or point of a drawing that another, with its coordinates scaled, does not have; undefined where they are the same. */
function differs(before: Model, after: Model, factor: number): string | undefined {
	const size = before.curves.reduce((largest, { data }) => data.reduce((a, b) => Math.max(a, Math.abs(b)), largest), 1e-300);
	const near = (a: number, b: number) => Math.abs(a * factor - b) <= 1e-9 * size * factor;
	for (const [k, curve] of before.curves.entries()) {
		const other = after.curves[k];
		if (!other || segmentCount(other) !== segmentCount(curve)) return `“${curve.name}”`;
		const [x, y] = [
			[curve.data[0]!, curve.data[1]!],
			[other.data[0]!, other.data[1]!]
		] as [number[], number[]];
		const isLong = Math.abs(curve.lengths.at(-1)! * factor - other.lengths.at(-1)!) > 1e-8 * size * factor;
		if (isLong || !near(x[0]!, y[0]!) || !near(x[1]!, y[1]!)) return `“${curve.name}”`;
	}
	for (const [k, p] of before.points.entries()) {
		const q = after.points[k];
		if (!q || !near(p.x, q.x) || !near(p.y, q.y)) return `“${p.name}”`;
	}
	const errors = (model: Model) => model.findings.filter((f) => f.severity === 'error').length;
	return errors(after) > errors(before) ? 'the recipe' : undefined;
}
