import type { Finding } from '../findings/finding.ts';
import { boundaryKinds, groupColours, isBoundaryKind, isGroupColour } from '../mesh/boundary-kinds.ts';
import { segmentCount, type Curve, type Point } from '../shape/curve.ts';
import { flatten } from '../shape/parts.ts';
import { build, isBuilding } from './building.ts';
import { makeCurve } from './curves.ts';
import { evaluate, evaluateNumber, evaluatePoint, ExpressionError, functionNames, mentions, type Scope } from './expressions.ts';
import type { Across, CoordinateFiles, FillStatement, Model, ZoneStatement } from './model.ts';
import { didYouMean } from './nearest.ts';
import { parseStatement, type Recipe } from './parse.ts';
import type { CurveReference, Expression, SpacingWord, Statement, StatementOf, Word } from './syntax.ts';
import { lengthUnits } from './units.ts';
import { dimensionName, fits, type Dimension, type Value, type Want } from './values.ts';
import { fail, round, type Workshop } from './workshop.ts';

/** Values that replace those of `let` statements, as the command's `--set` gives them. */
export type Settings = ReadonlyMap<string, Expression>;

/**
 * Works out every statement in order. Never throws: what cannot be worked out becomes a finding,
 * and everything that sound statements define is in the model.
 */
export function evaluateRecipe(recipe: Recipe, files: CoordinateFiles, settings: Settings = new Map()): Model {
	return new Evaluation(recipe, files, settings).run();
}

/**
 * What one more statement would draw after all others: the curves that it adds or changes, or what is
 * wrong with it. For previews; the model stays as it is.
 */
export function tryStatement(model: Model, source: string): { curves: Curve[] } | { error: string } {
	const { statement, error } = parseStatement(source);
	if (!statement) return { error: error!.message };
	const recipe = { text: source, lines: [{ from: 0, to: source.length, number: 1, statement }] };
	return new Evaluation(recipe, {}, new Map()).after(model, statement);
}

/** The scope of expressions typed after all statements of a model. */
export function scopeOf(model: Model): Scope {
	return new Evaluation(model.recipe, {}, new Map()).seeded(model).scope;
}

/** Names defined by a statement, for telling "later" from "nowhere". */
function definedName(statement: Statement | undefined): string | undefined {
	switch (statement?.kind) {
		case 'region':
		case 'group':
			return undefined;
		default:
			return statement && 'name' in statement ? statement.name?.text : undefined;
	}
}

class Evaluation implements Workshop {
	readonly model: Model;
	private readonly values = new Map<string, { value: Value; line: number }>();
	private readonly usedNames = new Map<string, number>();
	private readonly failedNames = new Set<string>();
	readonly scope: Scope;
	/** Curves that later statements took away, and the names that went with them, with the reason. */
	private readonly removed = new Set<number>();
	private readonly gone = new Map<string, string>();
	private line = 0;

