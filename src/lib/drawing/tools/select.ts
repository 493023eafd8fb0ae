import type { Tool } from './tool.ts';

export const select: Tool = {
	name: 'select',
	key: 'V',
	title: 'Select',
	hint: 'click, Shift-click to add, drag a box; drag a point to move it',
	group: 'draw',
	picks: true,
	asks: []
};
