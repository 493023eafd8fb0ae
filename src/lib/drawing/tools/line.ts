import { place, type Tool } from './tool.ts';

export const line: Tool = {
	name: 'line',
	key: 'L',
	title: 'Line',
	hint: 'from point to point; A goes on with an arc',
	stem: 'line',
	chains: 'itself',
	namesPlaces: [0, 1],
	group: 'draw',
	asks: [
		{ kind: 'place', prompt: 'from' },
		{ kind: 'place', prompt: 'to' }
	],
	make: (name, [a, b]) => `line ${name} = ${place(a).source} to ${place(b).source}`
};
