import { formatNumber, tidyNumber } from '../../core/recipe/language/literals.ts';
import { scopeOf, tryStatement } from '../../core/recipe/model/evaluate.ts';
import { evaluateNumber, ExpressionError } from '../../core/recipe/model/expressions.ts';
import { takenAlong } from '../../core/recipe/edits/taken-along.ts';
import { applyEdits } from '../../core/text/edit.ts';
import { notify } from '../controls/toaster.ts';
import { addStatements, freeName } from '../../core/recipe/edits/intents.ts';
import { parseExpression, parseRecipe } from '../../core/recipe/language/parse.ts';
import type { ExpectedKind } from '../../core/recipe/model/values.ts';
import { segmentCount, type Curve } from '../../core/geometry/curve.ts';
import { thingKey, type Desk } from '../desk/desk.svelte.ts';
import { measuredBetween, type Measured } from './measured.ts';
import { toolNamed } from './tools/table.ts';
import { wholeCurves } from './whole-curves.ts';
import { namedPlace } from './snap.ts';
import { answerOf, type ToolAnswer, type ToolInput, type Place, type Tool } from './tools/tool.ts';
import { sentenceOf, UserError } from '../../core/text/user-error.ts';

const noCurves: ReadonlyMap<string, readonly number[]> = Object.freeze(new Map());

/** An expression as it is typed: an equals sign before it, as in a table, says nothing. */
export const withoutEquals = (typed: string): string => typed.trim().replace(/^=\s*/, '');

/** The keys that go on from an answer that is requested. */
function keysOf(ask: ToolInput): string {
	switch (ask.kind) {
		case 'curves':
			return ' · click curves, Enter goes on (all, if none is selected), Escape leaves';
		case 'places':
			return ' · Enter or a second click on the last ends it, Escape leaves';
		case 'number':
			return ' · type it, Enter takes it, Escape goes back';
		case 'mirror':
			return ' · click a straight line or one of the axes, or two places; Escape leaves';
		case 'place':
			return ask.number === undefined
				? ' · click, or type x, y; Escape leaves'
				: ` · click, or type the ${ask.number}; Escape leaves`;
		default:
			return ' · click it, Escape leaves';
	}
}

/** A way of typing into the card. */
export type CardMode = 'at' | 'step' | 'polar' | 'number';

/** The work of the present tool: the answers given so far, and what they will become. */
export class Drafting {
	answers = $state.raw<ToolAnswer[]>([]);
	/** Places of an answer that takes several, so far. */
	places = $state.raw<Place[]>([]);
	cursor = $state.raw<Place | undefined>();
	/** What is typed into the card for a number, so that what comes of it is seen at once. */
	typed = $state('');
	/** The curve under the pointer, by name. */
	under = $state.raw<string | undefined>();
	/** First place of the present chain of lines and arcs. */
	private chainStart: Place | undefined;
	/** The first of the two places of a mirror line. */
	private mirrorFrom = $state.raw<Place | undefined>();

	constructor(private readonly desk: Desk) {}

	get tool(): Tool {
		return toolNamed(this.desk.tool);
	}

	get ask(): ToolInput | undefined {
		return this.tool.asks[this.answers.length];
	}

	/** What stands under the tools: the tool's hint at first, then what it asks for. */
	get prompt(): string {
		const { tool, ask } = this;
		if (!ask) return `${tool.title}: ${tool.hint}`;
		if (this.answers.length === 0 && this.places.length === 0) {
			const chosen = ask.kind === 'curves' ? this.selectedCurves().length : 0;
			return `${tool.title}: ${tool.hint}${chosen > 0 ? ` · ${chosen} selected` : ''}${keysOf(ask)}`;
		}
		return `${tool.title}: ${ask.prompt}${this.mirrorFrom ? ' (second place)' : ''}${keysOf(ask)}`;
	}

	/** The place before the present one: steps are typed from it, and things align with it. */
	get from(): Place | undefined {
		if (this.mirrorFrom) return this.mirrorFrom;
		const last = this.places.at(-1);
		if (last) return last;
		const answer = this.answers.at(-1);
		return answer?.kind === 'place' ? answer.place : undefined;
	}

