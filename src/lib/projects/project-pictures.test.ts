import { expect, test } from 'vitest';
import { ProjectPictures } from './project-pictures.svelte.ts';

test('a picture that does not come is asked for twice more, each time at another address, and then said to be missing', () => {
	const waiting: (() => void)[] = [];
	const pictures = new ProjectPictures((call) => waiting.push(call));
	const seen: unknown[] = [];
	for (let k = 0; k < 3; k++) {
		pictures.missed('a 1');
		waiting.splice(0).forEach((call) => call());
		seen.push([pictures.triesOf('a 1'), pictures.stateOf('a 1')]);
	}
	expect(seen).toEqual([
		[1, undefined],
		[2, undefined],
		[2, 'missing']
	]);
});

test('a picture is known by its revision', () => {
	const pictures = new ProjectPictures(() => {});
	pictures.came('a 1');
	expect([pictures.stateOf('a 1'), pictures.stateOf('a 2')]).toEqual(['come', undefined]);
});
