import { curve, write, type Tool, type ToolAnswer } from './tool.ts';

export const trim: Tool = {
	name: 'trim',
	title: 'Trim',
	hint: 'first click the curve that cuts, then the part of the other that stays',
	group: 'change',
	asks: [
		{ kind: 'curve', prompt: 'the curve that cuts' },
		{ kind: 'curve', prompt: 'the part to keep' }
	],
	make: (_, [a, b], { tryOut }) => {
		const source = (kept: ToolAnswer | undefined, cutting: ToolAnswer | undefined) => {
			const { curve: name, x, y } = curve(kept);
			return `trim ${name} to ${curve(cutting).curve} keep (${write(x)}, ${write(y)})`;
		};
		// Clicked the other way round, it is meant the other way round where only that can be done.
		const [asked, turned] = [source(b, a), source(a, b)];
		return !tryOut(asked) && tryOut(turned) ? turned : asked;
	}
};
