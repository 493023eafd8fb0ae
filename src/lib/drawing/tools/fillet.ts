import { number, corner, type Tool } from './tool.ts';

export const fillet: Tool = {
	name: 'fillet',
	key: 'B',
	title: 'Fillet',
	hint: 'click a corner of two curves, type the radius',
	stem: 'fillet',
	group: 'change',
	asks: [
		{ kind: 'corner', prompt: 'the corner' },
		{ kind: 'number', prompt: 'radius', label: 'radius' }
	],
	make: (name, [a, b]) => corner(name, 'fillet', a, `radius ${number(b)}`)
};
