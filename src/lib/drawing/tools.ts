import { formatNumber } from '../../core/recipe/edits.ts';

/** A place to put something: where, what it snapped to, and how the recipe should write it. */
export interface Place {
	x: number;
	y: number;
	snap: Snap;
	/** The point that it is, or an expression like `(10, D/2)`. */
	source: string;
	/** Name of the point that it is. */
	point?: string;
	/** The curve on which it lies, with the share of that curve's length. */
	on?: { curve: string; share: number };
}

export type Snap =
	| 'grid'
	| 'point'
	| 'end'
	| 'crossing'
	| 'middle'
	| 'centre'
	| 'on curve'
	| 'tangent'
	| 'perpendicular'
	| 'aligned'
	| 'typed'
	| 'free';

/** What a tool asks for next. */
export type Ask =
	/** A place; `number` says what may be typed instead of it. */
	| { kind: 'place'; prompt: string; number?: string }
	/** Places until Enter, or a click on the first or last of them. */
	| { kind: 'places'; prompt: string; least: number }
	/** One curve, by a click on it; the place of the click is kept. */
	| { kind: 'curve'; prompt: string }
	/** The corner of two curves, by a click near it. */
	| { kind: 'corner'; prompt: string }
	/** Curves: what is selected, more by clicks; Enter goes on, without any it takes all. */
	| { kind: 'curves'; prompt: string }
	/** A line, an axis, or two places. */
	| { kind: 'mirror'; prompt: string }
	/** A curve, or a place that is a point or an end. */
	| { kind: 'target'; prompt: string }
	| { kind: 'number'; prompt: string; label: string; initial?: string };

export type Answer =
	| { kind: 'place'; place: Place }
	| { kind: 'places'; places: Place[] }
	| { kind: 'curve'; curve: string; x: number; y: number }
	| { kind: 'corner'; first: string; second: string; x: number; y: number }
	| { kind: 'curves'; curves: string[] }
	| { kind: 'mirror'; source: string }
	| { kind: 'number'; source: string; value: number };

export type ToolName =
	| ('select' | 'point' | 'line' | 'arc' | 'spline' | 'circle' | 'ellipse' | 'rectangle' | 'polygon' | 'measure')
	| ('fillet' | 'chamfer' | 'offset' | 'trim' | 'extend' | 'split' | 'cut' | 'join' | 'mirror' | 'move' | 'turn' | 'scale')
	| ('repeat' | 'ring' | 'far' | 'far-circle' | 'far-wake');

export interface Tool {
	name: ToolName;
	title: string;
	key?: string;
	hint: string;
	asks: readonly Ask[];
	/** The stem of the names that it gives. */
	stem?: string;
	/** The statement for the answers given; undefined for answers that make none. */
	make?: (name: string, answers: readonly Answer[]) => string | undefined;
	/** Whether the first place is a point of its own, so that it can be dragged later. */
	namesPlaces?: boolean;
}

const place = (a: Answer | undefined): Place => (a as Extract<Answer, { kind: 'place' }>).place;
const curve = (a: Answer | undefined) => a as Extract<Answer, { kind: 'curve' }>;
const number = (a: Answer | undefined): string => (a as Extract<Answer, { kind: 'number' }>).source;
const list = (a: Answer | undefined): string => (a as Extract<Answer, { kind: 'curves' }>).curves.join(', ');
const round = (value: number) => Number(value.toPrecision(9));
const write = (value: number) => formatNumber(round(value));
const away = (p: Place, q: Place) => Math.hypot(q.x - p.x, q.y - p.y);

/** A length: typed, or the distance to a place. */
const length = (a: Answer | undefined, from: Place): string => (a?.kind === 'number' ? a.source : write(away(from, place(a))));

/** An angle in degrees unless it has a unit of its own or is a formula. */
const degrees = (source: string) => (/^[\d.eE+-]+$/.test(source.trim()) ? `${source.trim()} deg` : source.trim());

