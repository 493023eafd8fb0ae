import { place, write, type Tool } from './tool.ts';

export const cut: Tool = {
	name: 'cut',
	key: 'X',
	title: 'Cut',
	hint: 'from a point, or a place on a curve, to a point or square to a curve',
	stem: 'cut',
	group: 'change',
	asks: [
		{ kind: 'place', prompt: 'from a point or a place on a curve' },
		{ kind: 'target', prompt: 'to a point, or a curve' }
	],
	make: (name, [a, b]) => {
		const from = place(a);
		const start =
			from.point === undefined && from.on && from.snap === 'on curve'
				? `${from.on.curve} at ${write(from.on.share)}`
				: from.source;
		return `cut ${name} = ${start} to ${b?.kind === 'curve' ? b.curve : place(b).source}`;
	}
};