	/** Places given so far, to be marked in the drawing. */
	get marks(): Place[] {
		return [
			...this.answers.flatMap((a) => (a.kind === 'place' ? [a.place] : a.kind === 'places' ? a.places : [])),
			...this.places,
			...(this.mirrorFrom ? [this.mirrorFrom] : [])
		];
	}

	/** Whether the next answer is a place, a curve, or something typed. */
	get wants(): 'place' | 'curve' | 'either' | 'curves' | 'corner' | 'number' | 'nothing' {
		const { ask } = this;
		if (!ask) return 'nothing';
		switch (ask.kind) {
			case 'places':
				return 'place';
			case 'target':
			case 'mirror':
				return 'either';
			default:
				return ask.kind;
		}
	}

	/** The curves that would come of the answers with the cursor as the next one, and what is wrong with them. */
	preview: { curves: Curve[]; problem?: string } = $derived.by(() => this.look());

	/** What the measuring tool has found, the cursor as its last place. */
	measured: Measured | undefined = $derived.by(() => {
		if (!this.tool.measures || this.places.length === 0) return undefined;
		return measuredBetween(this.cursor ? [...this.places, this.cursor] : this.places);
	});

	private look(): { curves: Curve[]; problem?: string } {
		const { tool, ask } = this;
		const { newest } = this.desk;
		if (!newest || !ask || !tool.make) return { curves: [] };
		const next = this.provisional(ask);
		if (!next || this.answers.length + 1 < tool.asks.length) {
			// While there is more to come, a line to the cursor says enough.
			const at = this.from;
			if (!at || !this.cursor || ask.kind !== 'place') return { curves: [] };
			const done = tryStatement(newest, `line preview_ = (${at.x}, ${at.y}) to (${this.cursor.x}, ${this.cursor.y})`);
			return 'curves' in done ? done : { curves: [] };
		}
		const source = this.statement('preview_', [...this.answers, next]);
		if (!source) return { curves: [] };
		const done = tryStatement(newest, source);
		return 'curves' in done ? done : { curves: [], problem: done.error };
	}

	/** The answer that the cursor would give. */
	private provisional(ask: ToolInput): ToolAnswer | undefined {
		const { cursor, under } = this;
		switch (ask.kind) {
			case 'place':
				return cursor && { kind: 'place', place: cursor };
			case 'places':
				return cursor && this.places.length > 0 ? { kind: 'places', places: [...this.places, cursor] } : undefined;
			case 'curve':
				return under && cursor ? { kind: 'curve', curve: under, x: cursor.x, y: cursor.y } : undefined;
			case 'target':
				return this.target(cursor, under);
			case 'mirror':
				return this.mirrorAnswer(cursor, under);
			case 'number':
				return this.typedNumber();
			default:
				return undefined;
		}
	}

	/** The statement of the present tool for all its answers. */
	private statement(name: string, answers: readonly ToolAnswer[]): string | undefined {
		const { newest } = this.desk;
		return this.tool.make?.(name, answers, {
			cursor: this.cursor,
			selected: this.selectedCurves(),
			curves: newest?.curves ?? [],
			part: this.desk.partToPlace,
			tryOut: (source) => {
				const tried = newest && tryStatement(newest, source);
				return tried && 'curves' in tried ? tried.curves : undefined;
			}
		});
	}

	/** The number that stands in the card, as far as it is one. */
	private typedNumber(): ToolAnswer | undefined {
		const source = this.typed.trim();
		try {
			return source === '' ? undefined : { kind: 'number', source, value: this.value(source.split(',', 1)[0]!, 'any') };
		} catch {
			// Half typed: what comes of it is seen when it is a number.
			return undefined;
		}
	}

	private target(cursor: Place | undefined, under: string | undefined): ToolAnswer | undefined {
		if (cursor && ['point', 'end', 'crossing', 'middle', 'centre', 'typed'].includes(cursor.snap))
			return { kind: 'place', place: cursor };
		if (under && cursor) return { kind: 'curve', curve: under, x: cursor.x, y: cursor.y };
		return cursor && { kind: 'place', place: cursor };
	}

