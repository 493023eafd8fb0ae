import { atan2, hypot } from '../numeric/elementary.ts';
import { arrange } from './arrangement.ts';
import { CurveBuilder, tangent } from './build.ts';
import {
	ARC,
	arcOf,
	LINE,
	segmentCount,
	segmentCurvature,
	segmentDerivative,
	segmentPoint,
	type Curve,
	type Point
} from './curve.ts';
import { nearestOnCurve } from './meet.ts';
import { partPoint } from './parts.ts';

/**
 * The curve at a distance from a chain, to its left (`by` above zero) or right. Lines and arcs
 * give lines and arcs; other segments are followed by cubics to 1e-7 of their length. Outer
 * joints are rounded by arcs or mitred; wherever the raw offset comes nearer to the chain than
 * the distance — inner joints, narrow places — it is cut away (the trimming of Tiller & Hanson
 * 1984, done with the arrangement of the raw offset).
 *
 * @param chain one curve; closed when it is a ring
 * @returns the parts that are left, none when the chain is too narrow everywhere
 */
export function offsetCurve(name: string, chain: Curve, by: number, mitred: boolean): Curve[] {
	const raw = rawOffset(chain, by, mitred);
	const arrangement = arrange([raw]);
	const least = Math.abs(by) * (1 - 1e-6);
	const keep = arrangement.byCurve[0]!.map(({ piece }) => arrangement.pieces[piece]!).filter((piece) =>
		[0.5, 0.013, 0.987].every((f) => nearestOnCurve(chain, partPoint(piece, f, piece.length)).distance >= least)
	);
	// Chain what is left, from junction to junction.
	const byStart = new Map<number, (typeof keep)[number]>();
	const arrivals = new Set<number>();
	for (const piece of keep) {
		byStart.set(piece.start, piece);
		arrivals.add(piece.end);
	}
	const parts: Curve[] = [];
	const take = (first: (typeof keep)[number]) => {
		const builder = new CurveBuilder();
		let piece: (typeof keep)[number] | undefined = first;
		let last = first;
		while (piece) {
			byStart.delete(piece.start);
			builder.along(raw, piece.t0, piece.t1);
			last = piece;
			piece = byStart.get(piece.end);
		}
		parts.push(builder.build(name, last.end === first.start));
	};
	for (const piece of keep) if (byStart.has(piece.start) && !arrivals.has(piece.start)) take(piece);
	for (const piece of keep) if (byStart.has(piece.start)) take(piece);
	return parts;
}

function rawOffset(chain: Curve, by: number, mitred: boolean): Curve {
	const builder = new CurveBuilder();
	const count = segmentCount(chain);
	const side = (p: Point, d: Point): Point => ({ x: p.x - by * d.y, y: p.y + by * d.x });
	for (let i = 0; i < count; i++) {
		offsetSegment(builder, chain, i, by);
		const next = i + 1 < count ? i + 1 : chain.closed ? 0 : -1;
		if (next < 0) continue;
		const corner = segmentPoint(chain, i, 1);
		const [d, e] = [tangent(chain, i, 1), tangent(chain, next, 0)];
		const turn = atan2(d.x * e.y - d.y * e.x, d.x * e.x + d.y * e.y);
		const [p, q] = [side(corner, d), side(corner, e)];
		if (Math.abs(turn) < 1e-9) continue;
		const opens = turn * by < 0;
		if (!opens) builder.line(p, q);
		else if (mitred && Math.abs(turn) < 2.6) {
			const k = (by * (1 - (d.x * e.x + d.y * e.y))) / (d.x * e.y - d.y * e.x);
			const tip = { x: p.x - k * d.x, y: p.y - k * d.y };
			builder.line(p, tip).line(tip, q);
		} else builder.arc(p, q, corner, Math.abs(by), atan2(p.y - corner.y, p.x - corner.x), turn);
	}
	return builder.build('', chain.closed);
}

function offsetSegment(builder: CurveBuilder, chain: Curve, i: number, by: number): void {
	const shifted = (u: number): Point => {
		const p = segmentPoint(chain, i, u);
		const d = u === 0 || u === 1 ? tangent(chain, i, u) : unit(segmentDerivative(chain, i, u));
		return { x: p.x - by * d.y, y: p.y + by * d.x };
	};
	const [a, b] = [shifted(0), shifted(1)];
	if (chain.kinds[i] === LINE) {
		builder.line(a, b);
		return;
	}
	if (chain.kinds[i] === ARC) {
		const { centre, radius, from, sweep } = arcOf(chain, i);
		const grown = radius - by * Math.sign(sweep);
		if (grown > 0) builder.arc(a, b, centre, grown, from, sweep);
		// An arc tighter than the distance turns inside out; all of it is too near and will be cut away.
		else builder.line(a, b);
		return;
	}
	const size = hypot(b.x - a.x, b.y - a.y) + Math.abs(by);
	const follow = (u: number, v: number, depth: number): void => {
		const [p, q] = [shifted(u), shifted(v)];
		const slope = (w: number): Point => {
			const d = segmentDerivative(chain, i, w);
			const f = ((1 - by * segmentCurvature(chain, i, w)) * (v - u)) / 3;
			return { x: d.x * f, y: d.y * f };
		};
		const [dp, dq] = [slope(u), slope(v)];
		const [m, w] = [shifted((u + v) / 2), 0.125];
		const middle = {
			x: w * (p.x + q.x + 3 * (p.x + dp.x) + 3 * (q.x - dq.x)),
			y: w * (p.y + q.y + 3 * (p.y + dp.y) + 3 * (q.y - dq.y))
		};
		if (hypot(middle.x - m.x, middle.y - m.y) <= 1e-7 * size || depth >= 10) {
			builder.cubic(p, { x: p.x + dp.x, y: p.y + dp.y }, { x: q.x - dq.x, y: q.y - dq.y }, q);
			return;
		}
		follow(u, (u + v) / 2, depth + 1);
		follow((u + v) / 2, v, depth + 1);
	};
	follow(0, 0.5, 0);
	follow(0.5, 1, 0);
}

const unit = (d: Point): Point => {
	const length = hypot(d.x, d.y) || 1;
	return { x: d.x / length, y: d.y / length };
};
