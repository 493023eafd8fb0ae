import { pieceNames } from '../domain/references.ts';
import type { Point } from '../geometry/curve.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { atan } from '../numeric/elementary.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import type { Recipe } from '../recipe/language/recipe.ts';
import type { Gap } from '../sizing/gaps.ts';
import type { Finding } from '../text/finding.ts';
import type { Report } from '../findings/report.ts';
import { placeText } from '../text/sentences.ts';

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
		const mend = addStatement(recipe, 'size by gap 1');
		for (const { pieces, at, width, finest } of [...this.found.values()].sort((a, b) => a.width - b.width)) {
			const place = placeText(at);
			if (places.has(place)) continue;
			places.add(place);
			const angle = (atan(width / finest) * 180) / Math.PI;
			list.push(
				report.finding(
					'narrow-gap',
					{ one: names[pieces[0]]!, other: names[pieces[1]]!, at: place, width, size: finest, angle },
					{ at, pieces, mend }
				)
			);
		}
		report.addAll(list);
	}
}
