import { type Curve, curveLength, lengthAt, segmentCount } from '../geometry/curve.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { sameNumbers } from '../numeric/same.ts';
import { referenceText } from '../recipe/edits/intents.ts';
import { language } from '../recipe/language/language.ts';
import type { Model } from '../recipe/model/model.ts';
import type { CurveReference, Statement } from '../recipe/language/syntax.ts';
import type { TextEdit } from '../text/edit.ts';

/** A recipe's drawing, worked out. */
export interface Shape {
	model: Model;
	arrangement: Arrangement;
}

/** A piece as a stretch of its curve: shares of the curve's length, from 0 to 1 (or past 1 over the start of a closed one). */
interface Stretch {
	curve: Curve;
	from: number;
	to: number;
}

/**
 * Pieces are counted along their curve, so a new curve across it shifts the count: the edits that let
 * every `wall[2]` of an unchanged statement name after an edit what it named before. A piece that was cut
 * becomes all its parts. Where nothing corresponds any more the reference stays as it is.
 */
export function keepNames(before: Shape, after: Shape): TextEdit[] {
	const previousSources = new Set(before.model.recipe.lines.map(({ from, to }) => before.model.recipe.text.slice(from, to)));
	const edits: TextEdit[] = [];
	for (const line of after.model.recipe.lines) {
		const source = after.model.recipe.text.slice(line.from, line.to);
		if (!line.statement || !previousSources.has(source)) continue;
		for (const reference of pieceReferences(line.statement)) {
			const old = stretches(before, reference.name);
			const now = stretches(after, reference.name);
			const was = old[reference.piece - 1];
			if (!was || now.length === 0) continue;
			const still = now.flatMap((s, k) => (sameCurveAs(was, s) && covers(was, s) ? [k + 1] : []));
			if (still.length === 0 || (still.length === 1 && still[0] === reference.piece)) continue;
			const insert = still.map((piece) => referenceText({ ...reference, piece })).join(', ');
			edits.push({ from: line.from + reference.from, to: line.from + reference.to, insert });
		}
	}
	return edits;
}

type PieceReference = CurveReference & { piece: number };

/** References with a piece number in lists, where one may become several. */
function pieceReferences(statement: Statement): PieceReference[] {
	const lists = language().recordOf(statement).actsOn?.(statement) ?? [];
	return lists.flatMap((list) => [...list].filter((item): item is PieceReference => 'piece' in item));
}

/** The pieces of a name in the order in which they are counted. */
function stretches({ model, arrangement }: Shape, name: string): Stretch[] {
	return (model.curvesByName.get(name) ?? []).flatMap((c) => {
		const curve = arrangement.curves[c]!;
		const whole = curveLength(curve);
		const count = segmentCount(curve);
		const share = (t: number) => (t > count ? 1 + lengthAt(curve, t - count) / whole : lengthAt(curve, t) / whole);
		let reached = 0;
		return arrangement.byCurve[c]!.map(({ piece }, k) => {
			const p = arrangement.pieces[piece]!;
			// A shared piece may belong to another curve: then its length says how far it reaches on this one.
			const isSameCurve = p.curve === curve;
			const from = isSameCurve ? share(p.t0) : k === 0 ? 0 : reached;
			const to = isSameCurve ? share(p.t1) : from + p.length / whole;
			reached = to;
			return { curve, from, to };
		});
	});
}

/** Whether two stretches belong to what is the same curve before and after: by its name. */
const sameCurveAs = (a: Stretch, b: Stretch) => a.curve.name === b.curve.name;

/** Whether the middle of a new stretch lies in the old one, or the old one's in it. */
function covers(old: Stretch, now: Stretch): boolean {
	const moved = !sameNumbers(old.curve.data, now.curve.data);
	const within = (value: number, { from, to, curve }: Stretch) =>
		(value > from && value < to) ||
		(curve.closed && ((value + 1 > from && value + 1 < to) || (value - 1 > from && value - 1 < to)));
	const middle = ({ from, to }: Stretch) => (from + to) / 2;
	// On a curve that has moved, shares of the length say only roughly where things were.
	return within(middle(now), old) || (moved && within(middle(old), now));
}
