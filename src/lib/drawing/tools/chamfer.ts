import { number, corner, type Tool } from './tool.ts';

export const chamfer: Tool = {
	name: 'chamfer',
	title: 'Chamfer',
	hint: 'click a corner of two curves, type the length, or two lengths as “2, 3”',
	stem: 'chamfer',
	group: 'change',
	asks: [
		{ kind: 'corner', prompt: 'the corner' },
		{ kind: 'number', prompt: 'length', label: 'length' }
	],
	make: (name, [a, b]) => corner(name, 'chamfer', a, `lengths ${number(b)}`)
};
