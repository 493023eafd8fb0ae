import { place, type Tool } from './tool.ts';

export const placePart: Tool = {
	name: 'place',
	title: 'Place part',
	hint: 'click where the part goes, or type the place',
	stem: 'placed',
	group: 'change',
	asks: [{ kind: 'place', prompt: 'where' }],
	make: (name, [a], { part }) => (part === undefined ? undefined : `place ${name} = ${part} at ${place(a).source}`)
};
