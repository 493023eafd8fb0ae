import { hypot } from '../numeric/elementary.ts';
import type { Finding } from '../findings/finding.ts';
import { boundaryKinds, groupColours, isBoundaryKind, isGroupColour } from '../mesh/boundary-kinds.ts';
import { curveLength, type Curve, type Point } from '../shape/curve.ts';
import { arcCurve, circleCurve, lineCurve, polylineCurve } from '../shape/build.ts';
import { splineCurve } from '../shape/spline.ts';
import { evaluate, evaluateNumber, evaluatePoint, ExpressionError, functionNames, type Scope } from './expressions.ts';
import type { CoordinateFiles, Model, Outline } from './model.ts';
import { didYouMean } from './nearest.ts';
import type { Recipe } from './parse.ts';
import type { Expression, Statement, StatementOf, Word } from './syntax.ts';
import { lengthUnits } from './units.ts';
import { dimensionName, fits, type Dimension, type Value, type Want } from './values.ts';

/** Values that replace those of `let` statements, as the command's `--set` gives them. */
export type Settings = ReadonlyMap<string, Expression>;

/**
 * Works out every statement in order. Never throws: what cannot be worked out becomes a finding,
 * and everything that sound statements define is in the model.
 */
export function evaluateRecipe(recipe: Recipe, files: CoordinateFiles, settings: Settings = new Map()): Model {
	return new Evaluation(recipe, files, settings).run();
}

/** Names defined by a statement, for telling "later" from "nowhere". */
function definedName(statement: Statement | undefined): string | undefined {
	switch (statement?.kind) {
		case 'let':
		case 'point':
		case 'line':
		case 'polyline':
		case 'spline':
		case 'rectangle':
		case 'arc':
		case 'circle':
			return statement.name.text;
		default:
			return undefined;
	}
}

class Evaluation {
	private readonly model: Model;
	private readonly values = new Map<string, { value: Value; line: number }>();
	private readonly usedNames = new Map<string, number>();
	private readonly failedNames = new Set<string>();
	private readonly scope: Scope;
	private line = 0;

	constructor(
		recipe: Recipe,
		private readonly files: CoordinateFiles,
		private readonly settings: Settings
	) {
		this.model = {
			recipe,
			title: '',
			units: 'mm',
			frame: { kind: 'planar' },
			parameters: [],
			points: [],
			curves: [],
			curveLines: [],
			curvesByName: new Map(),
			regions: [],
			divides: [],
			fills: [],
			sizes: [],
			groups: [],
			findings: []
		};
		const model = this.model;
		this.scope = {
			get units() {
				return model.units;
			},
			lookup: (name) => this.lookup(name),
			curveLength: (name) => this.lengthOf(name)
		};
	}

	run(): Model {
		const { lines } = this.model.recipe;
		this.findUnits();
		const seenOnce = new Map<string, number>();
		lines.forEach(({ statement }, line) => {
			if (!statement) return;
			this.line = line;
			if (['recipe', 'title', 'units', 'frame'].includes(statement.kind)) {
				const first = seenOnce.get(statement.kind);
				if (first !== undefined) {
					this.report(
						`\`${statement.kind}\` stands already on line ${lines[first]!.number}; one of the two must go`,
						0,
						statement.kind.length
					);
					return;
				}
				seenOnce.set(statement.kind, line);
			}
			this.attempt(() => this.take(statement));
		});
		for (const name of this.settings.keys())
			if (!this.model.parameters.some((p) => p.name === name) && !this.failedNames.has(name))
				throw new Error(
					`no \`let\` statement defines \`${name}\`${didYouMean(
						name,
						this.model.parameters.map((p) => p.name)
					)}`
				);
		return this.model;
	}

	/** Units hold for the whole recipe, so they are known before the first number. */
	private findUnits(): void {
		for (const { statement } of this.model.recipe.lines)
			if (statement?.kind === 'units' && lengthUnits.includes(statement.unit.text)) {
				this.model.units = statement.unit.text;
				return;
			}
	}

	private attempt(run: () => void): void {
		try {
			run();
		} catch (error) {
			if (!(error instanceof ExpressionError)) throw error;
			const name = definedName(this.model.recipe.lines[this.line]!.statement);
			if (name !== undefined) this.failedNames.add(name);
			this.report(error.message, error.from, error.to);
		}
	}

