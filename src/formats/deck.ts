import {
	Context,
	type Emitter,
	ForTag,
	Liquid,
	LiquidError,
	Output,
	Tag,
	type TagToken,
	type Template,
	type TopLevelToken,
	TokenKind,
	toValueSync,
	TypeGuards
} from 'liquidjs';
import { nodesOfShape, sideCount, type DeliveryGrid } from '../core/mesh/grid.ts';
import type { Mesh } from '../core/mesh/mesh.ts';
import { structuredZones } from '../core/mesh/structured-zones.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import type { Model } from '../core/recipe/model/model.ts';
import type { DeckOptions, DeckTemplate } from './deck-options.ts';
import { inUnits } from './grid-options.ts';
import { checkPartName } from './part-name.ts';
import { type Part, TextSink } from './parts.ts';
import { isUserError, sentenceOf, UserError } from '../core/text/user-error.ts';

/** What a deck is made from besides its grid. */
export interface DeckSource {
	model: Pick<Model, 'parameters' | 'title' | 'frame'>;
	mesh: Mesh;
}

/** What a template may take. */
interface Bounds {
	/** Characters of all files. */
	written: number;
	/** Tags, outputs and stretches of text that are gone through. */
	steps: number;
	/** Length of one text or list that it makes on the way, and of all of them. */
	value: number;
	values: number;
}

/** A template may take more for a larger mesh: a small one is no reason to write for minutes. */
function boundsFor({ coordinates, sections }: DeliveryGrid): Bounds {
	const size = sections.reduce((sum, { nodes, shape }) => sum + nodes.length / nodesOfShape[shape], coordinates[0]!.length);
	return {
		written: Math.min(2e9, 2.5e8 + 2000 * size),
		steps: 5e6 + 200 * size,
		value: 2e7,
		values: Math.min(4e9, 4e8 + 400 * size)
	};
}

/** What went wrong with a template, with its line. */
export class DeckError extends UserError {
	constructor(
		message: string,
		readonly line?: number
	) {
		super(message);
	}
}

/** Numbers as text, by the filters of a template. */
const filters: Record<string, (value: unknown, ...more: unknown[]) => string> = {
	/** `| fixed: 4`: so many digits after the point. */
	fixed: (value, digits = 6) => numberOf(value).toFixed(within(digits, 0, 17)),
	/** `| exponent: 7`: scientific, so many digits after the point, two digits of exponent at least. */
	exponent: (value, digits = 7) =>
		numberOf(value)
			.toExponential(within(digits, 0, 17))
			.replace(/e([+-])(\d)$/, 'E$10$2')
			.replace('e', 'E'),
	/** `| width: 16`: right-aligned in so many characters; `| width: -16` left-aligned. */
	width: (value, columns = 10) => {
		const text = textOf(value);
		const count = within(columns, -1000, 1000);
		return count < 0 ? text.padEnd(-count) : text.padStart(count);
	},
	/** `| shortest`: the shortest text that reads back exactly. */
	shortest: (value) => String(numberOf(value))
};

const textOf = (value: unknown): string =>
	typeof value === 'string' ? value : typeof value === 'number' || typeof value === 'boolean' ? String(value) : '';

/** What a template writes of a value: of a list its items one after another, as the language has it. */
function writtenText(value: unknown): string {
	if (Array.isArray(value)) return value.map(writtenText).join('');
	if (typeof value === 'object' && value !== null)
		throw new UserError('a whole list or record is written here; say what of it, like “n.id”, or go through it with “each”');
	return textOf(value);
}

function numberOf(value: unknown): number {
	const number = typeof value === 'number' ? value : typeof value === 'string' && value.trim() !== '' ? Number(value) : NaN;
	if (Number.isNaN(number))
		throw new UserError(`a number is wanted here, found ${textOf(value) === '' ? 'nothing' : `“${textOf(value)}”`}`);
	return number;
}

function within(value: unknown, low: number, high: number): number {
	const number = numberOf(value);
	if (!(Number.isInteger(number) && number >= low && number <= high))
		throw new UserError(`a whole number from ${low} to ${high} is wanted here, found ${number}`);
	return number;
}

/** `{% file "nodes.dat" %}`: what follows goes into a file of that name. */
class FileTag extends Tag {
	private readonly fileName: string;

