import { list, number, type Tool } from './tool.ts';

/** A far boundary around a body, a number of its lengths away: a box, a circle, or a C that is open to the right. */
function farTool(name: string, title: string, shape: 'box' | 'circle' | 'wake'): Tool {
	return {
		name,
		title,
		group: 'change',
		hint: 'the body, then how many of its lengths away',
		stem: 'far',
		asks: [
			{ kind: 'curves', prompt: 'the body' },
			{ kind: 'number', prompt: 'lengths away', label: 'lengths', initial: '10' }
		],
		make: (name, [a, b]) => `far ${name} = ${shape} around ${list(a)} by ${number(b)}`
	};
}

export const farBox = farTool('far', 'Far box', 'box');
export const farCircle = farTool('far-circle', 'Far circle', 'circle');
export const farWake = farTool('far-wake', 'Far wake', 'wake');
