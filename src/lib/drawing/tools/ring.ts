import { place, number, list, type Tool } from './tool.ts';

export const ring: Tool = {
	name: 'ring',
	title: 'Ring',
	hint: 'the curves, the centre, the count around it with the original',
	stem: 'ring',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'place', prompt: 'centre' },
		{ kind: 'number', prompt: 'count, with the original', label: 'count', initial: '6' }
	],
	make: (name, [a, b, c]) => `repeat ${name} = ${list(a)} about ${place(b).source} count ${number(c)}`
};
