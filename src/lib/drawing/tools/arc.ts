import { tangent } from '../../../core/geometry/build.ts';
import { pointAt, segmentCount } from '../../../core/geometry/curve.ts';
import { place, type Place, type Bench, type Tool } from './tool.ts';

export const arc: Tool = {
	name: 'arc',
	key: 'A',
	title: 'Arc',
	hint: 'start, end, then a place on it or a typed radius; L goes on with a line',
	stem: 'arc',
	chains: 'when asked',
	namesPlaces: [0, 1],
	group: 'draw',
	asks: [
		{ kind: 'place', prompt: 'start' },
		{ kind: 'place', prompt: 'end' },
		{ kind: 'place', prompt: 'a place on it, or type its radius', number: 'radius' }
	],
	make: (name, [a, b, c], bench) => {
		const [p, q] = [place(a), place(b)];
		if (c?.kind === 'number') return `arc ${name} = ${p.source} to ${q.source} radius ${c.source}${arcSide(p, q, bench)}`;
		return `arc ${name} = ${p.source} to ${q.source} through ${place(c).source}`;
	}
};

/**
 * An arc of a typed radius bulges to the side of the cursor; while the cursor still stands on its end, to
 * the side on which it leaves more smoothly what it goes on from.
 */
function arcSide(a: Place, b: Place, { cursor, curves }: Bench): string {
	const [dx, dy] = [b.x - a.x, b.y - a.y];
	const side = cursor ? dx * (cursor.y - a.y) - dy * (cursor.x - a.x) : 0;
	const clockwise = ' clockwise';
	if (Math.abs(side) > 1e-6 * (dx * dx + dy * dy)) return side > 0 ? clockwise : '';
	const before = curves.find((curve) => {
		const end = pointAt(curve, segmentCount(curve));
		return end.x === a.x && end.y === a.y;
	});
	if (!before) return '';
	// A clockwise arc leaves to the left of its chord.
	const d = tangent(before, segmentCount(before) - 1, 1);
	return dx * d.y - dy * d.x > 0 ? clockwise : '';
}
