import { mapped } from '../text/typed.ts';
import type { Point } from '../geometry/curve.ts';
import { moved, type Movement } from '../geometry/movement.ts';
import { partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { atan2, hypot } from '../numeric/elementary.ts';
import type { Model } from '../recipe/model/model.ts';
import { periodicOf } from '../recipe/statements/periodic.ts';
import type { Report } from '../findings/report.ts';
import { placeText } from '../text/sentences.ts';
import { pieceNames, resolvePieces } from './references.ts';
import type { NamedFace } from './piece-sets.ts';

/** Pieces that are periodic with others. */
export interface PeriodicPair {
	/** Index of the statement. */
	line: number;
	/** What takes the first pieces to the second. */
	movement: Movement;
	/** A piece, the one that it is taken to, and whether that one runs the other way. */
	pieces: { from: number; to: number; reversed: boolean }[];
}

/** Pieces differ from the moved ones by no more than this share of the drawing's diagonal. */
const near = 1e-6;

/** The periodic pairs of a recipe; what does not fit together is reported. */
export function findPeriodic(
	model: Model,
	arrangement: Arrangement,
	regions: readonly NamedFace[],
	report: Report
): PeriodicPair[] {
	return periodicOf(model).flatMap(({ from, to, about, line }): PeriodicPair[] => {
		const lineReport = report.about(line);
		const before = report.findings.length;
		const [first, second] = mapped([from, to], (list) => [
			...new Set(resolvePieces(model, arrangement, list, lineReport, regions).map(({ piece }) => piece))
		]);
		if (report.findings.length > before || first.length === 0 || second.length === 0) return [];
		const shared = first.find((p) => second.includes(p));
		const names = pieceNames(arrangement);
		if (shared !== undefined) {
			lineReport.add('periodic', { message: `“${names[shared]}” cannot be periodic with itself` }, { pieces: [shared] });
			return [];
		}
		const [a, b] = [middleOf(arrangement, first), middleOf(arrangement, second)];
		const movement: Movement = about
			? { kind: 'turn', about, angle: angleBetween(about, a, b) }
			: { kind: 'shift', x: b.x - a.x, y: b.y - a.y };
		const pieces = first.flatMap((p) => counterpart(arrangement, p, second, movement) ?? []);
		const lost =
			first.find((p) => !pieces.some((pair) => pair.from === p)) ?? second.find((p) => !pieces.some((pair) => pair.to === p));
		if (lost === undefined) return [{ line, movement: exactly(movement, pieces[0]!, arrangement), pieces }];
		const piece = arrangement.pieces[lost]!;
		const message = about
			? `turned about ${placeText(about)}, “${names[lost]}” has no counterpart on the other side; both sides must be the same but for the turn, cut at the same places`
			: `moved, “${names[lost]}” has no counterpart on the other side; both sides must be the same but for a shift, cut at the same places (for sides that are turned, say about which point: “about (0, 0)”)`;
		lineReport.add('periodic', { message }, { at: partPoint(piece, 0.5, piece.length), pieces: [lost] });
		return [];
	});
}

/** A shift as the ends of two pieces have it, rather than their middles. */
function exactly(
	movement: Movement,
	{ from, to, reversed }: PeriodicPair['pieces'][number],
	{ pieces, x, y }: Arrangement
): Movement {
	if (movement.kind === 'turn') return movement;
	const [a, b] = [pieces[from]!.start, reversed ? pieces[to]!.end : pieces[to]!.start];
	return { kind: 'shift', x: x[b]! - x[a]!, y: y[b]! - y[a]! };
}

/** The middle of pieces, by their length. */
function middleOf({ pieces }: Arrangement, list: readonly number[]): Point {
	let [x, y, whole] = [0, 0, 0];
	for (const p of list) {
		const { length } = pieces[p]!;
		// Simpson's rule over eight parts is exact enough to find a movement, which the ends then make exact.
		for (let k = 0; k <= 8; k++) {
			const weight = (k === 0 || k === 8 ? 1 : k % 2 === 1 ? 4 : 2) * length;
			const at = partPoint(pieces[p]!, k / 8, length);
			x += weight * at.x;
			y += weight * at.y;
			whole += weight;
		}
	}
	return { x: x / whole, y: y / whole };
}

const angleBetween = (about: Point, a: Point, b: Point): number => {
	const [ax, ay, bx, by] = [a.x - about.x, a.y - about.y, b.x - about.x, b.y - about.y];
	return atan2(ax * by - ay * bx, ax * bx + ay * by);
};

function counterpart(
	{ pieces, x, y, diagonal }: Arrangement,
	p: number,
	among: readonly number[],
	movement: Movement
): PeriodicPair['pieces'][number] | undefined {
	const { start, end, length } = pieces[p]!;
	const [s, m, e] = mapped(
		[{ x: x[start]!, y: y[start]! }, partPoint(pieces[p]!, 0.5, length), { x: x[end]!, y: y[end]! }],
		(at) => moved(movement, at)
	);
	const isAt = (a: Point, b: Point) => hypot(a.x - b.x, a.y - b.y) <= near * diagonal;
	for (const to of among) {
		const q = pieces[to]!;
		const [qs, qe] = [
			{ x: x[q.start]!, y: y[q.start]! },
			{ x: x[q.end]!, y: y[q.end]! }
		];
		if (Math.abs(q.length - length) > 10 * near * diagonal || !isAt(m, partPoint(q, 0.5, q.length))) continue;
		if (isAt(s, qs) && isAt(e, qe)) return { from: p, to, reversed: false };
		if (isAt(s, qe) && isAt(e, qs)) return { from: p, to, reversed: true };
	}
	return undefined;
}
