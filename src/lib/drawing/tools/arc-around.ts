import { place, write, type Tool } from './tool.ts';

/** An arc by its centre and its ends; it goes the shorter way, and its end lies where the last place points to from the centre. */
export const arcAround: Tool = {
	name: 'arc-around',
	title: 'Arc around a centre',
	hint: 'centre, start, then a place in whose direction it ends',
	stem: 'arc',
	group: 'draw',
	asks: [
		{ kind: 'place', prompt: 'centre' },
		{ kind: 'place', prompt: 'start' },
		{ kind: 'place', prompt: 'end' }
	],
	make: (name, [c, a, b]) => {
		const [centre, start, end] = [place(c), place(a), place(b)];
		const [ax, ay, bx, by] = [start.x - centre.x, start.y - centre.y, end.x - centre.x, end.y - centre.y];
		const [radius, away] = [Math.hypot(ax, ay), Math.hypot(bx, by)];
		if (radius === 0 || away === 0) return undefined;
		// A place on the circle is taken as it is written, any other is brought onto it.
		const isOn = Math.abs(away - radius) <= 1e-9 * radius;
		const at = isOn ? end.source : `(${write(centre.x + (bx * radius) / away)}, ${write(centre.y + (by * radius) / away)})`;
		return `arc ${name} = ${start.source} to ${at} around ${centre.source}${ax * by - ay * bx < 0 ? ' clockwise' : ''}`;
	}
};
