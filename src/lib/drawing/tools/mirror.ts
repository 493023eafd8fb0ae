import { answerOf, list, type Tool } from './tool.ts';

export const mirror: Tool = {
	name: 'mirror',
	key: 'I',
	title: 'Mirror',
	hint: 'the curves, then what to mirror them across',
	stem: 'mirror',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'mirror', prompt: 'across what' }
	],
	make: (name, [a, b]) => `copy ${name} = ${list(a)} mirrored across ${answerOf('mirror', b).source}`
};