	private report(message: string, from: number, to: number, code = 'value', severity: Finding['severity'] = 'error'): void {
		const base = this.model.recipe.lines[this.line]!.from;
		this.model.findings.push({ severity, code, message, span: { from: base + from, to: base + to } });
	}

	private take(statement: Statement): void {
		const { model } = this;
		const { line } = this;
		switch (statement.kind) {
			case 'recipe':
				if (statement.version !== 1)
					fail({ from: 7, to: 7 }, `this program reads \`recipe 1\`, not version ${statement.version}`);
				return;
			case 'title':
				model.title = statement.title;
				return;
			case 'units':
				if (!lengthUnits.includes(statement.unit.text))
					fail(statement.unit, `\`${statement.unit.text}\` is no unit of length; there are ${lengthUnits.join(', ')}`);
				return;
			case 'frame': {
				if (statement.frame === 'planar') return;
				const axis = statement.axis;
				if (axis !== 'x' && axis !== 'y') fail(statement.clauses[0]!, `the axis is \`x\` or \`y\`, not \`${axis}\``);
				model.frame = { kind: 'axisymmetric', axis };
				return;
			}
			case 'let': {
				this.claim(statement.name);
				const value = evaluate(this.settings.get(statement.name.text) ?? statement.value, this.scope);
				this.values.set(statement.name.text, { value, line });
				if (value.kind === 'point') fail(statement.value, 'a parameter is a number; name a point with `point`');
				const range = statement.range && {
					low: this.number(statement.range.low, 'any'),
					high: this.number(statement.range.high, 'any')
				};
				model.parameters.push({
					name: statement.name.text,
					value: value.value,
					dimension: value.dimension,
					line,
					...(range ? { range } : {})
				});
				if (range && statement.range) {
					if (range.low >= range.high)
						fail(statement.range.low, `the range starts at ${range.low}, which is not below its end ${range.high}`);
					if (value.value < range.low || value.value > range.high)
						this.report(
							`\`${statement.name.text}\` is ${value.value}, outside its range ${range.low} to ${range.high}`,
							statement.value.from,
							statement.value.to,
							'range',
							'warning'
						);
				}
				return;
			}
			case 'point': {
				this.claim(statement.name);
				const p = evaluatePoint(statement.at, this.scope);
				this.values.set(statement.name.text, { value: { kind: 'point', ...p }, line });
				model.points.push({ name: statement.name.text, ...p, line });
				return;
			}
			case 'line':
			case 'polyline':
			case 'spline':
			case 'rectangle':
			case 'arc':
			case 'circle':
				this.claim(statement.name);
				this.takeCurve(statement);
				return;
			case 'region':
				if (model.regions.some((r) => r.name === statement.name.text))
					fail(statement.name, `a region \`${statement.name.text}\` exists already`);
				model.regions.push({
					name: statement.name.text,
					line,
					...(statement.bounds ? { bounds: statement.bounds } : {}),
					...(statement.at ? { at: evaluatePoint(statement.at, this.scope) } : {})
				});
				return;
			case 'divide':
				this.takeDivide(statement);
				return;
			case 'fill':
				model.fills.push({
					regions: statement.regions.map((r) => r.text),
					fill: statement.fill,
					line,
					...(statement.corners ? { corners: this.fourCorners(statement.corners) } : {}),
					...(statement.size ? { size: this.positive(statement.size, 'an element size') } : {})
				});
				return;
			case 'size': {
				const size = this.positive(statement.size, 'an element size');
				const growth = statement.growth && this.number(statement.growth, 'number');
				if (growth !== undefined && !(growth > 1 && growth <= 3))
					fail(statement.growth!, `a growth of ${growth} is out of reach; it is above 1 and at most 3, like 1.2`);
				model.sizes.push({ size, line, ...(growth === undefined ? {} : { growth }) });
				return;
			}
			case 'group':
				this.takeGroup(statement);
		}
	}

