import { Report } from '../../findings/report.ts';
import { type Curve } from '../../geometry/curve.ts';
import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { onAxis } from '../../geometry/on-axis.ts';
import { mapPoint, transformCurve } from '../../geometry/transform.ts';
import { addTo } from '../../numeric/lists.ts';
import { beyondReach, reach } from '../../geometry/reach.ts';
import { didYouMean } from '../../text/nearest.ts';
import { toleranceOf } from './construction.ts';
import { evaluate, evaluateNumber, ExpressionError, FollowingError, mentions, type Scope } from './expressions.ts';
import { DrawingBudget } from './drawing-budget.ts';
import { language } from '../language/language.ts';
import type { CoordinateFiles, Model, WithLine } from './model.ts';
import {
	checkArguments,
	copiesOf,
	type DefinedPart,
	DefinedParts,
	endOfPart,
	type GivenArguments,
	settingsOf,
	whyNotInPart
} from './defined-parts.ts';
import { placedOutcome, type Placement } from './placed.ts';
import { parseStatement, placesIn } from '../language/parse.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA, type StatementRecord } from '../language/statement.ts';
import { parameter } from '../statements/let.ts';
import { part } from '../statements/part.ts';
import { units } from '../statements/units.ts';
import type { CurveReference, Expression, PartSyntax, PlaceSyntax, Statement, Word } from '../language/syntax.ts';
import { lengthUnits } from '../language/units.ts';
import { type Dimension, dimensionName, fits, type Value, type ExpectedKind } from './values.ts';
import { fail, replacing, round, type EvaluationContext } from './evaluation-context.ts';
import { sentenceOf, UserError } from '../../text/user-error.ts';

/** Values that replace those of `let` statements, as the command's `--set` gives them. */
export type Settings = ReadonlyMap<string, Expression>;

/**
 * Works out every statement in order. Never throws: what cannot be worked out becomes a finding,
 * and everything that sound statements define is in the model.
 */
export function evaluateRecipe(recipe: Recipe, files: CoordinateFiles, settings: Settings = new Map()): Model {
	return new Evaluation(recipe, files, settings).run();
}