/** Every tool, in the order in which they stand. */
export const tools: readonly Tool[] = [
	{ name: 'select', key: 'V', title: 'Select', hint: 'click, Shift-click to add, drag a box; drag a point to move it', asks: [] },
	{
		name: 'point',
		key: 'P',
		title: 'Point',
		hint: 'click, or type its coordinates',
		stem: 'p',
		asks: [{ kind: 'place', prompt: 'where' }],
		make: (name, [a]) => `point ${name} = ${place(a).source}`
	},
	{
		name: 'line',
		key: 'L',
		title: 'Line',
		hint: 'click from point to point, or type; A goes on with an arc; Escape ends',
		stem: 'line',
		namesPlaces: true,
		asks: [
			{ kind: 'place', prompt: 'from' },
			{ kind: 'place', prompt: 'to' }
		],
		make: (name, [a, b]) => `line ${name} = ${place(a).source} to ${place(b).source}`
	},
	{
		name: 'arc',
		key: 'A',
		title: 'Arc',
		hint: 'start, end, then a place on it or a typed radius; L goes on with a line',
		stem: 'arc',
		namesPlaces: true,
		asks: [
			{ kind: 'place', prompt: 'start' },
			{ kind: 'place', prompt: 'end' },
			{ kind: 'place', prompt: 'a place on it, or type its radius', number: 'radius' }
		],
		make: (name, [a, b, c]) => {
			const [p, q] = [place(a), place(b)];
			if (c?.kind === 'number') return `arc ${name} = ${p.source} to ${q.source} radius ${c.source}`;
			return `arc ${name} = ${p.source} to ${q.source} through ${place(c).source}`;
		}
	},
	{
		name: 'spline',
		key: 'S',
		title: 'Spline',
		hint: 'click its points; Enter ends, a click on the first closes it',
		stem: 'spline',
		namesPlaces: true,
		asks: [{ kind: 'places', prompt: 'the next point, Enter to end', least: 2 }],
		make: (name, [a]) => {
			const { places } = a as Extract<Answer, { kind: 'places' }>;
			const [first, last] = [places[0]!, places.at(-1)!];
			const closed = places.length > 3 && first.x === last.x && first.y === last.y;
			const own = closed ? places.slice(0, -1) : places;
			return `spline ${name} = through ${own.map((p) => p.source).join(' to ')}${closed ? ' closed' : ''}`;
		}
	},
	{
		name: 'circle',
		key: 'C',
		title: 'Circle',
		hint: 'click the centre, then the radius, or type',
		stem: 'circle',
		asks: [
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'place', prompt: 'radius', number: 'radius' }
		],
		make: (name, [a, b]) => `circle ${name} = around ${place(a).source} radius ${length(b, place(a))}`
	},
	{
		name: 'ellipse',
		key: 'E',
		title: 'Ellipse',
		hint: 'centre, end of one half-axis, length of the other',
		stem: 'ellipse',
		asks: [
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'place', prompt: 'end of the first half-axis', number: 'first radius' },
			{ kind: 'place', prompt: 'second radius', number: 'second radius' }
		],
		make: (name, [a, b, c]) => {
			const m = place(a);
			const angle = b?.kind === 'number' ? 0 : Math.atan2(place(b).y - m.y, place(b).x - m.x);
			const across = (p: Place) => Math.abs((p.x - m.x) * Math.sin(angle) - (p.y - m.y) * Math.cos(angle));
			const second = c?.kind === 'number' ? c.source : write(across(place(c)));
			const turned = Math.abs(angle) < 1e-12 ? '' : ` turned ${write((angle * 180) / Math.PI)} deg`;
			return `ellipse ${name} = around ${m.source} radii ${length(b, m)}, ${second}${turned}`;
		}
	},
	{
		name: 'rectangle',
		key: 'R',
		title: 'Rectangle',
		hint: 'click two opposite corners, or type',
		stem: 'box',
		asks: [
			{ kind: 'place', prompt: 'corner' },
			{ kind: 'place', prompt: 'opposite corner' }
		],
		make: (name, [a, b]) => `rectangle ${name} = ${place(a).source} to ${place(b).source}`
	},
	{
		name: 'polygon',
		title: 'Polygon',
		hint: 'centre, a corner or the radius, then the number of sides',
		stem: 'polygon',
		asks: [
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'place', prompt: 'a corner, or type the radius', number: 'radius' },
			{ kind: 'number', prompt: 'number of sides', label: 'sides', initial: '6' }
		],
		make: (name, [a, b, c]) => {
			const m = place(a);
			const angle = b?.kind === 'place' ? Math.atan2(place(b).y - m.y, place(b).x - m.x) : 0;
			const turned = Math.abs(angle) < 1e-12 ? '' : ` turned ${write((angle * 180) / Math.PI)} deg`;
			return `polygon ${name} = around ${m.source} sides ${number(c)} radius ${length(b, m)}${turned}`;
		}
	},
	{
		name: 'measure',
		key: 'M',
		title: 'Measure',
		hint: 'click places: distance, angle, length of the way and area inside it',
		asks: [{ kind: 'places', prompt: 'the next place, Escape to end', least: 2 }]
	},
	{
		name: 'fillet',
		key: 'B',
		title: 'Fillet',
		hint: 'click a corner of two curves, type the radius',
		stem: 'fillet',
		asks: [
			{ kind: 'corner', prompt: 'the corner' },
			{ kind: 'number', prompt: 'radius', label: 'radius' }
		],
		make: (name, [a, b]) => corner(name, 'fillet', a, `radius ${number(b)}`)
	},
	{
		name: 'chamfer',
		title: 'Chamfer',
		hint: 'click a corner of two curves, type the length, or two lengths as `2, 3`',
		stem: 'chamfer',
		asks: [
			{ kind: 'corner', prompt: 'the corner' },
			{ kind: 'number', prompt: 'length', label: 'length' }
		],
		make: (name, [a, b]) => corner(name, 'chamfer', a, `lengths ${number(b)}`)
	},
	{
		name: 'offset',
		key: 'O',
		title: 'Offset',
		hint: 'the chain of curves, the distance, then a click on the side',
		stem: 'offset',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'number', prompt: 'distance', label: 'distance' },
			{ kind: 'place', prompt: 'the side' }
		],
		make: (name, [a, b, c]) => {
			const side = c === undefined ? 'left' : (place(c).source as 'left');
			return `offset ${name} = ${list(a)} by ${number(b)} ${side}`;
		}
	},
	{
		name: 'trim',
		title: 'Trim',
		hint: 'click the curve that cuts, then the part to keep',
		asks: [
			{ kind: 'curve', prompt: 'the curve that cuts' },
			{ kind: 'curve', prompt: 'the part to keep' }
		],
		make: (_, [a, b]) => {
			const kept = curve(b);
			return `trim ${kept.curve} to ${curve(a).curve} keep (${write(kept.x)}, ${write(kept.y)})`;
		}
	},
	{
		name: 'extend',
		title: 'Extend',
		hint: 'click the curve to lengthen, then the curve to reach',
		asks: [
			{ kind: 'curve', prompt: 'the curve to lengthen' },
			{ kind: 'curve', prompt: 'the curve to reach' }
		],
		make: (_, [a, b]) => `extend ${curve(a).curve} to ${curve(b).curve}`
	},
	{
		name: 'split',
		title: 'Split',
		hint: 'click a place on a curve; typed after a selection: the number of equal parts',
		asks: [{ kind: 'place', prompt: 'a place on a curve', number: 'equal parts of what is selected' }],
		make: (_, [a]) => {
			const at = a?.kind === 'place' ? place(a).on : undefined;
			return at && `split ${at.curve} at ${write(at.share)}`;
		}
	},
	{
		name: 'cut',
		key: 'X',
		title: 'Cut',
		hint: 'from a point, or a place on a curve, to a point or square to a curve',
		stem: 'cut',
		asks: [
			{ kind: 'place', prompt: 'from a point or a place on a curve' },
			{ kind: 'target', prompt: 'to a point, or a curve' }
		],
		make: (name, [a, b]) => {
			const from = place(a);
			const start =
				from.point === undefined && from.on && from.snap === 'on curve'
					? `${from.on.curve} at ${write(from.on.share)}`
					: from.source;
			return `cut ${name} = ${start} to ${b?.kind === 'curve' ? b.curve : place(b).source}`;
		}
	},
	{
		name: 'join',
		key: 'J',
		title: 'Join',
		hint: 'the curves in their order along the chain, then Enter',
		stem: 'chain',
		asks: [{ kind: 'curves', prompt: 'the curves, then Enter' }],
		make: (name, [a]) => `join ${name} = ${list(a)}`
	},
	{
		name: 'mirror',
		key: 'I',
		title: 'Mirror',
		hint: 'the curves, then a straight line, an axis, or two places',
		stem: 'mirror',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'mirror', prompt: 'a line, an axis, or two places' }
		],
		make: (name, [a, b]) => `mirror ${name} = ${list(a)} across ${(b as Extract<Answer, { kind: 'mirror' }>).source}`
	},
	{
		name: 'move',
		title: 'Move',
		hint: 'the curves, then from where to where',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'place', prompt: 'from' },
			{ kind: 'place', prompt: 'to' }
		],
		make: (_, [a, b, c]) => `move ${list(a)} by ${step(place(b), place(c))}`
	},
	{
		name: 'turn',
		title: 'Turn',
		hint: 'the curves, the centre, the angle in degrees',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'number', prompt: 'angle in degrees', label: 'angle °' }
		],
		make: (_, [a, b, c]) => `turn ${list(a)} by ${degrees(number(c))} around ${place(b).source}`
	},
	{
		name: 'scale',
		title: 'Scale',
		hint: 'the curves, the centre, the factor',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'number', prompt: 'factor', label: 'factor' }
		],
		make: (_, [a, b, c]) => `scale ${list(a)} by ${number(c)} around ${place(b).source}`
	},
	{
		name: 'repeat',
		title: 'Repeat',
		hint: 'the curves, one step from where to where, the count with the original',
		stem: 'row',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'place', prompt: 'from' },
			{ kind: 'place', prompt: 'to' },
			{ kind: 'number', prompt: 'count, with the original', label: 'count', initial: '3' }
		],
		make: (name, [a, b, c, d]) => `repeat ${name} = ${list(a)} by ${step(place(b), place(c))} count ${number(d)}`
	},
	{
		name: 'ring',
		title: 'Ring',
		hint: 'the curves, the centre, the count around it with the original',
		stem: 'ring',
		asks: [
			{ kind: 'curves', prompt: 'the curves, then Enter' },
			{ kind: 'place', prompt: 'centre' },
			{ kind: 'number', prompt: 'count, with the original', label: 'count', initial: '6' }
		],
		make: (name, [a, b, c]) => `repeat ${name} = ${list(a)} around ${place(b).source} count ${number(c)}`
	},
	farTool('far', 'Far box', 'box'),
	farTool('far-circle', 'Far circle', 'circle'),
	farTool('far-wake', 'Far wake', 'wake')
];