	constructor(token: TagToken, remaining: TopLevelToken[], liquid: Liquid) {
		super(token, remaining, liquid);
		const name = /^\s*"([^"/\\]+)"\s*$/.exec(token.args)?.[1];
		if (name === undefined || name.startsWith('.'))
			throw new UserError('a file is named in quotes and without a folder, like {% file "nodes.dat" %}');
		checkPartName(name);
		this.fileName = name;
	}

	override render(_context: Context, emitter: Emitter): void {
		// Only the tag begins a file; whatever a text holds, it stays a text.
		if (!(emitter instanceof DeckSink))
			throw new UserError('a file begins where its text is written, and not within a tag that keeps it, like capture');
		emitter.begin(this.fileName);
	}
}

/** A list of things that are made one by one, so that a million of them never stand in the memory together. */
class Rows<T> {
	/** What a template may ask of a list; all else of it is out of its reach. */
	readonly size: number;
	declare readonly first: T | undefined;
	declare readonly last: T | undefined;
	readonly #row: (k: number) => T;

	constructor(count: number, row: (k: number) => T) {
		this.size = count;
		this.#row = row;
		for (const [name, k] of [
			['first', 0],
			['last', count - 1]
		] as const)
			Object.defineProperty(this, name, { get: () => (count > 0 ? row(k) : undefined), enumerable: true });
	}

	*[Symbol.iterator](): Iterator<T> {
		for (let k = 0; k < this.size; k++) yield this.#row(k);
	}
}

/** `{% each n in nodes %} … {% endeach %}`: like `for`, row by row and without a copy of the list, for lists of millions. */
class EachTag extends Tag {
	private readonly variable: string;
	private readonly collection: string;
	private readonly body: Template[] = [];

	constructor(token: TagToken, remaining: TopLevelToken[], liquid: Liquid) {
		super(token, remaining, liquid);
		const match = /^\s*([A-Za-z_]\w*)\s+in\s+([\w.]+)\s*$/.exec(token.args);
		if (!match) throw new UserError('rows are walked like {% each n in nodes %} … {% endeach %}');
		[this.variable, this.collection] = [match[1]!, match[2]!];
		const stream = liquid.parser.parseStream(remaining);
		stream
			.on('tag:endeach', () => stream.stop())
			.on('template', (template: Template) => this.body.push(template))
			.on('end', () => {
				throw new UserError(`{% each %} has no {% endeach %}`);
			});
		stream.start();
	}

	override *render(context: Context, emitter: Emitter): Generator<unknown, void, unknown> {
		const list = (yield context._get(this.collection.split('.'))) as Iterable<unknown> | undefined;
		const quick = this.body.map((template) => quickly(template, [this.variable, 'index']));
		if (list === undefined || list === null || typeof list[Symbol.iterator] !== 'function')
			throw new UserError(`there is no list “${this.collection}”`);
		let index = 0;
		// Rows of plain numbers and text need no engine.
		if (quick.every((write) => write !== undefined)) {
			for (const row of list) {
				index++;
				context.renderLimit.check(0);
				const values = [row, index];
				for (const write of quick) emitter.write(write(values));
			}
			return;
		}
		const scope: Record<string, unknown> = {};
		context.push(scope);
		for (const row of list) {
			scope[this.variable] = row;
			scope.index = ++index;
			yield this.liquid.renderer.renderTemplates(this.body, context, emitter);
		}
		context.pop();
	}
}

/** Writes a template from the values of some names. */
type CompiledTemplate = (values: readonly unknown[]) => string;

/**
 * What writes a template without the engine: text, a property of a named value through filters of ours, or a loop over one that holds
 * only such; undefined for all else.
 */
function quickly(template: Template, names: readonly string[]): CompiledTemplate | undefined {
	if (template instanceof ForTag) return quickLoop(template, names);
	if (!(template instanceof Output)) {
		if ((template.token as { kind?: unknown }).kind !== TokenKind.HTML) return undefined;
		let text = '';
		toValueSync(template.render(new Context(), { buffer: '', write: (more: unknown) => (text += String(more)) }) as unknown);
		return () => text;
	}
	const { initial, filters: filterTokens } = template.value;
	const look = initial.postfix.length === 1 ? quickLook(initial.postfix[0], names) : undefined;
	const steps = filterTokens.map((filter) => {
		const args = filter.args.map((arg) => (!Array.isArray(arg) && TypeGuards.isNumberToken(arg) ? arg.content : undefined));
		const apply = filters[filter.name];
		return apply && !args.includes(undefined) ? (value: unknown) => apply(value, ...args) : undefined;
	});
	if (!look || steps.includes(undefined)) return undefined;
	return (values) => {
		let value = look(values);
		for (const step of steps) value = step!(value);
		return textOf(value);
	};
}