	private takeGroup(statement: StatementOf<'group'>): void {
		const { model, line } = this;
		const { name, boundary, colour } = statement;
		if (model.groups.some((g) => g.name === name.text)) fail(name, `a group \`${name.text}\` exists already`);
		const kind = boundary?.text ?? 'general';
		if (!isBoundaryKind(kind))
			fail(
				boundary!,
				`\`${kind}\` is no kind of boundary${didYouMean(kind, Object.keys(boundaryKinds))}; there are ${Object.keys(boundaryKinds).join(', ')}`
			);
		if (colour && !isGroupColour(colour.text))
			fail(colour, `\`${colour.text}\` is no colour of a group; there are ${Object.keys(groupColours).join(', ')}`);
		model.groups.push({
			name: name.text,
			kind,
			line,
			...(statement.pieces ? { pieces: statement.pieces } : {}),
			...(statement.regions ? { regions: statement.regions.map((r) => r.text) } : {}),
			...(colour && isGroupColour(colour.text) ? { colour: colour.text } : {})
		});
	}

	private takeDivide(statement: StatementOf<'divide'>): void {
		const { model, line } = this;
		const count = statement.into && this.number(statement.into, 'number');
		if (count !== undefined && !(Number.isInteger(count) && count >= 1))
			fail(statement.into!, `${count} is no count of divisions; it is a whole number from 1`);
		if (count !== undefined && count > 1e6)
			fail(statement.into!, `${count} divisions on one piece are too many; the limit is 1000000`);
		const bias = statement.bias && this.number(statement.bias, 'number');
		if (bias !== undefined && !(bias >= 1 && bias <= 1e12))
			fail(
				statement.bias!,
				`a bias of ${bias} is out of reach; it is the largest cell over the smallest, from 1 up; to cluster at the other end, name that end after \`toward\``
			);
		model.divides.push({
			pieces: statement.pieces,
			line,
			...(count === undefined ? {} : { count }),
			...(statement.size ? { size: this.positive(statement.size, 'a division size') } : {}),
			...(bias === undefined ? {} : { bias }),
			...(statement.toward ? { toward: statement.toward } : {})
		});
	}

	private takeCurve(statement: StatementOf<'line' | 'polyline' | 'spline' | 'rectangle' | 'arc' | 'circle'>): void {
		const name = statement.name.text;
		const point = (e: Expression) => evaluatePoint(e, this.scope);
		switch (statement.kind) {
			case 'line': {
				const [a, b] = [point(statement.start), point(statement.end)];
				if (same(a, b)) fail(statement.end, `the line ends where it starts, at (${a.x}, ${a.y})`);
				return this.addCurve(lineCurve(name, a, b));
			}
			case 'arc': {
				const [a, b] = [point(statement.start), point(statement.end)];
				if (same(a, b)) fail(statement.end, 'the arc ends where it starts; a full circle is a `circle`');
				return this.addCurve(statement.centre ? this.arcAround(statement, a, b) : this.arcThrough(statement, a, b));
			}
			case 'circle':
				return this.addCurve(circleCurve(name, point(statement.centre), this.positive(statement.radius, 'a radius')));
			case 'rectangle':
				return this.addRectangle(statement);
			default: {
				const { x, y, closed } = this.pointsOf(statement);
				const least = closed ? 3 : 2;
				if (x.length < least)
					fail(
						statement.name,
						`${closed ? 'a closed curve' : 'a curve'} needs at least ${least} different points, found ${x.length}`
					);
				this.addCurve(
					statement.kind === 'polyline' ? polylineCurve(name, x, y, closed) : splineCurve(name, x, y, closed, statement.parameter)
				);
			}
		}
	}

	private addCurve(curve: Curve, owner = curve.name): void {
		const { model } = this;
		const list = model.curvesByName.get(owner);
		if (list) list.push(model.curves.length);
		else model.curvesByName.set(owner, [model.curves.length]);
		if (owner !== curve.name) model.curvesByName.set(curve.name, [model.curves.length]);
		model.curves.push(curve);
		model.curveLines.push(this.line);
	}

