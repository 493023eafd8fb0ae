import { place, number, write, length, type Tool } from './tool.ts';

export const polygon: Tool = {
	name: 'polygon',
	title: 'Polygon',
	hint: 'centre, a corner or the radius, then the number of sides',
	stem: 'polygon',
	group: 'draw',
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
};