	constructor(
		recipe: Recipe,
		readonly files: CoordinateFiles,
		private readonly settings: Settings
	) {
		this.model = {
			recipe,
			title: '',
			units: 'mm',
			frame: { kind: 'planar' },
			parameters: [],
			points: [],
			nodes: [],
			curves: [],
			curveLines: [],
			curvesByName: new Map(),
			fileLines: new Map(),
			fileMaps: new Map(),
			regions: [],
			divides: [],
			fills: [],
			sizes: [],
			zones: [],
			groups: [],
			findings: []
		};
		const model = this.model;
		this.scope = {
			get units() {
				return model.units;
			},
			lookup: (name) => this.lookup(name),
			curves: (name) => this.curvesOf(name)
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
		this.compact();
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

	/** Takes over what a model has, without its statements. */
	seeded(model: Model): this {
		Object.assign(this.model, {
			...model,
			recipe: this.model.recipe,
			curves: [...model.curves],
			curveLines: [...model.curveLines],
			curvesByName: new Map(model.curvesByName),
			nodes: [...model.nodes],
			points: [...model.points],
			findings: []
		});
		for (const { name, value, dimension, line } of model.parameters)
			this.values.set(name, { value: { kind: 'number', value, dimension }, line });
		for (const { name, x, y, line } of model.points) this.values.set(name, { value: { kind: 'point', x, y }, line });
		return this;
	}

	/** What a statement draws after those of a model. */
	after(model: Model, statement: Statement): { curves: Curve[] } | { error: string } {
		this.seeded(model);
		try {
			this.take(statement);
		} catch (error) {
			if (!(error instanceof ExpressionError)) throw error;
			return { error: error.message };
		}
		return { curves: this.model.curves.filter((curve, c) => curve !== model.curves[c]) };
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

	report(message: string, from: number, to: number, code = 'value', severity: Finding['severity'] = 'error'): void {
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
			case 'node':
				for (const e of statement.points) model.nodes.push({ ...evaluatePoint(e, this.scope), line });
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
					fill: statement.right ? 'structured' : statement.fill,
					...(statement.right ? { halved: true } : {}),
					line,
					...(statement.corners ? { corners: this.corners(statement.corners) } : {}),
					...this.structure(statement),
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
			case 'zone':
				model.zones.push(this.zone(statement));
				return;
			case 'group':
				this.takeGroup(statement);
				return;
			default:
				if ('name' in statement && statement.name) this.claim(statement.name);
				if (isBuilding(statement)) build(statement, this);
				else makeCurve(statement, this);
		}
	}

	/** What a structured fill says of the divisions across, and of smoothing. */
	private structure(statement: StatementOf<'fill'>): Pick<FillStatement, 'across' | 'sweeps'> {
		const { into, spacing, smooth, sweeps } = statement;
		const across: Across = {};
		if (into) across.count = this.count(into, 10_000);
		if (spacing) {
			const span = statement.clauses.find((c) => c.name === 'spacing')!;
			const words = Object.entries(spacing.numbers ?? {}) as [SpacingWord, Expression][];
			const [[word, expression]] =
				words.length === 1
					? (words as [[SpacingWord, Expression]])
					: fail(span, 'the divisions across a region take one of bias, first, last and growth');
			across.number = { word, value: this.spacingNumber(word, expression), toward: spacing.toward! };
		}
		const count = sweeps ? this.number(sweeps, 'number') : 20;
		if (!(Number.isInteger(count) && count >= 0 && count <= 1000))
			fail(sweeps!, `${count} is no number of smoothing sweeps; it is a whole number from 0 to 1000`);
		return { ...(into || spacing ? { across } : {}), ...(smooth ? { sweeps: count } : {}) };
	}

	private count(expression: Expression, most: number): number {
		const count = this.number(expression, 'number');
		if (!(Number.isInteger(count) && count >= 1))
			fail(expression, `${count} is no count of divisions; it is a whole number from 1`);
		if (count > most) fail(expression, `${count} divisions are too many here; the limit is ${most}`);
		return count;
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
		const count = statement.into && this.count(statement.into, 1e6);
		const numbers: Partial<Record<SpacingWord, number>> = {};
		for (const [word, expression] of Object.entries(statement.numbers ?? {}) as [SpacingWord, Expression][])
			numbers[word] = this.spacingNumber(word, expression);
		const perTurn = statement.perTurn && this.number(statement.perTurn, 'number');
		if (perTurn !== undefined && !(perTurn >= 3 && perTurn <= 1e5))
			fail(statement.perTurn!, `${perTurn} divisions in a full turn are out of reach; from 3 to 100000 make sense`);
		const positions = statement.positions?.map((p) => this.number(p, 'number'));
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
		this.checkNumbers(statement, numbers);
		model.divides.push({
			pieces: statement.pieces,
			line,
			...(statement.asOne ? { asOne: true } : {}),
			...(count === undefined ? {} : { count }),
			...(statement.size ? { size: this.positive(statement.size, 'a division size') } : {}),
			...(perTurn === undefined ? {} : { perTurn }),
			...(statement.chordError ? { chordError: this.positive(statement.chordError, 'a chord error') } : {}),
			...(statement.numbers ? { numbers } : {}),
			...(positions ? { positions } : {}),
			...(toward ? { toward } : {}),
			...(like ? { like } : {})
		});
	}

	private zone(statement: StatementOf<'zone'>): ZoneStatement {
		const { zone, size, fade } = statement;
		const rest = {
			line: this.line,
			...(size ? { size: this.positive(size, 'an element size') } : {}),
			...(fade ? { fade: this.positive(fade, 'a fade') } : {})
		};
		switch (zone.kind) {
			case 'near':
				return { ...rest, zone: { ...zone, within: zone.within ? this.positive(zone.within, 'a distance') : 0 } };
			case 'at':
				return { ...rest, zone: { kind: 'at', point: evaluatePoint(zone.point, this.scope) } };
			case 'circle':
				return {
					...rest,
					zone: { kind: 'circle', centre: evaluatePoint(zone.centre, this.scope), radius: this.positive(zone.radius, 'a radius') }
				};
			case 'box': {
				const [a, b] = zone.corners.map((c) => evaluatePoint(c, this.scope)) as [Point, Point];
				return { ...rest, zone: { kind: 'polygon', outline: Float64Array.of(a.x, a.y, b.x, a.y, b.x, b.y, a.x, b.y) } };
			}
			case 'curve': {
				const c = this.curve(zone.curve);
				const curve = this.model.curves[c]!;
				if (!curve.closed) fail(zone.curve, `\`${curve.name}\` is open; a zone is the inside of a closed curve`);
				const count = segmentCount(curve);
				const whole = { curve, t0: 0, t1: count };
				const size = curve.lengths[count]!;
				this.remove([c], `this curve only shapes a zone; it is no part of the domain`);
				return { ...rest, zone: { kind: 'polygon', outline: flatten(whole, 1e-4 * size).slice(0, -2) } };
			}
			case 'wake': {
				const along = zone.along ? this.number(zone.along, 'angle') : 0;
				const widening = zone.widening ? this.number(zone.widening, 'angle') : 0;
				if (!(widening >= 0 && widening < 1.4)) fail(zone.widening!, 'a wake widens by an angle from 0 to 80 degrees');
				return {
					...rest,
					zone: { kind: 'wake', references: zone.references, along, length: this.positive(zone.length, 'a length'), widening }
				};
			}
			default: {
				const number = this.number(zone.number, 'number');
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

	private spacingNumber(word: SpacingWord, expression: Expression): number {
		if (word === 'first' || word === 'last') return this.positive(expression, `a ${word} cell`);
		const value = this.number(expression, 'number');
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
	private checkNumbers(statement: StatementOf<'divide'>, numbers: Partial<Record<SpacingWord, number>>): void {
		const words = Object.keys(numbers) as SpacingWord[];
		const counted =
			statement.into !== undefined ||
			statement.size !== undefined ||
			statement.perTurn !== undefined ||
			statement.chordError !== undefined;
		const ends = words.length === 2 && words.includes('first') && words.includes('last');
		const span = statement.clauses.find((c) => c.name === 'spacing')!;
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

	add(curve: Curve, owner = curve.name, lines?: Uint32Array): void {
		if (lines) this.model.fileLines.set(curve.name, lines);
		const { model } = this;
		const list = model.curvesByName.get(owner);
		if (list) list.push(model.curves.length);
		else model.curvesByName.set(owner, [model.curves.length]);
		if (owner !== curve.name) model.curvesByName.set(curve.name, [model.curves.length]);
		model.curves.push(curve);
		model.curveLines.push(this.line);
	}

	curves(reference: CurveReference): number[] {
		if (reference.piece !== undefined)
			fail(reference, 'a building statement takes whole curves; pieces are counted only when all curves are built');
		const list = this.model.curvesByName.get(reference.name);
		if (!list || list.length === 0) fail(reference, this.unknown(reference.name, 'curve'));
		return list;
	}

	curve(reference: CurveReference): number {
		const list = this.curves(reference);
		if (list.length > 1) {
			const names = list.map((c) => `\`${this.model.curves[c]!.name}\``).slice(0, 4);
			fail(reference, `\`${reference.name}\` names ${list.length} curves; take one of them, like ${names.join(', ')}`);
		}
		return list[0]!;
	}

	curvesNamed(e: Expression): number[] | undefined {
		const name = e.kind === 'name' ? e.name : e.kind === 'member' ? `${e.object}.${e.member}` : undefined;
		return name === undefined ? undefined : this.model.curvesByName.get(name);
	}

	remove(curves: readonly number[], because: string): void {
		for (const c of curves) {
			const { name } = this.model.curves[c]!;
			this.gone.set(name, because);
			this.removed.add(c);
		}
		for (const [name, list] of this.model.curvesByName) {
			const left = list.filter((c) => !curves.includes(c));
			if (left.length > 0) this.model.curvesByName.set(name, left);
			else {
				this.model.curvesByName.delete(name);
				this.gone.set(name, because);
			}
		}
	}

	/** Takes the removed curves out for good. */
	private compact(): void {
		const { model, removed } = this;
		if (removed.size === 0) return;
		const number = new Map<number, number>();
		model.curves.forEach((_, c) => !removed.has(c) && number.set(c, number.size));
		model.curves = model.curves.filter((_, c) => !removed.has(c));
		model.curveLines = model.curveLines.filter((_, c) => !removed.has(c));
		for (const [name, list] of model.curvesByName)
			model.curvesByName.set(
				name,
				list.map((c) => number.get(c)!)
			);
	}

	private corners(list: Expression[]): Point[] {
		if (list.length < 3)
			fail({ from: list[0]!.from, to: list.at(-1)!.to }, `a structured region has at least three corners, found ${list.length}`);
		return list.map((e) => evaluatePoint(e, this.scope));
	}

	number(expression: Expression, want: Want): number {
		return evaluateNumber(expression, this.scope, want);
	}

	positive(expression: Expression, what: string): number {
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
	private unknown(name: string, wanted: 'value' | 'curve' = 'value'): string {
		const { lines } = this.model.recipe;
		const self = definedName(lines[this.line]!.statement);
		if (name === self) return `\`${name}\` is defined by itself`;
		if (this.failedNames.has(name)) return `\`${name}\` has no value, because of the error in its own statement`;
		const reason = this.gone.get(name);
		if (reason !== undefined) return reason;
		if (wanted === 'curve' && this.values.has(name)) return `\`${name}\` is no curve`;
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

	private curvesOf(name: string): Curve[] {
		const list = this.model.curvesByName.get(name);
		if (!list) throw new Error(this.unknown(name));
		return list.map((c) => this.model.curves[c]!);
	}
}

/** A parameter's value with its unit, for people: lengths in the recipe's unit, angles in degrees. */
export function formatValue(value: number, dimension: Dimension, units: string): string {
	if (fits(dimension, 'length') && dimension) return `${round(value)} ${units}`;
	if (fits(dimension, 'angle') && dimension) return `${round((value * 180) / Math.PI)}°`;
	return dimension ? `${round(value)} (${dimensionName(dimension)})` : String(round(value));
}
