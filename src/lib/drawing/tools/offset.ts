import { nearestOnCurve } from '../../../core/geometry/meet.ts';
import { place, number, list, type Tool } from './tool.ts';

export const offset: Tool = {
	name: 'offset',
	key: 'O',
	title: 'Offset',
	hint: 'the chain of curves, the distance, then a click on the side',
	stem: 'offset',
	staysPut: true,
	group: 'change',
	asks: [
		{ kind: 'curves', prompt: 'the curves' },
		{ kind: 'number', prompt: 'distance', label: 'distance' },
		{ kind: 'place', prompt: 'the side' }
	],
	make: (name, [a, b, c], bench) => {
		const at = c === undefined ? bench.cursor : place(c);
		// The side whose curve comes nearer to the place that was clicked.
		const sides = ['left', 'right'].map((side) => {
			const source = (name: string) => `offset ${name} = ${list(a)} by ${number(b)} ${side}`;
			const curves = bench.tryOut(source('preview_'));
			const distance = at && curves ? Math.min(...curves.map((curve) => nearestOnCurve(curve, at).distance)) : Infinity;
			return { source: source(name), distance };
		});
		return (sides[1]!.distance < sides[0]!.distance ? sides[1]! : sides[0]!).source;
	}
};
