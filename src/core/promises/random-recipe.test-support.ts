import { cos, sin } from '../numeric/elementary.ts';

/** A random whole number below n, and the like, from one seed: the same seed, the same numbers (mulberry32). */
export class Dice {
	constructor(private state: number) {}

	/** Between 0 and 1. */
	next(): number {
		this.state = (this.state + 0x6d2b79f5) | 0;
		let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
	}

	whole(from: number, to: number): number {
		return from + Math.floor(this.next() * (to - from + 1));
	}

	/** A number of three digits, evenly by its logarithm. */
	number(from: number, to: number): number {
		return Number((from * (to / from) ** this.next()).toPrecision(3));
	}

	one<T>(list: readonly T[]): T {
		return list[this.whole(0, list.length - 1)]!;
	}

	is(share: number): boolean {
		return this.next() < share;
	}
}

interface Shape {
	lines: string[];
	/** Pieces that may be divided, each with a curve or point at one of its ends. */
	sides: { name: string; at: string; facing?: string }[];
	/** Regions that are filled. */
	regions: string[];
	/** A box inside. */
	box: [number, number, number, number];
	length: number;
	isPeriodic?: [string, string];
	line?: string;
	isRing?: boolean;
}

const rectangle = (name: string, x: number, y: number, w: number, h: number) =>
	`rectangle ${name} = (${x}, ${y}) to (${x + w}, ${y + h})`;

const sidesOf = (name: string) => [
	{ name: `${name}.bottom`, at: `${name}.left`, facing: `${name}.top` },
	{ name: `${name}.right`, at: `${name}.bottom`, facing: `${name}.left` },
	{ name: `${name}.top`, at: `${name}.right`, facing: `${name}.bottom` },
	{ name: `${name}.left`, at: `${name}.top`, facing: `${name}.right` }
];

function shapeOf(dice: Dice): Shape {
	const [w, h] = [dice.whole(20, 60), dice.whole(10, 40)];
	const box: Shape['box'] = [0.2 * w, 0.2 * h, 0.8 * w, 0.8 * h];
	switch (dice.whole(0, 6)) {
		case 0:
		case 1:
			return {
				lines: [rectangle('b', 0, 0, w, h), 'region r bounded by b'],
				sides: sidesOf('b'),
				regions: ['r'],
				box,
				length: w,
				isPeriodic: ['b.left', 'b.right']
			};
		case 2: {
			const n = dice.whole(3, 6);
			const corners = Array.from({ length: n }, (_, k) => {
				const angle = (2 * Math.PI * (k + 0.3 * (dice.next() - 0.5))) / n;
				return `(${Number((w + 0.5 * w * cos(angle)).toFixed(2))}, ${Number((w + 0.5 * w * sin(angle)).toFixed(2))})`;
			});
			return {
				lines: [
					...corners.map((c, k) => `point p${k} = ${c}`),
					...corners.map((_, k) => `line s${k} = p${k} to p${(k + 1) % n}`),
					`region r bounded by ${corners.map((_, k) => `s${k}`).join(', ')}`
				],
				sides: corners.map((_, k) => ({ name: `s${k}`, at: `p${k}` })),
				regions: ['r'],
				box: [0.85 * w, 0.85 * w, 1.15 * w, 1.15 * w],
				length: w / 2
			};
		}
		case 3: {
			const r = dice.number(0.15, 0.45) * w;
			const off = dice.is(0.3) ? 0.1 * w : 0;
			return {
				lines: [
					`circle c = around (${Number(off.toFixed(2))}, 0) radius ${Number(r.toFixed(2))}`,
					`circle o = around (0, 0) radius ${w}`,
					'region r bounded by o, c',
					'region h bounded by c',
					'fill h none'
				],
				sides: [
					{ name: 'c', at: 'both' },
					{ name: 'o', at: 'both' }
				],
				regions: ['r'],
				box: [0.6 * w, -0.2 * w, 0.9 * w, 0.2 * w],
				length: w,
				isRing: true
			};
		}
		case 4:
			return {
				lines: [rectangle('b', 0, 0, w, h), rectangle('d', w, 0, w, h), 'region r bounded by b', 'region s bounded by d'],
				sides: [...sidesOf('b'), ...sidesOf('d').filter(({ name }) => name !== 'd.left')],
				regions: ['r', 's'],
				box,
				length: w
			};
		case 5:
			return {
				lines: [
					rectangle('b', 0, 0, w, h),
					`circle c = around (${w / 2}, ${h / 2}) radius ${Number((0.2 * h).toFixed(2))}`,
					'region r bounded by b',
					'region h bounded by c',
					'fill h none'
				],
				sides: [...sidesOf('b'), { name: 'c', at: 'both' }],
				regions: ['r'],
				box: [0.1 * w, 0.1 * h, 0.9 * w, 0.25 * h],
				length: w,
				isPeriodic: ['b.left', 'b.right']
			};
		default:
			return {
				lines: [
					rectangle('b', 0, 0, w, h),
					`line v = (${Number((0.3 * w).toFixed(2))}, ${h / 2}) to (${Number((0.7 * w).toFixed(2))}, ${Number((0.55 * h).toFixed(2))})`,
					'region r bounded by b'
				],
				sides: [...sidesOf('b'), { name: 'v', at: 'both' }],
				regions: ['r'],
				box,
				length: w,
				line: 'v'
			};
	}
}

