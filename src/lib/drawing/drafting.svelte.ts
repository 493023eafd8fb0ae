import { formatNumber } from '../../core/recipe/edits.ts';
import { evaluateNumber, ExpressionError } from '../../core/recipe/expressions.ts';
import { addStatements, freeName } from '../../core/recipe/intents.ts';
import { parseExpression, parseRecipe } from '../../core/recipe/parse.ts';
import type { Value, Want } from '../../core/recipe/values.ts';
import type { Desk, ToolName } from '../desk/desk.svelte.ts';

/** A place to put something: where, what it snapped to, and how the recipe should write it. */
export interface Place {
	x: number;
	y: number;
	snap: 'grid' | 'point' | 'junction' | 'typed' | 'free';
	/** The point that it is, or an expression like `(10, D/2)`. */
	source: string;
	/** Name of the point that it is. */
	point?: string;
}

/** What would be drawn if the next place were where the cursor is. */
export interface Preview {
	kind: 'line' | 'rectangle' | 'circle';
	from: { x: number; y: number };
	to: { x: number; y: number };
}

export type CardMode = 'at' | 'step' | 'polar' | 'radius';

/** The drawing of new things: places taken so far, and what they become. */
export class Drafting {
	placed = $state.raw<Place[]>([]);
	cursor = $state.raw<Place | undefined>();
	/** First place of the present chain of lines. */
	private chainStart: Place | undefined;

	constructor(private readonly desk: Desk) {}

	get preview(): Preview | undefined {
		const { tool } = this.desk;
		const [from] = this.placed;
		if (!from || !this.cursor || tool === 'select' || tool === 'point') return undefined;
		return { kind: tool, from, to: this.cursor };
	}

	/** Ways of typing the next place: the first one has nothing to step from. */
	get modes(): CardMode[] {
		if (this.placed.length === 0) return ['at'];
		return this.desk.tool === 'circle' ? ['radius', 'at'] : ['at', 'step', 'polar'];
	}

	/** Leaves the present drawing; answers whether there was one. */
	cancel(): boolean {
		const had = this.placed.length > 0;
		this.placed = [];
		this.chainStart = undefined;
		return had;
	}

	/** Takes the next place. */
	put(place: Place): void {
		const { tool } = this.desk;
		if (tool === 'point') return this.addPoint(place);
		const [from] = this.placed;
		if (!from) {
			this.placed = [place];
			this.chainStart = place;
			return;
		}
		if (from.x === place.x && from.y === place.y) return;
		if (tool === 'line') this.addLine(from, place);
		else if (tool === 'rectangle') this.add('box', (name) => `rectangle ${name} = ${from.source} to ${place.source}`);
		else if (tool === 'circle') this.addCircle(from, formatNumber(round(Math.hypot(place.x - from.x, place.y - from.y))));
	}

	/**
	 * Takes what was typed into the card, as expressions. Answers what is wrong with it, or nothing.
	 */
	type(mode: CardMode, first: string, second: string): string | undefined {
		const [from] = this.placed;
		try {
			if (mode === 'radius') {
				if (!(this.value(first, 'length') > 0)) return 'a radius is above zero';
				this.addCircle(from!, first.trim());
				return undefined;
			}
			const a = this.value(first, 'length');
			const b = this.value(second, mode === 'polar' ? 'any' : 'length');
			if (mode === 'at') this.put({ x: a, y: b, snap: 'typed', source: `(${first.trim()}, ${second.trim()})` });
			else if (mode === 'step') this.put(this.stepped(from!, a, b, `(${first.trim()}, ${second.trim()})`));
			else {
				// A bare angle is typed in degrees.
				const angle = /[a-z]/i.test(second) ? b : (b * Math.PI) / 180;
				const [dx, dy] = [round(a * Math.cos(angle)), round(a * Math.sin(angle))];
				const turn = /[a-z]/i.test(second) ? second.trim() : `${second.trim()} deg`;
				this.put(this.stepped(from!, dx, dy, `((${first.trim()})*cos(${turn}), (${first.trim()})*sin(${turn}))`));
			}
			return undefined;
		} catch (error) {
			return (error as Error).message;
		}
	}

