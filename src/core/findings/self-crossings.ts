import { meetings } from '../geometry/meet.ts';
import { lineCurve } from '../geometry/build.ts';
import { pointAt, segmentCount, type Curve, type Point } from '../geometry/curve.ts';
import { dropPoints } from './points-of-curves.ts';
import { placeText } from '../text/sentences.ts';
import type { ShapeCheck } from './shape-check.ts';
import type { Finding } from '../text/finding.ts';

/** Curves that cross or touch themselves, and spurs, where a curve runs out and back over itself. */
export function checkSelfCrossings({ model, arrangement, report }: ShapeCheck): void {
	const { byCurve, pieces, curves, x, y } = arrangement;
	const crossings: Finding[] = [];
	const spurs: Finding[] = [];
	byCurve.forEach((list, c) => {
		const curve = curves[c]!;
		const rows = model.fileLines.get(curve.name);
		const places = list.map(({ piece, reversed }, k) => {
			const { start, end } = pieces[piece]!;
			return { k, piece, junction: reversed ? end : start };
		});
		const seen = new Map<number, number>();
		for (const { k, piece } of places) {
			const before = seen.get(piece);
			if (before === undefined) {
				seen.set(piece, k);
				continue;
			}
			if (before !== k - 1) continue;
			// Out over a piece and straight back: the tip is where the two meet.
			const tip = places[k]!.junction;
			const at = { x: x[tip]!, y: y[tip]! };
			const number = pointNumber(curve, at);
			const mend = number === undefined ? undefined : dropPoints(model, c, [number]);
			spurs.push({
				severity: 'warning',
				code: 'spur',
				message: `\`${curve.name}\` runs out to ${placeText(at)} and straight back over itself${lineText(rows, number)}`,
				at,
				pieces: [piece],
				...(mend ? { mend } : {})
			});
		}
		const visited = new Map<number, number>();
		const spurPieces = new Set(list.filter(({ piece }, k) => seen.get(piece) !== k).map(({ piece }) => piece));
		for (const { k, junction } of places) {
			const before = visited.get(junction);
			visited.set(junction, k);
			if (before === undefined || spurPieces.has(list[k]!.piece) || spurPieces.has(list[before]!.piece)) continue;
			const at = { x: x[junction]!, y: y[junction]! };
			const [s, t] = parametersAt(curve, at, arrangement.tolerance);
			const mend =
				s === undefined || t === undefined ? undefined : dropPoints(model, c, offenders(curve, s, t, arrangement.tolerance));
			const lines =
				rows && s !== undefined && t !== undefined
					? ` (lines ${rows[s]}–${rows[s + 1] ?? rows[0]} and ${rows[t]}–${rows[t + 1] ?? rows[0]} of its file)`
					: '';
			crossings.push({
				severity: 'warning',
				code: 'self-crossing',
				message: `\`${curve.name}\` crosses itself at ${placeText(at)}${lines}`,
				at,
				pieces: [list[before]!.piece, list[k]!.piece],
				...(mend ? { mend } : {})
			});
		}
	});
	report.tell(crossings, (n) => `curves cross themselves at ${n} places`);
	report.tell(spurs, (n) => `curves run out and back over themselves at ${n} places`);
}

const lineText = (rows: Uint32Array | undefined, number: number | undefined) =>
	rows && number !== undefined ? ` (line ${rows[number]} of its file)` : '';

/** The number of the joint of a curve at a point. */
function pointNumber(curve: Curve, at: Point): number | undefined {
	for (let t = 0; t < segmentCount(curve); t++) {
		const p = pointAt(curve, t);
		if (p.x === at.x && p.y === at.y) return t;
	}
	return undefined;
}

/** The first two segments of a curve through a point, other than neighbours. */
function parametersAt(curve: Curve, at: Point, tolerance: number): [number?, number?] {
	const probe = lineCurve(
		'',
		{ x: at.x - 4 * tolerance, y: at.y - 3 * tolerance },
		{ x: at.x + 4 * tolerance, y: at.y + 3 * tolerance }
	);
	const segments = [
		...new Set(meetings(curve, probe, 4 * tolerance).map((m) => Math.min(Math.floor(m.s), segmentCount(curve) - 1)))
	];
	const on = segments.length >= 2 ? segments : segmentsThrough(curve, at, tolerance);
	const first = on[0];
	return [
		first,
		on.find((s) => first !== undefined && s > first + 1 && !(curve.closed && first === 0 && s === segmentCount(curve) - 1))
	];
}

function segmentsThrough(curve: Curve, at: Point, tolerance: number): number[] {
	const found: number[] = [];
	for (let i = 0; i < segmentCount(curve); i++) {
		const [a, b] = [pointAt(curve, i), pointAt(curve, i + 1)];
		const [dx, dy] = [b.x - a.x, b.y - a.y];
		const length = dx * dx + dy * dy;
		const f = Math.min(1, Math.max(0, ((at.x - a.x) * dx + (at.y - a.y) * dy) / length));
		const [ex, ey] = [a.x + f * dx - at.x, a.y + f * dy - at.y];
		if (ex * ex + ey * ey <= 16 * tolerance * tolerance) found.push(i);
	}
	return found;
}

/** The points whose loss ends the crossing of segments s and t: one if one will do, else the whole loop between them. */
function offenders(curve: Curve, s: number, t: number, tolerance: number): number[] {
	const count = segmentCount(curve);
	const n = curve.closed ? count : count + 1;
	const p = (k: number) => pointAt(curve, ((k % n) + n) % n);
	for (const [k, other] of [
		[s + 1, t],
		[t, s],
		[s, t],
		[t + 1, s]
	] as const) {
		if (!curve.closed && (k <= 0 || k >= n - 1)) continue;
		const bridge = lineCurve('', p(k - 1), p(k + 1));
		const rest = lineCurve('', p(other), p(other + 1));
		const touching = [k - 1, k + 1].some((m) => (m + n) % n === other % n || (m + n) % n === (other + 1) % n);
		if (!touching && meetings(bridge, rest, tolerance).length === 0) return [((k % n) + n) % n];
	}
	return t - s <= 6 ? Array.from({ length: t - s }, (_, k) => s + 1 + k) : [];
}