/** What looks up `n`, `e.nodes`, `e.nodes[0]` among named values, their own properties alone. */
function quickLook(token: unknown, names: readonly string[]): ((values: readonly unknown[]) => unknown) | undefined {
	if (!TypeGuards.isPropertyAccessToken(token) || token.variable) return undefined;
	// The first name is the value, what follows is looked up in it.
	const [root, ...path] = token.props.map((prop) =>
		TypeGuards.isWordToken(prop) ? prop.content : TypeGuards.isNumberToken(prop) ? prop.content : undefined
	);
	const slot = names.lastIndexOf(String(root));
	if (slot < 0 || path.includes(undefined)) return undefined;
	const whole = token.getText();
	return (values) => {
		let value = values[slot];
		for (const key of path) value = propertyOf(value, key!);
		if (value === undefined) throw new UserError(`there is no “${whole}” here`);
		return value;
	};
}

/** An own property; of a list also its size, its first and its last, as the language has them. */
function propertyOf(value: unknown, key: string | number): unknown {
	if (typeof value !== 'object' || value === null) return undefined;
	if (Array.isArray(value)) {
		if (key === 'size') return value.length;
		if (key === 'first') return value[0];
		if (key === 'last') return value.at(-1);
	}
	return Object.hasOwn(value, key) ? (value as Record<string, unknown>)[key] : undefined;
}

function quickLoop(
	{ variable, collection, hash, templates, elseTemplates }: ForTag,
	names: readonly string[]
): CompiledTemplate | undefined {
	const isPlain = Object.keys(hash.hash).length === 0 && (elseTemplates?.length ?? 0) === 0;
	const look = isPlain ? quickLook(collection, names) : undefined;
	const body = templates.map((template) => quickly(template, [...names, variable]));
	if (!look || body.includes(undefined)) return undefined;
	return (values) => {
		const list = look(values);
		if (typeof list !== 'object' || list === null || !(Symbol.iterator in list))
			throw new UserError(`there is no list for “${variable}” here`);
		const extended = [...values, undefined];
		let text = '';
		for (const item of list as Iterable<unknown>) {
			extended[values.length] = item;
			for (const write of body) text += write!(extended);
		}
		return text;
	};
}

/** Counts what a template makes on the way: every text and list is charged with its length before it is made. */
class ValueLimit {
	private used = 0;

	constructor(private readonly bounds: Bounds) {}

	use(length: number): void {
		if (!(length > 0)) return;
		this.used += length;
		if (length > this.bounds.value || this.used > this.bounds.values)
			throw new UserError(
				`it makes longer texts or lists than a deck may: ${this.bounds.value / 1e6} million characters or items in one, ${Math.round(this.bounds.values / 1e6)} million in all`
			);
	}

	check(): void {
		// Only lengths are limited here; see StepLimit.
	}
}

/** Ends a template that takes too many steps: counted and not timed, the same template ends the same way everywhere. */
class StepLimit {
	private steps = 0;

	constructor(private readonly most: number) {}

	check(): void {
		if (++this.steps > this.most)
			throw new UserError(`it takes more than ${Math.round(this.most / 1e6)} million steps, more than this mesh asks for`);
	}

	use(): void {
		// Only steps are limited here; see ValueLimit.
	}
}

/** Gathers what a tag like capture keeps, and counts it. */
class TextBuffer implements Emitter {
	buffer = '';

	constructor(private readonly limit: Pick<ValueLimit, 'use'>) {}

	write(text: unknown): void {
		const more = writtenText(text);
		this.limit.use(more.length);
		this.buffer += more;
	}
}