	/** A place relative to another: parametric when that one is a named point or the step is an expression, plain numbers otherwise. */
	private stepped(from: Place, dx: number, dy: number, source: string): Place {
		const [x, y] = [from.x + dx, from.y + dy];
		const plain = !/[a-z]/i.test(source);
		return {
			x,
			y,
			snap: 'typed',
			source:
				from.point === undefined && plain
					? `(${formatNumber(round(x))}, ${formatNumber(round(y))})`
					: `${from.source} + ${source}`
		};
	}

	private value(source: string, want: Want): number {
		const { expression, error } = parseExpression(source);
		if (!expression) throw new Error(source.trim() === '' ? 'a value is missing' : error!.message);
		const { model } = this.desk.result!;
		try {
			return evaluateNumber(
				expression,
				{
					units: model.units,
					lookup: (name): Value => {
						const parameter = model.parameters.find((p) => p.name === name);
						if (parameter) return { kind: 'number', value: parameter.value, dimension: parameter.dimension };
						const point = model.points.find((p) => p.name === name);
						if (point) return { kind: 'point', x: point.x, y: point.y };
						throw new Error(`nothing is named \`${name}\``);
					},
					curveLength: () => {
						throw new Error('type a number or a parameter here');
					}
				},
				want
			);
		} catch (error) {
			throw error instanceof ExpressionError ? new Error(error.message) : error;
		}
	}

	private addPoint(place: Place): void {
		if (place.point !== undefined) {
			this.desk.notice = `There is a point here already: ${place.point}`;
			return;
		}
		const name = freeName(this.desk.recipe, 'p');
		this.desk.edit(addStatements(this.desk.recipe, [`point ${name} = ${place.source}`]), `Draw point ${name}`);
	}

	private add(stem: string, source: (name: string) => string): void {
		const name = freeName(this.desk.recipe, stem);
		const statement = source(name);
		this.cancel();
		this.desk.edit(addStatements(this.desk.recipe, [statement]), `Draw ${statement.split(' ', 1)[0]} ${name}`);
	}

	private addCircle(centre: Place, radius: string): void {
		this.add('circle', (name) => `circle ${name} = around ${centre.source} radius ${radius}`);
	}

	/** A line between two points, which are made where there are none; the chain goes on from its end. */
	private addLine(from: Place, to: Place): void {
		let { recipe } = this.desk;
		const named = (place: Place): string => {
			if (place.point !== undefined) return place.point;
			const name = freeName(recipe, 'p');
			recipe = parseRecipe(addStatements(recipe, [`point ${name} = ${place.source}`]));
			return name;
		};
		const start = named(from);
		const closes = this.chainStart && this.chainStart !== from && to.x === this.chainStart.x && to.y === this.chainStart.y;
		const end = closes ? this.chainStart!.point! : named(to);
		if (from === this.chainStart) this.chainStart = { ...from, point: start, source: start };
		const name = freeName(recipe, 'line');
		this.placed = closes ? [] : [{ ...to, point: end, source: end }];
		this.desk.edit(addStatements(recipe, [`line ${name} = ${start} to ${end}`]), `Draw line ${name}`);
	}
}

const round = (value: number) => Number(value.toPrecision(12));

/** Tools with their keys and words. */
export const tools: readonly { name: ToolName; key: string; title: string; hint: string }[] = [
	{ name: 'select', key: 'V', title: 'Select', hint: 'click, Shift-click to add, drag a box' },
	{ name: 'point', key: 'P', title: 'Point', hint: 'click, or type its coordinates' },
	{ name: 'line', key: 'L', title: 'Line', hint: 'click from point to point, or type; Escape ends' },
	{ name: 'rectangle', key: 'R', title: 'Rectangle', hint: 'click two opposite corners, or type' },
	{ name: 'circle', key: 'C', title: 'Circle', hint: 'click the centre, then the radius, or type' }
];
