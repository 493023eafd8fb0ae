import { pieceNames } from '../domain/references.ts';
import type { Point } from '../geometry/curve.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { atan } from '../numeric/elementary.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { Gap } from '../sizing/gaps.ts';
import type { Finding } from '../text/finding.ts';
import type { Report } from '../text/report.ts';
import { placeText, short } from '../text/sentences.ts';

interface NarrowGap {
	pieces: [number, number];
	at: Point;
	width: number;
	finest: number;
}

/** Gaps so narrow that elements do not become small enough for them by themselves: the narrowest place of every two pieces. */
export class NarrowGaps {
	private readonly found = new Map<number, NarrowGap>();

	constructor(private readonly arrangement: Arrangement) {}

	take(piece: number, at: Point, { width, beyond }: Gap, finest: number): void {
		const [p, q] = [Math.min(piece, beyond), Math.max(piece, beyond)];
		const key = p * this.arrangement.pieces.length + q;
		const previous = this.found.get(key);
		if (!previous || width < previous.width) this.found.set(key, { pieces: [p, q], at, width, finest });
	}

	report(report: Report, recipe: Recipe): void {
		if (this.found.size === 0) return;
		const names = pieceNames(this.arrangement);
		// Of the pieces that meet at one corner one gap is enough.
		const places = new Set<string>();
		const list: Finding[] = [];
		for (const { pieces, at, width, finest } of [...this.found.values()].sort((a, b) => a.width - b.width)) {
			const place = placeText(at);
			if (places.has(place)) continue;
			places.add(place);
			const angle = (atan(width / finest) * 180) / Math.PI;
			list.push({
				severity: 'note',
				code: 'narrow-gap',
				message: `between “${names[pieces[0]]}” and “${names[pieces[1]]}” at ${place} there are only ${short(width)}; elements of ${short(finest)} there have angles down to about ${short(angle)}°: widen the gap, or let sizes follow it`,
				at,
				pieces,
				mend: { label: 'Let sizes follow gaps', edits: addStatement(recipe, 'size by gap 1') }
			});
		}
		report.reportAll(list, (n) => `${n} gaps are far narrower than the elements around them; angles there are small`);
	}
}