	private mirrorAnswer(cursor: Place | undefined, under: string | undefined): ToolAnswer | undefined {
		if (this.mirrorFrom) {
			if (!cursor || (cursor.x === this.mirrorFrom.x && cursor.y === this.mirrorFrom.y)) return undefined;
			return { kind: 'mirror', source: `${this.mirrorFrom.source} to ${cursor.source}` };
		}
		const model = this.desk.newest!;
		const line = under ? model.curvesByName.get(under) : undefined;
		const curve = line?.length === 1 ? model.curves[line[0]!] : undefined;
		if (under && curve && segmentCount(curve) === 1 && curve.kinds[0] === 0) return { kind: 'mirror', source: under };
		if (cursor && cursor.y === 0 && cursor.x !== 0) return { kind: 'mirror', source: 'x' };
		if (cursor && cursor.x === 0 && cursor.y !== 0) return { kind: 'mirror', source: 'y' };
		return undefined;
	}

	/** Ways of typing the next answer: the first place has nothing to step from. */
	get modes(): CardMode[] {
		const { ask } = this;
		if (ask?.kind === 'number') return ['number'];
		if (ask?.kind === 'place' && ask.number !== undefined && (this.from || this.tool.takesSelection)) return ['number', 'at'];
		return this.from ? ['at', 'step', 'polar'] : ['at'];
	}

	/** The words beside the number that is requested. */
	get numberLabel(): string {
		const { ask } = this;
		return ask?.kind === 'number' ? ask.label : ask?.kind === 'place' ? (ask.number ?? '') : '';
	}

	get canType(): boolean {
		return this.desk.result !== undefined && ['place', 'places', 'number', 'target', 'mirror'].includes(this.ask?.kind ?? '');
	}

	/** Starts the present tool anew; a chain of lines and arcs goes on when its tool changes to the other. */
	begin(): void {
		const chain = this.tool.chains ? this.lastOfChain : undefined;
		this.clear();
		if (chain) this.answers = [{ kind: 'place', place: chain.last }];
		this.chainStart = chain?.start;
		if (this.ask?.kind === 'curves' && this.selectedCurves().length > 0) this.enter();
	}

	private lastOfChain: { start: Place; last: Place } | undefined;

	private clear(): void {
		this.answers = [];
		this.places = [];
		this.mirrorFrom = undefined;
		this.chainStart = undefined;
		this.lastOfChain = undefined;
	}

	/** Leaves the present drawing; returns whether there was one. */
	cancel(): boolean {
		const had = this.answers.length > 0 || this.places.length > 0 || this.mirrorFrom !== undefined;
		this.clear();
		return had;
	}

	/** The curves whose pieces are selected, as names. */
	selectedCurves(): string[] {
		const names = this.desk.selected('piece').map((p) => p.replace(/\[\d+\]$/, ''));
		return wholeCurves(names, this.desk.newest?.curvesByName ?? noCurves);
	}

	/** Enter: goes on from an answer that takes several things. */
	enter(): boolean {
		const { ask } = this;
		if (ask?.kind === 'curves') {
			const selected = this.selectedCurves();
			const all = [...(this.desk.result?.model.curvesByName.keys() ?? [])].filter((n) => !n.includes('.'));
			const curves = selected.length > 0 ? selected : all;
			if (curves.length === 0) return false;
			this.desk.selection.clear();
			this.answer({ kind: 'curves', curves });
			return true;
		}
		if (ask?.kind === 'places' && this.places.length >= ask.least && this.tool.make) {
			this.answer({ kind: 'places', places: this.places });
			return true;
		}
		return false;
	}

	/** Takes a click: on a place, or on the curve under it, as the tool wants. */
	click(place: Place, under: string | undefined): void {
		const { ask } = this;
		switch (ask?.kind) {
			case 'place':
				return this.put(place);
			case 'places':
				return this.putNext(place);
			case 'curve':
				if (under) this.answer({ kind: 'curve', curve: under, x: place.x, y: place.y });
				else this.desk.notice = 'there is no curve here';
				return;
			case 'corner':
				return this.pickCorner(place);
			case 'target':
				this.answer(this.target(place, under)!);
				return;
			case 'mirror': {
				const answer = this.mirrorAnswer(place, under);
				if (answer) this.answer(answer);
				else this.mirrorFrom = place;
				return;
			}
		}
	}

