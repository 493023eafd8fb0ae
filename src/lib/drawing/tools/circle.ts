import { place, length, type Tool } from './tool.ts';

export const circle: Tool = {
	name: 'circle',
	key: 'C',
	title: 'Circle',
	hint: 'click the centre, then the radius, or type',
	stem: 'circle',
	group: 'draw',
	asks: [
		{ kind: 'place', prompt: 'centre' },
		{ kind: 'place', prompt: 'radius', number: 'radius' }
	],
	make: (name, [a, b]) => `circle ${name} = around ${place(a).source} radius ${length(b, place(a))}`
};
