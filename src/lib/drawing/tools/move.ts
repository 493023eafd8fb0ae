import { place, list, step, type Tool } from './tool.ts';

export const move: Tool = {
	name: 'move',
	title: 'Move',
	hint: 'the curves, then from where to where',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'place', prompt: 'from' },
		{ kind: 'place', prompt: 'to' }
	],
	make: (_, [a, b, c]) => `move ${list(a)} by ${step(place(b), place(c))}`
};
