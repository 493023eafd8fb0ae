import { place, number, list, step, type Tool } from './tool.ts';

export const repeat: Tool = {
	name: 'repeat',
	title: 'Repeat',
	hint: 'the curves, one step from where to where, the count with the original',
	stem: 'row',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'place', prompt: 'from' },
		{ kind: 'place', prompt: 'to' },
		{ kind: 'number', prompt: 'count, with the original', label: 'count', initial: '3' }
	],
	make: (name, [a, b, c, d]) => `repeat ${name} = ${list(a)} by ${step(place(b), place(c))} count ${number(d)}`
};