	/** Takes the next place. */
	put(place: Place): void {
		const { from, ask } = this;
		if (ask?.kind === 'mirror') return this.click(place, undefined);
		if (ask?.kind === 'target') return this.click(place, undefined);
		if (ask?.kind === 'places') return this.putNext(place);
		if (from && from.x === place.x && from.y === place.y && !this.tool.staysPut) return;
		const refusal = this.tool.refuses?.(place);
		if (refusal !== undefined) {
			this.desk.notice = refusal;
			return;
		}
		if (this.answers.length === 0) this.chainStart = place;
		this.answer({ kind: 'place', place });
	}

	private putNext(place: Place): void {
		const first = this.places[0];
		const last = this.places.at(-1);
		const at = (p: Place | undefined) => p !== undefined && p.x === place.x && p.y === place.y;
		if (at(last)) {
			this.enter();
			return;
		}
		this.places = [...this.places, place];
		if (at(first) && this.places.length > 3 && this.tool.make) this.enter();
	}

	private pickCorner(place: Place): void {
		const { arrangement, model } = this.desk.result!;
		const { x, y, pieces, byCurve } = arrangement;
		let best = -1;
		for (let j = 0; j < x.length; j++)
			if (best < 0 || Math.hypot(x[j]! - place.x, y[j]! - place.y) < Math.hypot(x[best]! - place.x, y[best]! - place.y)) best = j;
		const meets = ({ piece }: { piece: number }) => pieces[piece]!.start === best || pieces[piece]!.end === best;
		const names = byCurve.flatMap((list, c) => (list.some(meets) ? [model.curves[c]!.name] : []));
		if (names.length === 2) this.answer({ kind: 'corner', first: names[0]!, second: names[1]!, x: x[best]!, y: y[best]! });
		else
			this.desk.notice =
				names.length < 2
					? 'a corner is where two curves meet'
					: `${names.length} curves meet here (${names.join(', ')}); write which two in the recipe`;
	}

	/** Takes an answer; the last one makes the statement. */
	private answer(answer: ToolAnswer): void {
		this.answers = [...this.answers, answer];
		this.places = [];
		this.mirrorFrom = undefined;
		if (this.answers.length < this.tool.asks.length) return;
		const problem = this.finish();
		if (problem === undefined) return;
		this.answers = this.answers.slice(0, -1);
		this.desk.notice = problem;
	}

	/** Writes the statement of the answers; answers what is wrong with it. */
	private finish(): string | undefined {
		const { tool, desk } = this;
		let { recipe } = desk;
		let { answers } = this;
		const check = desk.newest && this.statement('preview_', answers);
		if (check) {
			const tried = tryStatement(desk.newest!, check);
			if ('error' in tried) return tried.error;
		}
		if (tool.namesPlaces) {
			const placed: Place[] = [];
			const named = (place: Place): Place => {
				const known = namedPlace(place, desk.newest?.points ?? []);
				if (known.point !== undefined) return known;
				const before = placed.find((p) => p.x === place.x && p.y === place.y) ?? this.pointAtPlace(place);
				if (before) return before;
				const point = freeName(recipe, 'p');
				recipe = parseRecipe(addStatements(recipe, [`point ${point} = ${place.source}`]));
				const made = { ...place, point, source: point };
				placed.push(made);
				return made;
			};
			answers = answers.map((a, k) =>
				!tool.namesPlaces!.includes(k)
					? a
					: a.kind === 'place'
						? { ...a, place: named(a.place) }
						: a.kind === 'places'
							? { ...a, places: a.places.map(named) }
							: a
			);
		}
		const name = tool.stem ? freeName(recipe, tool.stem) : '';
		const source = this.statement(name, answers);
		if (!source) return tool.name === 'place' ? 'there is no part to place yet: make one with “New part”' : 'this makes nothing';
		const start = this.chainStart;
		this.clear();
		const along = tool.movesCurves && desk.takesAlong && desk.result ? takenAlong(desk.result, recipe, source) : undefined;
		if (along) recipe = parseRecipe(applyEdits(recipe.text, along.edits));
		desk.edit(addStatements(recipe, [source, ...(along?.statements ?? [])]), `${tool.title}${name ? ` ${name}` : ''}`);
		if (along && along.notes.length > 0)
			notify(`${along.notes.filter((note, k) => along.notes.indexOf(note) === k).join('; ')}.`);
		this.goOn(tool, name, answers, start);
		return undefined;
	}

	/** Ends the tool with what it made selected. */
	private endWith(name: string): void {
		this.desk.tool = 'select';
		this.desk.select([thingKey('piece', name)], false);
	}