/** A far boundary around a body, a number of its lengths away: a box, a circle, or a C that is open to the right. */
function farTool(name: ToolName, title: string, shape: 'box' | 'circle' | 'wake'): Tool {
	return {
		name,
		title,
		hint: 'the body, then how many of its lengths away',
		stem: 'far',
		asks: [
			{ kind: 'curves', prompt: 'the body, then Enter' },
			{ kind: 'number', prompt: 'lengths away', label: 'lengths', initial: '10' }
		],
		make: (own, [a, b]) => `far ${own} = ${shape} around ${list(a)} by ${number(b)}`
	};
}

export const toolNamed = (name: ToolName): Tool => tools.find((t) => t.name === name)!;

/** The tools that draw; the others change what is drawn. */
export const drawingTools = tools.slice(
	0,
	tools.findIndex((t) => t.name === 'fillet')
);
export const changingTools = tools.slice(drawingTools.length);

function corner(name: string, kind: 'fillet' | 'chamfer', a: Answer | undefined, end: string): string {
	const { first, second, x, y } = a as Extract<Answer, { kind: 'corner' }>;
	return `${kind} ${name} = ${first} with ${second} near (${write(x)}, ${write(y)}) ${end}`;
}

function step(from: Place, to: Place): string {
	const plain = from.point === undefined && to.point === undefined;
	return plain
		? `(${write(to.x - from.x)}, ${write(to.y - from.y)})`
		: `(${to.source} - ${from.source})`.replace(/^\((.*)\)$/, '$1');
}
