import { curve, type Tool } from './tool.ts';

export const extend: Tool = {
	name: 'extend',
	title: 'Extend',
	hint: 'click the curve to lengthen, then the curve to reach',
	group: 'change',
	asks: [
		{ kind: 'curve', prompt: 'the curve to lengthen' },
		{ kind: 'curve', prompt: 'the curve to reach' }
	],
	make: (_, [a, b]) => `extend ${curve(a).curve} to ${curve(b).curve}`
};
