import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from './numeric/work.ts';
import { Pipeline, type Result } from './pipeline.ts';

/** A drawing of circles and bars in a box, some of which meet, with what is said of their sizes. */
interface Drawing {
	circles: { x: number; y: number; r: number }[];
	bars: { x: number; y: number; length: number; lean: number }[];
	size: number;
	byGap: boolean;
	/** Elements to a turn, where these are asked for, and the size near a circle. */
	perTurn: number;
	near: number;
	wide: number;
	layered: boolean;
}

const between = (min: number, max: number) => fc.integer({ min: 0, max: 1000 }).map((k) => min + ((max - min) * k) / 1000);
const circle = fc.record({ x: between(1, 19), y: between(1, 9), r: between(0.1, 0.8) });
const bar = fc.record({ x: between(1, 16), y: between(1, 9), length: between(0.5, 3), lean: between(-1, 1) });
const drawing: fc.Arbitrary<Drawing> = fc.record({
	circles: fc.array(circle, { minLength: 3, maxLength: 10 }),
	bars: fc.array(bar, { maxLength: 4 }),
	size: between(0.6, 1.5),
	byGap: fc.boolean(),
	perTurn: fc.constantFrom(0, 0, 24),
	near: fc.constantFrom(0, 0, 0.3),
	wide: fc.constantFrom(20, 20, 24),
	layered: fc.boolean()
});
type Edit = (d: Drawing) => Drawing;
const edit: fc.Arbitrary<Edit> = fc.oneof(
	fc
		.record({ k: fc.nat(9), to: circle })
		.map(({ k, to }): Edit => (d) => ({ ...d, circles: d.circles.map((c, i) => (i === k % d.circles.length ? to : c)) })),
	circle.map((c): Edit => (d) => ({ ...d, circles: [...d.circles, c] })),
	fc
		.nat(9)
		.map((k): Edit => (d) => ({ ...d, circles: d.circles.filter((_, i) => d.circles.length < 2 || i !== k % d.circles.length) })),
	bar.map((b): Edit => (d) => ({ ...d, bars: [b, ...d.bars] })),
	between(0.6, 1.5).map((size): Edit => (d) => ({ ...d, size })),
	fc.constant<Edit>((d) => ({ ...d, byGap: !d.byGap })),
	fc.constant<Edit>((d) => ({ ...d, perTurn: d.perTurn ? 0 : 24 })),
	fc.constant<Edit>((d) => ({ ...d, near: d.near ? 0 : 0.3 })),
	fc.constant<Edit>((d) => ({ ...d, layered: !d.layered })),
	fc.constant<Edit>((d) => ({ ...d, wide: d.wide === 20 ? 24 : 20 }))
);

const textOf = ({ circles, bars, size, byGap, perTurn, near, wide, layered }: Drawing): string =>
	[
		'recipe 1',
		`rectangle box = (0, 0) to (${wide}, 10)`,
		...circles.map(({ x, y, r }, k) => `circle c${k} = around (${x}, ${y}) radius ${r}`),
		...bars.map(({ x, y, length, lean }, k) => `line b${k} = (${x}, ${y}) to (${x + length}, ${y + lean})`),
		'region water at (0.01, 0.01)',
		'region disc at center(c0)',
		`size ${size} growth 1.3`,
		...(byGap ? ['size by gap 3'] : []),
		...(perTurn ? [`size by turn ${perTurn}`] : []),
		...(near ? [`size ${near} near c2`] : []),
		...(layered ? ['layers on c1 first 0.01 growth 1.3 count 4'] : []),
		'fill water, disc triangles'
	].join('\n');

/** All that a user gets, without what tells how it came about. */
const taken = ({ mesh, findings, divisions, arrangement, layerFigures, predicted }: Result) => ({
	mesh,
	findings,
	layerFigures,
	predicted,
	counts: divisions.pieces.map(({ count, x, y }) => ({ count, x, y })),
	faces: arrangement.faces,
	sides: arrangement.sides
});

describe('a recipe that was edited', () => {
	it('gives what it gives without a past, bit for bit', () => {
		fc.assert(
			fc.property(drawing, fc.array(edit, { minLength: 1, maxLength: 6 }), (start, edits) => {
				const pipeline = new Pipeline(() => 0);
				const run = (p: Pipeline, d: Drawing) => finish(p.run({ text: textOf(d), files: {} }));
				let edited = start;
				run(pipeline, edited);
				for (const change of edits) {
					edited = change(edited);
					expect(taken(run(pipeline, edited))).toEqual(taken(run(new Pipeline(() => 0), edited)));
				}
			}),
			{ numRuns: Number(process.env.FUZZ ?? 1) * 25 }
		);
	}, 120_000);

	it('has the corners that are asked for last, though its points stay where they are', () => {
		const text = (angle: number) =>
			`recipe 1\npolyline o = (0, 0) to (10, 0) to (14, 2) to (10, 10) to (0, 10) closed corners above ${angle} deg\nregion r at (5, 5)\nsize 2\nfill r triangles`;
		const pipeline = new Pipeline(() => 0);
		const pieces = (p: Pipeline, angle: number) => finish(p.run({ text: text(angle), files: {} })).arrangement.pieces.length;
		for (const angle of [20, 40, 100, 20]) expect(pieces(pipeline, angle)).toBe(pieces(new Pipeline(() => 0), angle));
		expect(pieces(pipeline, 40)).not.toBe(pieces(pipeline, 20));
	});
});