function engine(): Liquid {
	const liquid = new Liquid({
		strictFilters: true,
		strictVariables: true,
		ownPropertyOnly: true,
		// Nothing of the machine is within reach: there are no files, and none is looked for.
		templates: {},
		parseLimit: 1e7
	});
	const { renderer } = liquid;
	const render = renderer.renderTemplates.bind(renderer);
	renderer.renderTemplates = (templates, context, emitter = new TextBuffer(context.memoryLimit)) =>
		render(templates, context, emitter);
	for (const [name, filter] of Object.entries(filters)) liquid.registerFilter(name, filter);
	// Its clock, and what reads other files, are taken away.
	liquid.registerFilter('date', () => {
		throw new UserError('a deck knows no clock: the same mesh gives the same text');
	});
	for (const name of ['sample', 'shuffle'])
		liquid.registerFilter(name, () => {
			throw new UserError('a deck knows no chance: the same mesh gives the same text');
		});
	for (const tag of ['include', 'render', 'layout', 'block'])
		liquid.registerTag(tag, {
			parse() {
				throw new UserError(`a deck is one template; “${tag}” reads no other`);
			},
			render() {
				// It is refused when it is read.
			}
		});
	liquid.registerTag('file', FileTag);
	liquid.registerTag('each', EachTag);
	return liquid;
}

/**
 * Writes a mesh by a template that its user owns, in the Liquid language: whatever text a solver reads. What follows a
 * `{% file "name" %}` goes into a file of its own; what stands before the first goes into `main`.
 *
 * @param main the name of the file without a name
 * @param most rows of every list that are gone through; all without, for a preview some
 * @throws DeckError with a sentence and the line of the template
 */
export function writeDeck(
	whole: DeliveryGrid,
	options: DeckOptions,
	source: DeckSource,
	template: DeckTemplate,
	main: string,
	most = Infinity
): Part[] {
	const grid = inUnits(whole, options);
	const bounds = boundsFor(grid);
	const liquid = engine();
	try {
		const parsed = liquid.parse(template.text);
		// What is written goes straight on: a deck of a million rows never stands in one string.
		const sink = new DeckSink(main, bounds.written);
		const limits = { memoryLimit: new ValueLimit(bounds), renderLimit: new StepLimit(bounds.steps) };
		const data = dataOf(grid, Number(options.ids), source, most);
		const context = new Context(data, liquid.options, { sync: true }, limits as unknown as ContextLimits);
		toValueSync(liquid.renderer.renderTemplates(parsed, context, sink));
		return sink.parts();
	} catch (error) {
		throw asDeckError(error, template);
	}
}

/** What is wrong with a template before it is given a mesh, with its line; undefined where it can be read. */
export function templateProblem(template: DeckTemplate): string | undefined {
	try {
		engine().parse(template.text);
		return undefined;
	} catch (error) {
		return sentenceOf(asDeckError(error, template), 'the template');
	}
}

/** The limits that the engine takes: its own class is not exported, and has private members. */
type ContextLimits = NonNullable<ConstructorParameters<typeof Context>[3]>;

/** The first lines of what a template makes, file by file; or what is wrong with it, and in which line. */
export type DeckPreview = { parts: { name: string; text: string }[] } | { problem: string; line?: number };

/** Rows of each list that a preview goes through, and lines of each file that it shows. */
const [previewRows, previewLines] = [60, 300];

/** A look at what a template makes; never throws. */
export function previewDeck(grid: DeliveryGrid, source: DeckSource, template: DeckTemplate, main: string): DeckPreview {
	try {
		const parts = writeDeck(grid, { units: 'drawn', plane: 'no', partial: 'no', ids: '1' }, source, template, main, previewRows);
		const decoder = new TextDecoder();
		return {
			parts: parts.map(({ name, bytes }) => {
				const lines = decoder.decode(bytes).split('\n');
				const cut = lines.length > previewLines ? [...lines.slice(0, previewLines), '…'] : lines;
				return { name, text: cut.join('\n') };
			})
		};
	} catch (error) {
		return {
			problem: sentenceOf(error, 'the deck'),
			...(error instanceof DeckError && error.line !== undefined ? { line: error.line } : {})
		};
	}
}

/** Takes what a template writes, and parts it into files. */
class DeckSink implements Emitter {
	/** Nothing is kept for the engine. */
	readonly buffer = '';
	private readonly files = new Map<string, TextSink>();
	private name: string;
	private written = 0;
	/** The line break after the tag of a file is none of its text. */
	private isFresh = false;