/** The expressions of a recipe that must be a quantity of a certain kind, with the index of their statement, in the order in which they are met. */
export function wantedQuantities(
	recipe: Recipe,
	files: CoordinateFiles
): { model: Model; wanted: { line: number; expression: Expression; want: ExpectedKind }[] } {
	const evaluation = new Evaluation(recipe, files, new Map());
	const wanted: { line: number; expression: Expression; want: ExpectedKind }[] = [];
	evaluation.tellWanted((line, expression, want) => wanted.push({ line, expression, want }));
	return { model: evaluation.run(), wanted };
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

/** The curves of a model, and those after one more statement: changed ones in their places, new ones at the end; undefined where it is wrong. */
export function drawnBy(model: Model, source: string): { before: readonly Curve[]; after: readonly Curve[] } | undefined {
	const { statement } = parseStatement(source);
	if (!statement) return undefined;
	const recipe = { text: source, lines: [{ from: 0, to: source.length, number: 1, statement }] };
	const after = new Evaluation(recipe, {}, new Map()).curvesAfter(model, statement);
	return after && { before: model.curves, after };
}

/**
 * A model with the statements that a newer recipe has besides, worked out in their order; the same model where there are none.
 * What newer statements say wrongly is left out. For tools that draw faster than the mesh comes.
 */
export function broughtUpToDate(model: Model, recipe: Recipe): Model {
	const sourceOf = ({ text }: Recipe, { from, to }: { from: number; to: number }) => text.slice(from, to);
	const previousSources = new Set(model.recipe.lines.map((line) => sourceOf(model.recipe, line)));
	const isNew = recipe.lines.some((line) => line.statement && !previousSources.has(sourceOf(recipe, line)));
	return isNew
		? new Evaluation(recipe, {}, new Map()).goingOn(model, (line) => !previousSources.has(sourceOf(recipe, line)))
		: model;
}

/** The scope of expressions typed after all statements of a model. */
export function scopeOf(model: Model): Scope {
	return new Evaluation(model.recipe, {}, new Map()).seeded(model).scope;
}

/** The name of a value that a statement defines, for telling "later" from "nowhere". */
function definedName(statement: Statement | undefined): string | undefined {
	const defined = statement && language().recordOf(statement).defines?.(statement);
	return defined?.space === 'value' ? defined.name.text : undefined;
}

/** What the copies of parts in a recipe share. */
interface Shared {
	parts: DefinedParts;
	budget: DrawingBudget;
	/** How deep in parts of parts this one is placed. */
	depth: number;
	/** Findings of parts that are reported already: of many copies the first reports them. */
	reported: Set<string>;
	/** Told of every expression that must be a quantity of a certain kind, with its line. */
	wanted?: (line: number, expression: Expression, want: ExpectedKind) => void;
}

/** Parts of parts go no deeper than this. */
const deepestParts = 16;
class Evaluation implements EvaluationContext {
	/** Set where there is too much of a drawing: then there is none, so that nothing is worked out for what runs away. */
	private hasOverflown = false;
	readonly model: Model;
	private readonly values = new Map<string, { value: Value; line: number }>();
	private readonly usedNames = new Map<string, number>();
	/** Names of regions, groups and studies that statements have given, each behind what it names. */
	private readonly given = new Set<string>();
	/** The statement that first defines each name, for telling "later" from "nowhere". */
	private definitions: Map<string, number> | undefined;
	readonly scope: Scope;
	/** Curves that later statements took away, and the names that went with them, with the reason. */
	private readonly removed = new Set<number>();
	private readonly gone = new Map<string, string>();
	/** Curves that only help: they go when all statements are worked out. */
	private readonly guides = new Set<number>();
	/** The regions of all copies of a part, by its name and theirs. */
	private readonly regionsOf = new Map<string, string[]>();
	/** The lines of the part that is worked out. */
	private body: { from: number; to: number } | undefined;
	line = 0;
	/** About the whole recipe, and about the present statement. */
	private readonly whole: Report;
	report: Report;

	constructor(
		recipe: Recipe,
		readonly files: CoordinateFiles,
		private readonly settings: Settings,
		private readonly shared: Shared = { parts: new DefinedParts(), budget: new DrawingBudget(), depth: 0, reported: new Set() }
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
			guides: [],
			failed: new Set(),
			curvesByName: new Map(),
			fileLines: new Map(),
			fileMaps: new Map(),
			thinned: new Map(),
			stated: {},
			findings: []
		};
		const model = this.model;
		this.whole = new Report(recipe.lines, model.findings);
		this.report = this.whole;
		this.scope = {
			get units() {
				return model.units;
			},
			lookup: (name) => this.lookup(name),
			find: (name) => this.values.get(name)?.value,
			curves: (name) => this.curvesOf(name),
			bareAngle: (expression) => this.doubtAngle(expression)
		};
	}

	/** Tells of every expression that must be a quantity of a certain kind, those of placed parts among them. */
	tellWanted(tell: NonNullable<Shared['wanted']>): void {
		this.shared.wanted = tell;
		this.scope.wanted = (expression, want) => tell(this.line, expression, want);
	}

	run(): Model {
		const { lines } = this.model.recipe;
		this.findUnits();
		const seenOnce = new Map<string, number>();
		for (let line = 0; line < lines.length && !this.hasOverflown; line++) {
			const { statement, defines } = lines[line]!;
			if (defines !== undefined) this.model.failed.add(defines);
			if (!statement) continue;
			this.line = line;
			this.report = this.whole.about(line);
			const record = language().recordOf(statement);
			if (isA(part, statement) && !statement.file) {
				this.attempt(statement, record);
				line = endOfPart(lines, line);
				continue;
			}
			const first = record.once ? seenOnce.get(record.kind) : undefined;
			if (first !== undefined) {
				this.report.add(
					'defined-twice',
					{ word: record.kind, line: lines[first]!.number },
					{ within: { from: 0, to: record.kind.length } }
				);
				continue;
			}
			seenOnce.set(record.kind, line);
			this.attempt(statement, record);
		}
		if (this.hasOverflown)
			Object.assign(this.model, { curves: [], curveLines: [], curvesByName: new Map(), nodes: [], stated: {} });
		this.compact();
		this.putOnAxis();
		for (const name of this.settings.keys())
			if (!this.model.parameters.some((p) => p.name === name) && !this.model.failed.has(name))
				throw new UserError(
					`no “let” statement defines “${name}”${didYouMean(
						name,
						this.model.parameters.map((p) => p.name)
					)}`
				);
		return this.model;
	}

	definePart(statement: PartSyntax): void {
		this.shared.parts.define(statement, this);
	}

	endPart(): void {
		const { from, to } = this.model.recipe.lines[this.line]!;
		fail({ from: 0, to: to - from }, 'this “end” ends no part; a part begins with “part name”');
	}

	place(statement: PlaceSyntax): void {
		const found = this.shared.parts.find(statement.part);
		if (this.shared.depth >= deepestParts)
			fail(statement.part, `parts are placed in one another more than ${deepestParts} deep; does one place itself?`);
		const { copies, gathered } = copiesOf(statement, this);
		const given = new Map((statement.arguments ?? []).map(({ name, value }) => [name, evaluate(value, this.scope)] as const));
		for (const copy of copies) this.placeCopy(found, given, copy, gathered);
	}

	/** Works out a part by itself, and takes what it draws and says into this model. */
	private placeCopy(found: DefinedPart, given: GivenArguments, copy: Placement, others: readonly string[]): void {
		const inner = new Evaluation(found.recipe, this.files, settingsOf(given, found), {
			...this.shared,
			depth: this.shared.depth + 1
		});
		inner.model.units = this.model.units;
		inner.model.frame = this.model.frame;
		if (this.shared.wanted && found.file === undefined) inner.tellWanted(this.shared.wanted);
		inner.runPart(found, given);
		this.takePart(inner.model, found, copy, others);
	}

	/** Works out the statements of a part. Throws {@link ExpressionError} for arguments that it does not take. */
	private runPart(found: DefinedPart, given: GivenArguments): void {
		checkArguments(found, given);
		const { recipe, from, to, parameters } = found;
		this.line = from;
		this.body = { from, to };
		for (const { name, value } of parameters) {
			const own = [...given].find(([other]) => other.text === name.text)?.[1];
			this.define(name.text, own ?? evaluate(value, this.scope));
			this.usedNames.set(name.text, Math.max(0, from - 1));
		}
		for (let line = from; line < to; line++) {
			const { statement, defines } = recipe.lines[line]!;
			if (defines !== undefined) this.model.failed.add(defines);
			if (!statement) continue;
			this.line = line;
			this.report = this.whole.about(line);
			const reason = whyNotInPart(statement, found);
			if (reason) this.report.add('value', { message: reason });
			if (reason === undefined) this.attempt(statement, language().recordOf(statement));
		}
		this.compact();
	}

	/** Takes a part that is worked out into this model, where its copy stands and under the names that the copy gives. */
	private takePart(inner: Model, { file }: DefinedPart, copy: Placement, others: readonly string[]): void {
		const { model } = this;
		const { map, name } = copy;
		const first = model.curves.length;
		for (const curve of inner.curves) this.add(transformCurve(curve, map, `${name}.${curve.name}`), name);
		for (const [own, list] of inner.curvesByName) {
			const indices = list.map((c) => first + c);
			model.curvesByName.set(`${name}.${own}`, indices);
			for (const other of others) for (const c of indices) addTo(model.curvesByName, `${other}.${own}`, c);
		}
		for (const other of others.slice(1)) inner.curves.forEach((_, c) => addTo(model.curvesByName, other, first + c));
		for (const point of inner.points) {
			const placed = { ...point, ...mapPoint(map, point), name: `${name}.${point.name}`, line: this.line };
			model.points.push(placed);
			this.values.set(placed.name, { value: { kind: 'point', x: placed.x, y: placed.y }, line: this.line });
		}
		for (const node of inner.nodes) model.nodes.push({ ...node, ...mapPoint(map, node), line: this.line });
		for (const guide of inner.guides) model.guides.push(transformCurve(guide, map, `${name}.${guide.name}`));
		for (const own of inner.failed) model.failed.add(`${name}.${own}`);
		for (const [kind, list] of Object.entries(inner.stated))
			for (const outcome of list) this.takeOutcome(kind, outcome, copy, others, file !== undefined);
		for (const finding of inner.findings) {
			const key = `${finding.span?.from}:${finding.message}`;
			if (this.shared.reported.has(key)) continue;
			this.shared.reported.add(key);
			const { span } = finding;
			if (file === undefined)
				model.findings.push({ ...finding, message: `${finding.message} (in the part that is placed as “${name}”)` });
			else
				this.report.add('value', {
					message: `in “${file}”${span ? `, line ${placesIn(inner.recipe.text)(span.from).line}` : ''}: ${finding.message}`
				});
		}
	}

	/** What a statement of a part came to, for one of its copies; groups of all copies are one unless a placement keeps its own. */
	private takeOutcome(kind: string, outcome: unknown, copy: Placement, others: readonly string[], isOfFile: boolean): void {
		const placed = placedOutcome(kind, outcome, copy) as WithLine<Record<string, unknown>>;
		if (isOfFile) placed.line = this.line;
		const list = (this.model.stated[kind] ??= []) as WithLine<Record<string, unknown>>[];
		if (kind === 'region') {
			const own = (outcome as { name: string }).name;
			for (const other of others) addTo(this.regionsOf, `${other}.${own}`, placed.name as string);
		}
		const same =
			kind === 'group' || kind === 'baffle' ? list.find((g) => g.name === placed.name && g.line === placed.line) : undefined;
		if (!same) {
			list.push(placed);
			if (kind === 'region' || kind === 'group') this.given.add(`${kind} ${placed.name as string}`);
			return;
		}
		for (const key of ['pieces', 'regions', 'points'])
			if (Array.isArray(same[key])) same[key].push(...(placed[key] as unknown[]));
	}

	regions(name: Word): string[] {
		return this.regionsOf.get(name.text) ?? [name.text];
	}

	/** In an axisymmetric frame, what is within the tolerance of the axis is on it. */
	private putOnAxis(): void {
		const { frame, curves } = this.model;
		if (frame.kind !== 'axisymmetric') return;
		const tolerance = toleranceOf(curves);
		this.model.curves = curves.map((curve) => onAxis(curve, frame.axis === 'x' ? 1 : 0, tolerance));
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
			stated: Object.fromEntries(Object.entries(model.stated).map(([kind, list]) => [kind, [...list]])),
			findings: []
		});
		for (const { name, value, dimension, line } of model.parameters)
			this.values.set(name, { value: { kind: 'number', value, dimension }, line });
		this.shared.parts.takeOver(model.recipe);
		for (const { statement } of model.recipe.lines) if (statement) this.takeNames(statement, language().recordOf(statement));
		for (const { name, x, y, line } of model.points) this.values.set(name, { value: { kind: 'point', x, y }, line });
		return this;
	}

	/** What a model becomes by the statements that are new. */
	goingOn(model: Model, isNew: (line: Line) => boolean): Model {
		this.seeded(model);
		const { lines } = this.model.recipe;
		for (let index = 0; index < lines.length; index++) {
			const line = lines[index]!;
			const { statement } = line;
			if (statement && isNew(line)) {
				this.line = index;
				this.report = this.whole.about(index);
				this.attempt(statement, language().recordOf(statement));
			}
			// What a part holds is drawn where it is placed.
			if (isA(part, statement) && !statement.file) index = endOfPart(lines, index);
		}
		this.compact();
		return this.model;
	}

	/** What a statement draws after those of a model. */
	after(model: Model, statement: Statement): { curves: Curve[] } | { error: string } {
		this.seeded(model);
		try {
			this.take(statement, language().recordOf(statement));
		} catch (error) {
			if (!(error instanceof ExpressionError)) throw error;
			return { error: error.message };
		}
		return { curves: this.model.curves.filter((curve, c) => curve !== model.curves[c]) };
	}

	/** The curves of a model and of a statement after it; undefined where that is wrong. */
	curvesAfter(model: Model, statement: Statement): readonly Curve[] | undefined {
		return 'error' in this.after(model, statement) ? undefined : this.model.curves;
	}

	/** Units hold for the whole recipe, so they are known before the first number. */
	private findUnits(): void {
		for (const { statement } of this.model.recipe.lines)
			if (isA(units, statement) && lengthUnits.includes(statement.unit.text)) {
				this.model.units = statement.unit.text;
				return;
			}
	}

	private attempt(statement: Statement, record: StatementRecord): void {
		try {
			this.take(statement, record);
		} catch (error) {
			const defined = record.defines?.(statement);
			if (defined) this.model.failed.add(defined.name.text);
			if (error instanceof FollowingError) return;
			if (error instanceof ExpressionError)
				this.report.add('value', { message: error.message }, { within: error, mends: error.mends });
			else if (error instanceof RangeError && /call stack/i.test(error.message)) this.report.add('nested-too-deeply', {});
			// Whatever fails at one statement leaves what the others say.
			else this.report.add('internal', { message: sentenceOf(error, 'this statement') });
		}
	}

	private take(statement: Statement, record: StatementRecord): void {
		const defined = record.defines?.(statement);
		if (defined?.space === 'value') this.claim(defined.name);
		const firstCurve = this.model.curves.length;
		const outcome = record.evaluate(statement, this);
		for (const one of Array.isArray(outcome) ? outcome : outcome ? [outcome] : [])
			(this.model.stated[record.kind] ??= []).push({ ...one, line: this.line });
		if (statement.isGuide) for (let c = firstCurve; c < this.model.curves.length; c++) this.guides.add(c);
		this.takeNames(statement, record);
	}

	/** Notes the names that a statement gives. */
	private takeNames(statement: Statement, record: StatementRecord): void {
		const defined = record.defines?.(statement);
		for (const { space, name } of [...(defined ? [defined] : []), ...(record.definesAlso?.(statement) ?? [])])
			if (space !== 'value') this.given.add(`${space} ${name.text}`);
	}

	free(space: 'region' | 'group' | 'study', name: Word): void {
		if (this.given.has(`${space} ${name.text}`)) fail(name, `a ${space} “${name.text}” exists already`);
	}

	define(name: string, value: Value): void {
		this.values.set(name, { value, line: this.line });
	}

	setting(name: string): Expression | undefined {
		return this.settings.get(name);
	}

	/** Refuses the present statement where it draws what numbers do not hold. */
	private checkReach(curve: Curve): void {
		const beyond = beyondReach(curve);
		if (!beyond) return;
		const { from, to } = this.model.recipe.lines[this.line]!;
		fail(
			{ from: 0, to: to - from },
			beyond === 'far'
				? `this draws “${curve.name}” beyond ${reach.toExponential()} ${this.model.units}, farther away than can be worked with; draw it nearer the origin`
				: `this makes “${curve.name}” smaller than ${(1 / reach).toExponential()} ${this.model.units}, which is the same as a point; draw it larger`
		);
	}

	replace(changed: readonly (readonly [c: number, curve: Curve])[]): void {
		for (const [, curve] of changed) this.checkReach(curve);
		for (const [c, curve] of changed) this.model.curves[c] = curve;
	}

	add(curve: Curve, owner = curve.name, lines?: Uint32Array): void {
		this.checkReach(curve);
		const tooMuch = this.shared.budget.add(curve);
		if (tooMuch !== undefined) {
			this.hasOverflown = true;
			const { from, to } = this.model.recipe.lines[this.line]!;
			fail(
				{ from: 0, to: to - from },
				`this makes more than ${tooMuch} in all, which is more than a drawing here may have; thin outlines out, and mind that copies of copies grow fast`
			);
		}
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
			const names = list.map((c) => `“${this.model.curves[c]!.name}”`).slice(0, 4);
			fail(reference, `“${reference.name}” names ${list.length} curves; take one of them, like ${names.join(', ')}`);
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

	isGuide(name: string): boolean {
		const list = this.model.curvesByName.get(name);
		return list !== undefined && list.length > 0 && list.every((c) => this.guides.has(c));
	}

	/** Takes the removed curves and the guides out for good. */
	private compact(): void {
		const { model, removed } = this;
		const guides = [...this.guides].filter((c) => !removed.has(c));
		model.guides = [...model.guides, ...guides.map((c) => model.curves[c]!)];
		if (guides.length > 0) this.remove(guides, 'this is a guide, which is no part of the domain; without “guide” it is');
		this.guides.clear();
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

	number(expression: Expression, want: ExpectedKind): number {
		return evaluateNumber(expression, this.scope, want);
	}

	/** Says of a bare number in `sin` and the like that it is taken as radians. */
	private doubtAngle(expression: Expression): void {
		const mends = (['deg', 'rad'] as const).map((unit) => ({
			label: `Make it ${unit === 'deg' ? 'degrees' : 'radians'}`,
			edits: [{ from: expression.to, to: expression.to, insert: ` ${unit}` }]
		}));
		const value = evaluateNumber(expression, this.scope, 'any');
		this.report.add('bare-angle', { value }, { within: expression, mends });
	}

	positive(expression: Expression, what: string): number {
		const value = this.number(expression, 'length');
		if (!(value > 0))
			fail(
				expression,
				`${what} is above zero, found ${value}`,
				expression.kind === 'negate'
					? [{ label: 'Take out the minus', edits: [{ from: expression.from, to: expression.operand.from, insert: '' }] }]
					: []
			);
		return value;
	}

	private claim(name: Word): void {
		if (name.text === 'pi') fail(name, '“pi” has its value already');
		const first = this.usedNames.get(name.text);
		if (first !== undefined)
			fail(name, `“${name.text}” is defined already on line ${this.model.recipe.lines[first]!.number}`, [
				{ ...replacing(name, this.freeName(name.text)), label: `Call it “${this.freeName(name.text)}”` }
			]);
		this.usedNames.set(name.text, this.line);
	}

	/** A name like another that nothing has. */
	private freeName(name: string): string {
		const stem = name.replace(/_?\d+$/, '');
		for (let k = 2; ; k++)
			if (!this.firstDefinitions.has(`${stem}_${k}`) && !this.usedNames.has(`${stem}_${k}`)) return `${stem}_${k}`;
	}

	private get firstDefinitions(): Map<string, number> {
		if (this.definitions) return this.definitions;
		const first = (this.definitions = new Map<string, number>());
		this.model.recipe.lines.forEach(({ statement }, line) => {
			const name = definedName(statement);
			if (name !== undefined && !first.has(name)) first.set(name, line);
		});
		return first;
	}

	private lookup(name: string): Value {
		const cached = this.values.get(name);
		if (cached) return cached.value;
		if (this.model.curvesByName.has(name)) throw new UserError(`“${name}” is a curve; a point or a number is needed here`);
		throw new UserError(this.unknown(name));
	}

	/** Why a name has no value: defined later, defined with an error, or not at all. */
	private unknown(name: string, wanted: 'value' | 'curve' = 'value'): string {
		const { lines } = this.model.recipe;
		const self = definedName(lines[this.line]!.statement);
		if (name === self) return `“${name}” is defined by itself`;
		if (this.model.failed.has(name))
			throw new FollowingError(`“${name}” has no value, because of the error in its own statement`, 0, 0);
		const reason = this.gone.get(name);
		if (reason !== undefined) return reason;
		if (wanted === 'curve' && this.values.has(name)) return `“${name}” is no curve`;
		const later = this.firstDefinitions.get(name);
		if (later !== undefined && this.body && (later < this.body.from || later >= this.body.to))
			return `“${name}” stands outside this part, which sees nothing of it; make it a parameter: “part … with ${name} = …”`;
		if (later !== undefined) {
			const statement = lines[later]!.statement!;
			if (self !== undefined && isA(parameter, statement) && mentions(statement.value, self))
				return `“${self}” and “${name}” are each defined by the other (lines ${lines[this.line]!.number} and ${lines[later]!.number}); one of them needs a value of its own`;
			return `“${name}” is defined only later, on line ${lines[later]!.number}; names are defined before they are used`;
		}
		const names = [...(wanted === 'value' ? this.values.keys() : []), ...this.model.curvesByName.keys()];
		return `nothing is named “${name}”${didYouMean(name, names) || `; ${this.howToDefine(name, wanted)}`}`;
	}

	/** How a name that nothing has would come to mean something. */
	private howToDefine(name: string, wanted: 'value' | 'curve'): string {
		return wanted === 'curve'
			? `a curve of this name is drawn above, like “line ${name} = (0, 0) to (10, 0)”`
			: `a line above gives it its value, like “let ${name} = 10” or “point ${name} = (0, 0)”`;
	}

	private curvesOf(name: string): Curve[] {
		const list = this.model.curvesByName.get(name);
		if (!list) throw new UserError(this.unknown(name));
		return list.map((c) => this.model.curves[c]!);
	}
}

keepHiddenClass(new Evaluation({ text: '', lines: [] }, {}, new Map()));

/** A parameter's value with its unit, for people: lengths in the recipe's unit, angles in degrees. */
export function formatValue(value: number, dimension: Dimension, units: string): string {
	if (fits(dimension, 'length') && dimension) return `${round(value)} ${units}`;
	if (fits(dimension, 'angle') && dimension) return `${round((value * 180) / Math.PI)}°`;
	return dimension ? `${round(value)} (${dimensionName(dimension)})` : String(round(value));
}