	/** A line goes on from its end until the chain closes, an arc when the next tool is taken for it. */
	private goOn(tool: Tool, name: string, answers: readonly ToolAnswer[], start: Place | undefined): void {
		if (tool.closes?.(answers)) return this.endWith(name);
		if (!tool.chains) return;
		const [first, end] = [answerOf('place', answers[0]).place, answerOf('place', answers[1]).place];
		const origin = !start || (start.x === first.x && start.y === first.y) ? first : start;
		if (end.x === origin.x && end.y === origin.y) {
			// The outline is closed: what comes next is another, if anything.
			this.desk.tool = 'select';
			return;
		}
		this.lastOfChain = { start: origin, last: end };
		if (tool.chains === 'when asked') return;
		this.chainStart = origin;
		this.answers = [{ kind: 'place', place: end }];
	}

	/** The chain's own first point, when a place is there. */
	private pointAtPlace(place: Place): Place | undefined {
		const start = this.chainStart;
		return start?.point !== undefined && start.x === place.x && start.y === place.y ? start : undefined;
	}

	/**
	 * Takes what was typed into the card, as expressions. Answers what is wrong with it, or nothing.
	 */
	type(mode: CardMode, typedFirst: string, typedSecond: string): string | undefined {
		const { from } = this;
		const [first, second] = [withoutEquals(typedFirst), withoutEquals(typedSecond)];
		try {
			if (mode === 'number') return this.typeNumber(first.trim());
			const a = this.value(first, 'length');
			const b = this.value(second, mode === 'polar' ? 'any' : 'length');
			const put = (place: Place) => this.put(namedPlace(place, this.desk.newest!.points));
			if (mode === 'at') put({ x: a, y: b, snap: 'typed', source: `(${first.trim()}, ${second.trim()})` });
			else if (mode === 'step') put(this.stepped(from!, a, b, `(${first.trim()}, ${second.trim()})`));
			else {
				// A bare angle is typed in degrees.
				const angle = /[a-z]/i.test(second) ? b : (b * Math.PI) / 180;
				const [dx, dy] = [tidyNumber(a * Math.cos(angle), a), tidyNumber(a * Math.sin(angle), a)];
				const turn = /[a-z]/i.test(second) ? second.trim() : `${second.trim()} deg`;
				put(this.stepped(from!, dx, dy, `((${first.trim()})*cos(${turn}), (${first.trim()})*sin(${turn}))`));
			}
			return undefined;
		} catch (error) {
			return sentenceOf(error, 'this step');
		}
	}

	private typeNumber(source: string): string | undefined {
		const values = source.split(',').map((part) => this.value(part, 'any'));
		const label = this.numberLabel;
		if (!label.startsWith('angle') && values.some((v) => !(v > 0))) return `the ${label} is above zero`;
		const before = this.answers.length;
		this.desk.notice = '';
		this.answer({ kind: 'number', source, value: values[0]! });
		// A refused answer leaves its reason; the card shows it instead of the drawing.
		if (this.answers.length === before && this.desk.notice !== '' && before > 0) {
			const reason = this.desk.notice;
			this.desk.notice = '';
			return reason;
		}
		return undefined;
	}

	/** A place relative to another: parametric when that one is a named point or the step is an expression, plain numbers otherwise. */
	private stepped(from: Place, dx: number, dy: number, source: string): Place {
		const size = Math.max(Math.abs(from.x), Math.abs(from.y), Math.abs(dx), Math.abs(dy));
		const [x, y] = [tidyNumber(from.x + dx, size), tidyNumber(from.y + dy, size)];
		const plain = !/[a-z]/i.test(source);
		return {
			x,
			y,
			snap: 'typed',
			source: from.point === undefined && plain ? `(${formatNumber(x)}, ${formatNumber(y)})` : `${from.source} + ${source}`
		};
	}

	private value(source: string, want: ExpectedKind): number {
		const { expression, error } = parseExpression(source);
		if (!expression) throw new UserError(source.trim() === '' ? 'a value is missing' : error!.message);
		try {
			return evaluateNumber(expression, scopeOf(this.desk.newest!), want);
		} catch (e) {
			throw e instanceof ExpressionError ? new UserError(e.message) : e;
		}
	}
}