	/** @param most characters of all files */
	constructor(
		main: string,
		private readonly most: number
	) {
		this.name = main;
	}

	write(text: unknown): void {
		this.put(writtenText(text));
	}

	/** What follows goes into another file. */
	begin(name: string): void {
		if (this.files.has(name)) throw new UserError(`the file “${name}” is begun twice`);
		this.name = name;
		this.files.set(name, new TextSink());
		this.isFresh = true;
	}

	private put(whole: string): void {
		if (whole === '') return;
		const text = this.isFresh ? whole.replace(/^\r?\n/, '') : whole;
		this.isFresh = false;
		if (text === '') return;
		let sink = this.files.get(this.name);
		// Blank lines before the first file are none.
		if (!sink && text.trim() === '') return;
		if (!sink) this.files.set(this.name, (sink = new TextSink()));
		this.written += text.length;
		if (this.written > this.most)
			throw new UserError(
				`the deck grows beyond ${Math.round(this.most / 1e6)} million characters, more than this mesh asks for`
			);
		sink.add(text);
	}

	parts(): Part[] {
		return [...this.files].map(([name, sink]) => ({ name, bytes: sink.bytes() }));
	}
}

/** All that a template can name. */
function dataOf(grid: DeliveryGrid, first: number, { model, mesh }: DeckSource, most: number): object {
	const { coordinates, sections, patches, points, materials, regions, periodic } = grid;
	const [x, y, z] = coordinates;
	const up = (nodes: Uint32Array) => new Rows(Math.min(most, nodes.length), (k) => nodes[k]! + first);
	const nodes = new Rows(Math.min(most, x.length), (k) => ({ id: k + first, x: x[k]!, y: y[k]!, z: z ? z[k]! : 0 }));
	const starts: number[] = [];
	let count = 0;
	for (const { shape, nodes: list } of sections) {
		starts.push(count);
		count += list.length / nodesOfShape[shape];
	}
	const elementsOf = (chosen: readonly number[]) => {
		const lengths = chosen.map((s) => sections[s]!.nodes.length / nodesOfShape[sections[s]!.shape]);
		const total = lengths.reduce((a, b) => a + b, 0);
		let [at, from] = [0, 0];
		return new Rows(Math.min(most, total), (k) => {
			// Rows are asked for in order; from the start again where they are not.
			if (k < from) [at, from] = [0, 0];
			while (k - from >= lengths[at]!) from += lengths[at++]!;
			const { shape, nodes, region } = sections[chosen[at]!]!;
			const size = nodesOfShape[shape];
			const base = (k - from) * size;
			const list: number[] = [];
			for (let i = 0; i < size; i++) list.push(nodes[base + i]! + first);
			return {
				id: starts[chosen[at]!]! + k - from + first,
				shape,
				region: regions[region]!,
				region_id: region + first,
				nodes: list
			};
		});
	};
	const sets = new Map(grid.nodeSets().map((set) => [set.name, set]));
	const none = new Uint32Array();
	const nodesOfGroup = (name: string) => ({
		nodes: up(sets.get(name)?.all ?? none),
		owned_nodes: up(sets.get(name)?.owned ?? none)
	});
	const groups = [
		...patches.map((patch) => ({
			name: patch.name,
			of: z ? 'sides' : 'edges',
			kind: patch.kind,
			condition: boundaryKinds[patch.kind].cgns,
			count: sideCount(patch),
			sides: sidesOf(patch.sides, first, most),
			...nodesOfGroup(patch.name)
		})),
		...points.map(({ name, kind, nodes }) => ({
			name,
			of: 'points',
			kind,
			condition: boundaryKinds[kind].cgns,
			count: nodes.length,
			sides: new Rows(0, () => undefined),
			...nodesOfGroup(name)
		}))
	];
	const all = sections.map((_, k) => k);
	return {
		title: model.title,
		units: grid.units,
		dimension: coordinates.length,
		axis: model.frame.kind === 'axisymmetric' ? model.frame.axis : '',
		node_count: x.length,
		element_count: count,
		nodes,
		elements: elementsOf(all),
		regions: regions.map((name, r) => {
			const chosen = all.filter((k) => sections[k]!.region === r);
			const material = materials.find((m) => m.regions.includes(r))?.name ?? '';
			return { name, id: r + first, material, elements: elementsOf(chosen) };
		}),
		materials: materials.map(({ name, regions: members }) => ({
			name,
			regions: members.map((r) => regions[r]!),
			elements: elementsOf(all.filter((k) => members.includes(sections[k]!.region)))
		})),
		groups,
		nodes_of: Object.fromEntries(groups.map((g) => [g.name, g.nodes])),
		owned_nodes_of: Object.fromEntries(groups.map((g) => [g.name, g.owned_nodes])),
		parameters: Object.fromEntries(model.parameters.map(({ name, value }) => [name, value])),
		get zones() {
			return zonesOf(mesh, first);
		},
		periodic: periodic.map(({ from, to }) => ({
			pairs: new Rows(Math.min(most, from.length), (k) => ({ node: from[k]! + first, other: to[k]! + first }))
		}))
	};
}

