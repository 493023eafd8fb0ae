import type { Tool } from './tool.ts';

export const lasso: Tool = {
	name: 'lasso',
	key: 'Y',
	title: 'Lasso',
	hint: 'draw around what to select, or across it; Shift adds',
	group: 'draw',
	picks: true,
	asks: []
};