function divisionOf(dice: Dice, { name, at, facing }: Shape['sides'][number], length: number): string {
	const end = dice.is(0.2) || at === 'both' ? dice.one(['both', 'middle']) : at;
	const cell = () => dice.number(length / 200, length / 8);
	const growth = () => dice.number(1.02, 1.5);
	switch (dice.whole(0, 11)) {
		case 0:
			return `divide ${name} into ${dice.whole(2, 40)}`;
		case 1:
			return `divide ${name} by size ${dice.number(length / 40, length / 3)}`;
		case 2:
			return `divide ${name} into ${dice.whole(4, 40)} bias ${dice.number(1.5, 30)} toward ${end}`;
		case 3:
			return `divide ${name} into ${dice.whole(4, 40)} growth ${growth()} toward ${end}`;
		case 4:
			return `divide ${name} into ${dice.whole(8, 40)} first ${dice.number(length / 100, length / 45)} at ${end}`;
		case 5:
			return `divide ${name} first ${cell()} growth ${growth()} at ${end}`;
		case 6:
			return `divide ${name} first ${dice.number(length / 200, length / 40)} last ${dice.number(length / 30, length / 8)} at ${end === 'middle' ? 'both' : end}`;
		case 7:
			return `divide ${name} last ${dice.number(length / 30, length / 6)} growth ${growth()} at ${end}`;
		case 8:
			return `divide ${name} first ${dice.number(length / 200, length / 40)} growth ${growth()} largest ${dice.number(length / 30, length / 8)} at ${end === 'middle' ? 'both' : end}`;
		case 9:
			return at === 'both' ? `divide ${name} into 24` : `divide ${name} positions 0.1, 0.3, 0.7 from ${at}`;
		case 10:
			return facing ? `divide ${name} like ${facing}` : `divide ${name} by turn ${dice.whole(12, 60)}`;
		default:
			return `divide ${name} first ${cell()} bias ${dice.number(1.5, 10)} at ${end}`;
	}
}

/** A random recipe of mixed kinds; with `isPlain` it says one thing besides size and fill, so that nothing stands against it. */
export function randomRecipe(seed: number, isPlain = false): string {
	const dice = new Dice(seed);
	const shape = shapeOf(dice);
	const { sides, regions, box, length, isPeriodic, line, isRing } = shape;
	const [x0, y0, x1, y1] = box;
	const place = () => [x0 + dice.next() * (x1 - x0), y0 + dice.next() * (y1 - y0)].map((v) => Number(v.toFixed(2))).join(', ');
	const size = dice.number(length / 30, length / 8);
	const lines = ['recipe 1', 'units mm', ...shape.lines, `size ${size}${dice.is(0.4) ? ` growth ${dice.number(1.1, 2)}` : ''}`];
	const only = dice.whole(0, 2);
	const times = (kind: number, count: number) => (isPlain ? Number(kind === only) : count);
	for (let k = times(0, dice.whole(0, 2)); k > 0; k--) lines.push(divisionOf(dice, dice.one(sides), length));
	for (let k = times(1, dice.is(0.5) ? dice.whole(1, 2) : 0); k > 0; k--) {
		const walls = sides.filter(() => dice.is(0.4));
		const of = (line && dice.is(0.5) ? [line] : (walls.length > 0 ? walls : sides.slice(0, 1)).map(({ name }) => name)).join(
			', '
		);
		const tail = line && of === line && dice.is(0.5) ? ` ${dice.one(['left', 'right'])}` : '';
		lines.push(
			`layers on ${of} first ${dice.number(size / 40, size / 4)} growth ${dice.number(1.05, 1.5)} count ${dice.whole(2, 10)}${tail}`
		);
	}
	for (let k = times(2, dice.is(0.5) ? dice.whole(1, 2) : 0); k > 0; k--) {
		const fine = dice.number(size / 8, size / 1.5);
		lines.push(
			dice.one([
				`size ${fine} near ${dice.one(sides).name} within ${dice.number(size / 2, 2 * size)}`,
				`size ${fine} at (${place()})`,
				`size ${fine} inside box (${place()}) to (${place()})`,
				`size ${fine} inside circle around (${place()}) radius ${dice.number(size / 2, 2 * size)}`
			])
		);
	}
	if (isPeriodic && dice.is(isPlain ? 0 : 0.25)) lines.push(`periodic ${isPeriodic[0]} with ${isPeriodic[1]}`);
	const rows = isRing && dice.is(0.5) ? ` into ${dice.whole(4, 30)}` : '';
	for (const region of regions)
		lines.push(
			`fill ${region} ${dice.one(line ? ['triangles', 'quads'] : [`structured${rows}`, `structured${rows}`, 'triangles', 'quads', 'triangles halved'])}`
		);
	return `${lines.join('\n')}\n`;
}
