import { place, write, length, type Place, type Tool } from './tool.ts';

export const ellipse: Tool = {
	name: 'ellipse',
	key: 'E',
	title: 'Ellipse',
	hint: 'centre, end of one half-axis, length of the other',
	stem: 'ellipse',
	group: 'draw',
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
};
