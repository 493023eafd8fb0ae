import { curve, write, type Tool } from './tool.ts';

export const trim: Tool = {
	name: 'trim',
	title: 'Trim',
	hint: 'click the curve that cuts, then the part to keep',
	group: 'change',
	asks: [
		{ kind: 'curve', prompt: 'the curve that cuts' },
		{ kind: 'curve', prompt: 'the part to keep' }
	],
	make: (_, [a, b]) => {
		const kept = curve(b);
		return `trim ${kept.curve} to ${curve(a).curve} keep (${write(kept.x)}, ${write(kept.y)})`;
	}
};