	private addRectangle(statement: StatementOf<'rectangle'>): void {
		const name = statement.name.text;
		let a: Point;
		let b: Point;
		if (statement.centre) {
			const centre = evaluatePoint(statement.centre, this.scope);
			const halfWidth = this.positive(statement.width!, 'a width') / 2;
			const halfHeight = this.positive(statement.height!, 'a height') / 2;
			a = { x: centre.x - halfWidth, y: centre.y - halfHeight };
			b = { x: centre.x + halfWidth, y: centre.y + halfHeight };
		} else {
			const p = evaluatePoint(statement.corner!, this.scope);
			const q = evaluatePoint(statement.opposite!, this.scope);
			if (p.x === q.x || p.y === q.y)
				fail(statement.opposite!, 'the two corners lie on one line; a rectangle needs opposite corners');
			a = { x: Math.min(p.x, q.x), y: Math.min(p.y, q.y) };
			b = { x: Math.max(p.x, q.x), y: Math.max(p.y, q.y) };
		}
		const corners = [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
		['bottom', 'right', 'top', 'left'].forEach((side, k) =>
			this.addCurve(lineCurve(`${name}.${side}`, corners[k]!, corners[(k + 1) % 4]!), name)
		);
	}

	private arcAround(statement: StatementOf<'arc'>, a: Point, b: Point): Curve {
		const m = evaluatePoint(statement.centre!, this.scope);
		const [ra, rb] = [hypot(a.x - m.x, a.y - m.y), hypot(b.x - m.x, b.y - m.y)];
		if (ra === 0) fail(statement.centre!, 'the centre lies on the start of the arc');
		if (Math.abs(ra - rb) > 1e-6 * ra)
			fail(
				statement.centre!,
				`the start is ${round(ra)} from this centre and the end ${round(rb)}; both must be at one distance`
			);
		return arcCurve(statement.name.text, a, b, m, statement.clockwise);
	}

	private arcThrough(statement: StatementOf<'arc'>, a: Point, b: Point): Curve {
		const p = evaluatePoint(statement.through!, this.scope);
		// Circumcentre relative to a.
		const [bx, by, px, py] = [b.x - a.x, b.y - a.y, p.x - a.x, p.y - a.y];
		const cross = bx * py - by * px;
		const [bb, pp] = [bx * bx + by * by, px * px + py * py];
		if (Math.abs(cross) <= 1e-12 * Math.sqrt(bb * pp))
			fail(statement.through!, 'this point lies on the straight line through both ends, so no arc passes through all three');
		const centre = { x: a.x + (py * bb - by * pp) / (2 * cross), y: a.y + (bx * pp - px * bb) / (2 * cross) };
		return arcCurve(statement.name.text, a, b, centre, cross > 0);
	}

	/** The points of a polyline or spline, neighbours that repeat taken once. */
	private pointsOf(statement: StatementOf<'polyline' | 'spline'>): Outline & { closed: boolean } {
		const outline = statement.file ? this.outlineFromFile(statement, statement.file) : this.outlineWritten(statement);
		const x: number[] = [];
		const y: number[] = [];
		for (let i = 0; i < outline.x.length; i++) {
			if (x.length > 0 && x.at(-1) === outline.x[i] && y.at(-1) === outline.y[i]) continue;
			x.push(outline.x[i]!);
			y.push(outline.y[i]!);
		}
		// A curve that comes back to its start is closed, said or not.
		const returns = x.length > 2 && x[0] === x.at(-1) && y[0] === y.at(-1);
		if (returns) {
			x.pop();
			y.pop();
		}
		return { x: Float64Array.from(x), y: Float64Array.from(y), closed: statement.closed || returns };
	}

	private outlineWritten(statement: StatementOf<'polyline' | 'spline'>): Outline {
		const points = statement.points.map((p) => evaluatePoint(p, this.scope));
		return { x: Float64Array.from(points, (p) => p.x), y: Float64Array.from(points, (p) => p.y) };
	}

	/**
	 * An outline of a file, the first unless another is asked for. `from p` moves it so that its first row lies on p; `from p to q`
	 * also stretches each axis so that its last row lies on q.
	 */
	private outlineFromFile(statement: StatementOf<'polyline' | 'spline'>, word: Word): Outline {
		const file = this.files[word.text];
		if (!file)
			fail(word, `there is no file \`${word.text}\` beside this recipe${didYouMean(word.text, Object.keys(this.files))}`);
		if ('error' in file) fail(word, `\`${word.text}\`: ${file.error}`);
		const count = file.outlines.length;
		const number = Number(statement.outline?.text ?? 1);
		const outline = file.outlines[number - 1];
		if (!outline)
			fail(statement.outline!, `\`${word.text}\` holds ${count} outline${count === 1 ? '' : 's'}; there is no outline ${number}`);
		if (!statement.outline && count > 1)
			this.report(
				`\`${word.text}\` holds ${count} outlines; a curve takes the first unless \`outline 2\` and so on follows the file's name`,
				word.from,
				word.to,
				'several-outlines',
				'warning'
			);
		const start = statement.start && evaluatePoint(statement.start, this.scope);
		const end = statement.end && evaluatePoint(statement.end, this.scope);
		if (!start && !end) return outline;
		const map = (axis: 'x' | 'y'): Float64Array => {
			const values = outline[axis];
			const [first, last] = [values[0]!, values.at(-1)!];
			if (!start || !end) {
				const step = start ? start[axis] - first : end![axis] - last;
				return values.map((v) => v + step);
			}
			if (first === last) {
				if (start[axis] !== end[axis])
					fail(
						statement.end!,
						`the rows of \`${word.text}\` start and end at the same ${axis}, so it cannot be stretched from ${axis} = ${start[axis]} to ${end[axis]}`
					);
				return values.map((v) => v - first + start[axis]);
			}
			const scale = (end[axis] - start[axis]) / (last - first);
			const mapped = values.map((v) => start[axis] + (v - first) * scale);
			mapped[mapped.length - 1] = end[axis];
			return mapped;
		};
		return { x: map('x'), y: map('y') };
	}

	private fourCorners(list: Expression[]): Point[] {
		if (list.length !== 4) fail({ from: list[0]!.from, to: list.at(-1)!.to }, `a block has four corners, found ${list.length}`);
		return list.map((e) => evaluatePoint(e, this.scope));
	}

	private number(expression: Expression, want: Want): number {
		return evaluateNumber(expression, this.scope, want);
	}

	private positive(expression: Expression, what: string): number {
		const value = this.number(expression, 'length');
		if (!(value > 0)) fail(expression, `${what} is above zero, found ${value}`);
		return value;
	}

	private claim(name: Word): void {
		if (name.text === 'pi') fail(name, '`pi` has its value already');
		const first = this.usedNames.get(name.text);
		if (first !== undefined) fail(name, `\`${name.text}\` is defined already on line ${this.model.recipe.lines[first]!.number}`);
		this.usedNames.set(name.text, this.line);
	}

	private lookup(name: string): Value {
		const known = this.values.get(name);
		if (known) return known.value;
		if (this.model.curvesByName.has(name)) throw new Error(`\`${name}\` is a curve; a point or a number is needed here`);
		throw new Error(this.unknown(name));
	}

	/** Why a name has no value: defined later, defined with an error, or not at all. */
	private unknown(name: string): string {
		const { lines } = this.model.recipe;
		const self = definedName(lines[this.line]!.statement);
		if (name === self) return `\`${name}\` is defined by itself`;
		if (this.failedNames.has(name)) return `\`${name}\` has no value, because of the error in its own statement`;
		const later = lines.findIndex(({ statement }) => definedName(statement) === name);
		if (later >= 0) {
			const statement = lines[later]!.statement!;
			if (self !== undefined && statement.kind === 'let' && mentions(statement.value, self))
				return `\`${self}\` and \`${name}\` are each defined by the other (lines ${lines[this.line]!.number} and ${lines[later]!.number}); one of them needs a value of its own`;
			return `\`${name}\` is defined only later, on line ${lines[later]!.number}; names are defined before they are used`;
		}
		const names = [...this.values.keys(), ...this.model.curvesByName.keys(), 'pi', ...functionNames];
		return `nothing is named \`${name}\`${didYouMean(name, names)}`;
	}

	private lengthOf(name: string): number {
		const list = this.model.curvesByName.get(name);
		if (!list) throw new Error(this.unknown(name));
		return list.reduce((sum, c) => sum + curveLength(this.model.curves[c]!), 0);
	}
}

function fail(at: { from: number; to: number }, message: string): never {
	throw new ExpressionError(message, at.from, at.to);
}

const same = (a: Point, b: Point) => a.x === b.x && a.y === b.y;
const round = (v: number) => Number(v.toPrecision(6));

function mentions(e: Expression, name: string): boolean {
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

/** A parameter's value with its unit, for people: lengths in the recipe's unit, angles in degrees. */
export function formatValue(value: number, dimension: Dimension, units: string): string {
	if (fits(dimension, 'length') && dimension) return `${round(value)} ${units}`;
	if (fits(dimension, 'angle') && dimension) return `${round((value * 180) / Math.PI)}°`;
	return dimension ? `${round(value)} (${dimensionName(dimension)})` : String(round(value));
}
