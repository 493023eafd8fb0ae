import { junctionTurns } from '../../blocks/layout.ts';
import type { Domain } from '../../domain/domain.ts';
import type { Region } from '../../domain/regions.ts';
import type { Point } from '../../geometry/curve.ts';
import { faceAt } from '../../geometry/faces.ts';
import { leavingDirection, partPoint } from '../../geometry/parts.ts';
import { atan2 } from '../../numeric/elementary.ts';
import { addStatement } from '../../recipe/edits/edits.ts';
import { formatNumber } from '../../recipe/language/literals.ts';
import { freeName } from '../../recipe/edits/intents.ts';
import type { FillAdvice } from '../method.ts';

/** A corner that turns back by more than this, in radians, parts a region into blocks. */
const reentrant = -(45 * Math.PI) / 180;
/** No more corners than this are cut by one click. */
const mostCuts = 8;

/**
 * The cuts that part an L, a T or a step into blocks: from each re-entrant corner straight on along the one of its two
 * edges whose continuation is shorter, to the first curve that it meets.
 */
export function cutsAtCorners(
	{ model, arrangement }: Domain,
	{ name, statement, face, corners }: Region
): FillAdvice | undefined {
	if (corners || arrangement.faces[face]!.inner.length > 0) return undefined;
	const { pieces, x, y, diagonal } = arrangement;
	const walk = arrangement.faces[face]!.outer;
	const turns = junctionTurns(arrangement, walk);
	const found = walk.flatMap((h, k): { from: Point; to: Point; curve: string }[] => {
		if (turns[k]! > reentrant) return [];
		const [before, after] = [walk.at(k - 1)!, h];
		const j = after & 1 ? pieces[after >> 1]!.end : pieces[after >> 1]!.start;
		const from = { x: x[j]!, y: y[j]! };
		// Straight on from the edge that arrives, and from the one that leaves, looking back.
		const ahead = [
			leavingDirection(pieces[before >> 1]!, before & 1 ? 'start' : 'end'),
			leavingDirection(pieces[after >> 1]!, after & 1 ? 'end' : 'start')
		];
		const ways = ahead.flatMap((d) => {
			const hit = firstPiece(from, { x: -d.x, y: -d.y }, new Set([before >> 1, after >> 1]));
			return hit ? [hit] : [];
		});
		const shortest = ways.sort((a, b) => a.length - b.length)[0];
		return shortest ? [{ from, to: shortest.to, curve: pieces[shortest.piece]!.curve.name }] : [];
	});
	const cuts = found.filter(
		({ from, to }, k) => !found.slice(0, k).some((other) => isSame(other.from, to) && isSame(other.to, from))
	);
	if (cuts.length === 0 || cuts.length > mostCuts) return undefined;
	const first = Number(/\d+$/.exec(freeName(model.recipe, 'cut_'))![0]);
	const sources = cuts.map(({ from, to, curve }, k) => {
		const heading = (atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI;
		return `cut cut_${first + k} = (${formatNumber(from.x)}, ${formatNumber(from.y)}) to ${curve} heading ${formatNumber(Number(heading.toFixed(9)))} deg`;
	});
	const line = model.recipe.lines.find(
		(l) => l.statement?.kind === 'region' && 'name' in l.statement && (l.statement.name as { text: string }).text === statement
	);
	const isBounded = line ? /\bbounded\b/.test(model.recipe.text.slice(line.from, line.to)) : false;
	const at = cuts.map(({ from }) => from);
	const mend = isBounded ? { mend: addStatement(model.recipe, sources.join('\n')) } : {};
	return (report) => report.add('re-entrant', { region: name, at }, { at: at[0]!, ...mend });

	function isSame(p: Point, q: Point): boolean {
		return Math.abs(p.x - q.x) + Math.abs(p.y - q.y) < 1e-6 * diagonal;
	}

	/** The first piece of the outline that a ray inside the face meets. */
	function firstPiece(
		from: Point,
		d: Point,
		excluded: ReadonlySet<number>
	): { to: Point; length: number; piece: number } | undefined {
		const probe = { x: from.x + 1e-4 * diagonal * d.x, y: from.y + 1e-4 * diagonal * d.y };
		if (faceAt(arrangement, probe) !== face) return undefined;
		let best: { to: Point; length: number; piece: number } | undefined;
		for (const h of walk) {
			const p = h >> 1;
			if (excluded.has(p)) continue;
			const steps = 64;
			let a = partPoint(pieces[p]!, 0, pieces[p]!.length);
			for (let k = 1; k <= steps; k++) {
				const b = partPoint(pieces[p]!, k / steps, pieces[p]!.length);
				const [ux, uy] = [b.x - a.x, b.y - a.y];
				const cross = d.x * uy - d.y * ux;
				const t = ((a.x - from.x) * uy - (a.y - from.y) * ux) / cross;
				const v = ((a.x - from.x) * d.y - (a.y - from.y) * d.x) / cross;
				if (cross !== 0 && t > 1e-6 * diagonal && v >= -1e-9 && v <= 1 + 1e-9 && t < (best?.length ?? Infinity))
					best = { to: { x: from.x + t * d.x, y: from.y + t * d.y }, length: t, piece: p };
				a = b;
			}
		}
		return best;
	}
}
