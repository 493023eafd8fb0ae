import { place, type Tool } from './tool.ts';

export const point: Tool = {
	name: 'point',
	key: 'P',
	title: 'Point',
	refuses: ({ point }) => (point === undefined ? undefined : `There is a point here already: ${point}`),
	hint: 'click, or type its coordinates',
	stem: 'p',
	group: 'draw',
	asks: [{ kind: 'place', prompt: 'where' }],
	make: (name, [a]) => `point ${name} = ${place(a).source}`
};
