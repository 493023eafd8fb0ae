import type { Arrangement } from '../shape/arrangement.ts';
import type { Finding } from './finding.ts';

/** Reports junctions at which a single piece ends; inside a face such a piece stays in the mesh as an inner edge. */
export function checkEnds(arrangement: Arrangement, findings: Finding[]): void {
	const { pieces, degree, x, y, sides, byCurve, curves } = arrangement;
	const curveOf = new Map<number, string>();
	byCurve.forEach((list, c) => list.forEach(({ piece }) => curveOf.set(piece, curves[c]!.name)));
	pieces.forEach((piece, p) => {
		for (const j of [piece.start, piece.end]) {
			if (degree[j] !== 1) continue;
			const inside = sides[2 * p]! >= 0;
			findings.push({
				severity: inside ? 'note' : 'warning',
				code: 'open-end',
				message: `\`${curveOf.get(p)}\` ends at (${Number(x[j]!.toPrecision(6))}, ${Number(y[j]!.toPrecision(6))}) without meeting another curve${inside ? '; it stays in the mesh as an inner edge' : ''}`,
				at: { x: x[j]!, y: y[j]! },
				pieces: [p]
			});
		}
	});
}
