import { list, type Answer, type Tool } from './tool.ts';

export const mirror: Tool = {
	name: 'mirror',
	key: 'I',
	title: 'Mirror',
	hint: 'the curves, then a straight line, an axis, or two places',
	stem: 'mirror',
	group: 'change',
	asks: [
		{ kind: 'curves', prompt: 'the curves, then Enter' },
		{ kind: 'mirror', prompt: 'a line, an axis, or two places' }
	],
	make: (name, [a, b]) => `mirror ${name} = ${list(a)} across ${(b as Extract<Answer, { kind: 'mirror' }>).source}`
};
