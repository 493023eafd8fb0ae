import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrangement.ts';
import { arcCurve, cubicCurve, lineCurve } from './build.ts';
import type { Curve, Point } from './curve.ts';
import { faceAt } from './faces.ts';
import type { Arrangement } from './pieces.ts';
import { expectSound } from './sound.test-support.ts';

/** A closed outline of curves that join tangentially, some of which run on beyond the join; drawn at size 1 around the origin. */
interface Outline {
	curves: (place: (x: number, y: number) => Point) => Curve[];
	inside: Point;
}

const bezier = (a: Point, p: Point, q: Point, b: Point): Curve =>
	cubicCurve('cubic', Float64Array.of(a.x, b.x), Float64Array.of(a.y, b.y), Float64Array.of(p.x, p.y, q.x, q.y), false);

/** A straight-backed D whose bow ends on a line that runs on by `more`. */
const dShape = (r: number, back: number, more: number, smooth: boolean): Outline => ({
	curves: (at) => [
		lineCurve('top', at(more, r), at(-back, r)),
		lineCurve('left', at(-back, r), at(-back, -r)),
		lineCurve('base', at(-back, -r), at(0, -r)),
		smooth ? bezier(at(0, -r), at(1.3 * r, -r), at(1.3 * r, r), at(0, r)) : arcCurve('bow', at(0, -r), at(0, r), at(0, 0), false)
	],
	inside: { x: -back / 2, y: 0 }
});

/** A horn between a large circle, which runs on by `more` radians, and a smaller arc (or a cubic) that leaves it tangentially. */
const horn = (R: number, share: number, more: number, smooth: boolean): Outline => {
	const r = share * R;
	const low = smooth ? 0.2 * R : R - 2 * r;
	return {
		curves: (at) => [
			arcCurve('great', at(R * Math.sin(more), R * Math.cos(more)), at(-R, 0), at(0, 0), false),
			smooth
				? bezier(at(0, R), at(-0.4 * R, R), at(-0.4 * R, 0.3 * R), at(0, low))
				: arcCurve('small', at(0, R), at(0, low), at(0, R - r), false),
			lineCurve('base', at(0, low), at(-R, 0))
		],
		inside: { x: -0.75 * R, y: 0.45 * R }
	};
};

const between = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const outlines = fc.oneof(
	fc.tuple(between(0.2, 3), between(0.2, 4), fc.oneof(fc.constant(0), between(0.01, 3)), fc.boolean()).map((p) => dShape(...p)),
	fc.tuple(between(0.2, 3), between(0.05, 0.4), fc.oneof(fc.constant(0), between(0.01, 2)), fc.boolean()).map((p) => horn(...p))
);

function areaAround(a: Arrangement, inside: Point): number {
	const face = faceAt(a, inside);
	expect(face, 'the outline has its face').toBeGreaterThanOrEqual(0);
	return a.faces[face]!.area;
}

describe('curves that join tangentially', () => {
	it('bound their face at any size and place, with ends a few roundings off', () => {
		fc.assert(
			fc.property(
				outlines,
				between(0, 2 * Math.PI),
				fc.integer({ min: -6, max: 6 }),
				fc.integer({ min: -1, max: 5 }),
				fc.array(fc.integer({ min: -4, max: 4 }), { minLength: 40, maxLength: 40 }),
				(outline, angle, magnitude, far, jitter) => {
					const scale = 10 ** magnitude;
					const [ox, oy] = far < 0 ? [0, 0] : [0.8 * scale * 10 ** far, -0.6 * scale * 10 ** far];
					const place = (x: number, y: number): Point => ({
						x: ox + scale * (x * Math.cos(angle) - y * Math.sin(angle)),
						y: oy + scale * (x * Math.sin(angle) + y * Math.cos(angle))
					});
					let k = 0;
					const rounded = (v: number) =>
						v + jitter[k++ % jitter.length]! * Number.EPSILON * (Math.abs(ox) + Math.abs(oy) + scale);
					const curves = outline.curves((x, y) => {
						const p = place(x, y);
						return { x: rounded(p.x), y: rounded(p.y) };
					});
					const a = arrange(curves);
					expectSound(a);
					const plain = areaAround(arrange(outline.curves((x, y) => ({ x, y }))), outline.inside);
					const area = areaAround(a, place(outline.inside.x, outline.inside.y)) / scale ** 2;
					expect(Math.abs(area / plain - 1)).toBeLessThan(1e-6);
					for (const piece of a.pieces) expect(piece.length).toBeGreaterThan(4 * a.tolerance);
				}
			),
			{ numRuns: 1500, seed: 2026 }
		);
	});

	it('are cut at the end that lies on the other, not beside it', () => {
		const a = arrange(dShape(3, 3, 3, false).curves((x, y) => ({ x, y: y - 2.9 })));
		expect(a.faces).toHaveLength(1);
		expect(a.faces[0]!.area).toBeCloseTo(3 * 6 + (Math.PI * 9) / 2, 9);
		expect(a.pieces).toHaveLength(5);
	});
});
