import { answerOf, type Place, type Tool } from './tool.ts';

const isClosed = (places: readonly Place[]) => {
	const [first, last] = [places[0]!, places.at(-1)!];
	return places.length > 3 && first.x === last.x && first.y === last.y;
};

export const spline: Tool = {
	name: 'spline',
	key: 'S',
	title: 'Spline',
	hint: 'click its points; Enter ends, a click on the first closes it',
	stem: 'spline',
	namesPlaces: [0],
	group: 'draw',
	closes: ([a]) => isClosed(answerOf('places', a).places),
	asks: [{ kind: 'places', prompt: 'the next point, Enter to end', least: 2 }],
	make: (name, [a]) => {
		const { places } = answerOf('places', a);
		const closed = isClosed(places);
		const open = closed ? places.slice(0, -1) : places;
		return `spline ${name} = ${open.map((p) => p.source).join(' to ')}${closed ? ' closed' : ''}`;
	}
};
