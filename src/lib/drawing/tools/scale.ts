import { place, number, list, type Tool } from './tool.ts';

export const scale: Tool = {
	name: 'scale',
	title: 'Scale',
	hint: 'the curves, the centre, the factor',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'place', prompt: 'centre' },
		{ kind: 'number', prompt: 'factor', label: 'factor' }
	],
	make: (_, [a, b, c]) => `scale ${list(a)} by ${number(c)} about ${place(b).source}`
};
