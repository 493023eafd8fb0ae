import { list, type Tool } from './tool.ts';

export const join: Tool = {
	name: 'join',
	key: 'J',
	title: 'Join',
	hint: 'the curves in their order along the chain, then Enter',
	stem: 'chain',
	group: 'change',
	asks: [{ kind: 'curves', prompt: 'the curves' }],
	make: (name, [a]) => `join ${name} = ${list(a)}`
};
