import type { Tool } from './tool.ts';

export const measure: Tool = {
	name: 'measure',
	key: 'M',
	title: 'Measure',
	measures: true,
	hint: 'click places: distance, angle, length of the way and area inside it',
	group: 'draw',
	asks: [{ kind: 'places', prompt: 'the next place, Escape to end', least: 2 }]
};
