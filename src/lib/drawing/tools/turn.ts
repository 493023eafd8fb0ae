import { asDegrees } from '../../../core/recipe/language/literals.ts';
import { place, number, list, type Tool } from './tool.ts';

export const turn: Tool = {
	name: 'turn',
	title: 'Turn',
	hint: 'the curves, the centre, the angle in degrees',
	group: 'change',
	movesCurves: true,
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'place', prompt: 'centre' },
		{ kind: 'number', prompt: 'angle in degrees', label: 'angle °' }
	],
	make: (_, [a, b, c]) => `turn ${list(a)} by ${asDegrees(number(c))} about ${place(b).source}`
};
