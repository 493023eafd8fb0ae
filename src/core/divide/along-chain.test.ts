import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { pieceNames } from '../domain/references.ts';
import { cellsAlong, chainFrom } from './along-chain.ts';

const text = `recipe 1
line a = (0, 0) to (10, 0)
line b = (30, 1) to (10, 0)
line c = (30, 1) to (60, 0)
line back = (60, 0) to (60, 20)
line roof = (60, 20) to (0, 20)
line front = (0, 20) to (0, 0)
region r at (5, 5)
divide a into 5
divide b into 4
divide c into 30
fill r triangles`;
const { arrangement, divisions } = finish(new Pipeline(() => 0).run({ text, files: {} }));
const names = pieceNames(arrangement);
const of = (...chosen: string[]) =>
	cellsAlong(
		arrangement,
		divisions.pieces,
		chosen.map((name) => names.indexOf(name))
	);

describe('cells along a chain', () => {
	it('stand in order along pieces that go on from one another, whatever the order they were chosen in', () => {
		const chains = of('c', 'a', 'b');
		expect(chains).toHaveLength(1);
		const [chain] = chains;
		expect(chain!.length).toHaveLength(39);
		expect(chain!.isChosen.every(Boolean)).toBe(true);
		for (let k = 1; k < 39; k++) expect(chain!.along[k]!).toBeGreaterThan(chain!.along[k - 1]!);
		expect(chain!.length.reduce((a, b) => a + b, 0)).toBeCloseTo(10 + Math.hypot(20, 1) + Math.hypot(30, 1), 9);
		expect(chain!.joints.map((j) => j.ratio.toFixed(2))).toEqual([
			(Math.hypot(20, 1) / 4 / 2).toFixed(2),
			(Math.hypot(20, 1) / 4 / (Math.hypot(30, 1) / 30)).toFixed(2)
		]);
	});

	it('come with the neighbours that the chain goes on from and into, which are marked', () => {
		const [chain] = of('b');
		expect(chain!.isChosen.filter(Boolean)).toHaveLength(4);
		expect(chain!.length).toHaveLength(39);
		expect(chain!.along[0]).toBeCloseTo((-Math.hypot(30, 1) * 29.5) / 30, 9);
		expect(chain!.joints).toHaveLength(2);
	});

	it('fall into as many chains as there are, and end at corners', () => {
		const chains = of('back', 'a');
		expect(chains).toHaveLength(2);
		expect(chains[0]!.isChosen.every(Boolean)).toBe(true);
		expect(chains[1]!.isChosen.filter(Boolean)).toHaveLength(5);
	});
});

describe('chains that go on', () => {
	const chain = (seed: string, degrees: number) =>
		chainFrom(arrangement, [names.indexOf(seed)], (degrees * Math.PI) / 180)
			.map((p) => names[p])
			.sort();

	it('reach as far as no turn is larger than the angle', () => {
		// From a to b it turns by 2.9°, from b to c by 4.8°, at the corners by 90°.
		expect(chain('b', 2)).toEqual(['b']);
		expect(chain('a', 4)).toEqual(['a', 'b']);
		expect(chain('c', 10)).toEqual(['a', 'b', 'c']);
		expect(chain('back', 100)).toEqual(['a', 'b', 'back', 'c', 'front', 'roof']);
	});
});
