import { place, write, type Tool } from './tool.ts';

export const split: Tool = {
	name: 'split',
	title: 'Split',
	takesSelection: true,
	refuses: ({ on }) => (on ? undefined : 'click on a curve'),
	hint: 'click a place on a curve; typed after a selection: the number of equal parts',
	group: 'change',
	asks: [{ kind: 'place', prompt: 'a place on a curve', number: 'equal parts of what is selected' }],
	make: (_, [a], { selected: [chosen] }) => {
		if (a?.kind === 'number') return chosen && `split ${chosen} into ${a.source}`;
		const { on } = place(a);
		return on && `split ${on.curve} at ${write(on.share)}`;
	}
};