/** Zones of rows: their sizes, the nodes of every row, and what lies along their sides. */
function zonesOf(mesh: Mesh, first: number): object[] {
	const { zones, joins, stretches } = structuredZones(mesh);
	const place = ([i, j]: readonly [number, number]) => ({ i: i + 1, j: j + 1 });
	return zones.map(({ region, ni, nj, nodes }, z) => ({
		id: z + first,
		region: mesh.regions[region]!,
		ni,
		nj,
		rows: new Rows(nj, (j) => Array.from(nodes.subarray(ni * j, ni * (j + 1)), (n) => n + first)),
		faces: stretches
			.filter((s) => s.zone === z)
			.map(({ from, to, group }) => ({ group: mesh.groups[group]?.name ?? '', from: place(from), to: place(to) })),
		joins: joins
			.filter((join) => join.zone === z)
			.map(({ donor, from, to, donorFrom, donorTo, transform }) => ({
				zone: donor + first,
				from: place(from),
				to: place(to),
				donor_from: place(donorFrom),
				donor_to: place(donorTo),
				transform: [...transform]
			}))
	}));
}

function sidesOf(sides: readonly { shape: keyof typeof nodesOfShape; nodes: Uint32Array }[], first: number, most: number) {
	const flat: { shape: string; nodes: Uint32Array; size: number; from: number }[] = [];
	let count = 0;
	for (const { shape, nodes } of sides) {
		flat.push({ shape, nodes, size: nodesOfShape[shape], from: count });
		count += nodes.length / nodesOfShape[shape];
	}
	return new Rows(Math.min(most, count), (k) => {
		const { shape, nodes, size, from } = flat.findLast((part) => part.from <= k)!;
		const base = (k - from) * size;
		return { shape, nodes: Array.from({ length: size }, (_, i) => nodes[base + i]! + first) };
	});
}

/** What the engine says, in our words and with the line of the template. */
function asDeckError(error: unknown, { name }: DeckTemplate): DeckError {
	if (error instanceof DeckError) return error;
	const isOfEngine = LiquidError.is(error);
	const line = isOfEngine ? lineOf(error as { token?: unknown }) : undefined;
	const cause = isOfEngine ? ((error as { originalError?: unknown }).originalError ?? error) : error;
	const isPlain = isUserError(cause) || !(LiquidError.is(cause) || engineErrors.has((cause as Error).name));
	const plain = isPlain
		? sentenceOf(cause, 'the deck')
		: (cause as Error).message
				.replace(/, (?:file:.*, )?line:\d+, col:\d+$/s, '')
				.replace(/^undefined variable: (.*)$/s, 'there is no “$1” here')
				.replace(/^undefined filter: (.*)$/s, 'there is no filter “$1”; numbers have fixed, exponent, width and shortest')
				.replace(/^tag "(.*)" not found$/s, 'there is no tag “$1”')
				.replace(/^parse length limit exceeded$/, 'it is longer than ten million characters');
	return new DeckError(`${name}${line === undefined ? '' : `, line ${line}`}: ${plain}`, line);
}

/** Errors of the engine that say what is wrong with a template, in words that a user can use. */
const engineErrors = new Set(['AssertionError', 'InternalUndefinedVariableError']);

function lineOf({ token }: { token?: unknown }): number | undefined {
	const place = token as { getPosition?: () => [number, number] } | undefined;
	return place?.getPosition?.()[0];
}
