import { place, type Tool } from './tool.ts';

export const rectangle: Tool = {
	name: 'rectangle',
	key: 'R',
	title: 'Rectangle',
	hint: 'click two opposite corners, or type',
	stem: 'box',
	group: 'draw',
	asks: [
		{ kind: 'place', prompt: 'corner' },
		{ kind: 'place', prompt: 'opposite corner' }
	],
	make: (name, [a, b]) => `rectangle ${name} = ${place(a).source} to ${place(b).source}`
};
