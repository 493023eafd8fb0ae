import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyEdits } from './edit.ts';
import { didYouMean, nearest } from './nearest.ts';
import { placeText, short } from './sentences.ts';

describe('edits of a text', () => {
	it('are all made at the places of the text before, in whatever order they come', () => {
		const text = 'divide a into 4';
		const edits = [
			{ from: 14, to: 15, insert: '12' },
			{ from: 7, to: 8, insert: 'wall' },
			{ from: 0, to: 0, insert: '# ' }
		];
		for (const order of [edits, [...edits].reverse()]) expect(applyEdits(text, order)).toBe('# divide wall into 12');
		expect(applyEdits(text, [])).toBe(text);
	});

	it('refuse to overlap, as what one writes the other would cut', () => {
		const overlapping = [
			{ from: 0, to: 4, insert: '' },
			{ from: 2, to: 6, insert: 'x' }
		];
		expect(() => applyEdits('abcdefgh', overlapping)).toThrow('two edits overlap at offset 0');
	});

	it('leave everything outside as it was, whatever is cut and put in', () => {
		fc.assert(
			fc.property(
				fc.string({ maxLength: 40 }),
				fc.array(fc.tuple(fc.nat(40), fc.nat(3), fc.string({ maxLength: 5 })), { maxLength: 5 }),
				(text, list) => {
					let at = 0;
					const edits = list.flatMap(([skip, cut, insert]) => {
						const from = Math.min(text.length, at + skip);
						const to = Math.min(text.length, from + cut);
						if (from < at) return [];
						at = to + 1;
						return from >= text.length && cut > 0 ? [] : [{ from, to, insert }];
					});
					const distinct = edits.filter((e, k) => k === 0 || e.from > edits[k - 1]!.to);
					let [expected, last] = ['', 0];
					for (const { from, to, insert } of distinct) {
						expected += text.slice(last, from) + insert;
						last = to;
					}
					expect(applyEdits(text, distinct)).toBe(expected + text.slice(last));
				}
			),
			{ numRuns: 500 }
		);
	});
});

describe('a word that is not known', () => {
	const names = ['inlet', 'outlet', 'wall', 'pipe', 'a'];

	it('is most like the one that takes the fewest changes, and none that is far', () => {
		expect(nearest('inlte', names)).toBe('inlet');
		expect(nearest('Outlet', names)).toBe('outlet');
		expect(nearest('wal', names)).toBe('wall');
		expect(nearest('chamber', names)).toBeUndefined();
		expect(nearest('wall', [])).toBeUndefined();
		expect(didYouMean('piep', names)).toBe('; did you mean “pipe”?');
		expect(didYouMean('chamber', names)).toBe('');
	});

	it('finds any name that has one letter too many, too few, another, or two of them exchanged', () => {
		const letters = fc.string({ unit: fc.constantFrom(...'abcdefghij'), minLength: 4, maxLength: 12 });
		fc.assert(
			fc.property(letters, fc.nat(11), fc.constantFrom('cut', 'add', 'change', 'swap'), (name, place, way) => {
				const k = place % (name.length - 1);
				const spoiled = {
					cut: name.slice(0, k) + name.slice(k + 1),
					add: `${name.slice(0, k)}z${name.slice(k)}`,
					change: `${name.slice(0, k)}z${name.slice(k + 1)}`,
					swap: name.slice(0, k) + name[k + 1]! + name[k]! + name.slice(k + 2)
				}[way];
				expect(nearest(spoiled, ['zzzzzzzzzzzzzzzzzzzz', name])).toBe(name);
			})
		);
	});
});

it('numbers in sentences have six digits at most, and no zeros behind them', () => {
	expect([short(1 / 3), short(2.5), short(1234567), short(1e-9 / 3)]).toEqual([0.333333, 2.5, 1234570, 3.33333e-10]);
	expect(placeText({ x: Math.PI, y: -1 / 7 })).toBe('(3.14159, -0.142857)');
});
