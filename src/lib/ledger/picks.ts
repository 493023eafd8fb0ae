import { resolvePieces } from '../../core/domain/references.ts';
import { Report } from '../../core/findings/report.ts';
import type { PieceSet } from '../../core/recipe/language/syntax.ts';
import type { Shown } from '../desk/snapshot.ts';

/** A set of pieces that can be selected at once, with the description that a recipe writes for it. */
export interface Pick {
	source: string;
	set: PieceSet;
}

const degree = Math.PI / 180;
const ways: [string, number][] = [
	['up', 90],
	['down', 270],
	['left', 180],
	['right', 0]
];

/** More pairs of regions than this are not offered. */
const mostPairs = 12;

/** What can be picked by a description in a drawing: outline, holes, what regions share. */
export function picksOf(result: Shown, within: number): Pick[] {
	const filled = result.regions.filter((r) => r.fill !== 'none');
	const names = [...new Set(filled.map((r) => r.statement))];
	const picks: Pick[] = [
		{ source: 'outer', set: { kind: 'outer' } },
		{ source: 'rest', set: { kind: 'rest' } }
	];
	for (const [way, angle] of ways)
		picks.push({
			source: `outer facing ${way} within ${within} deg`,
			set: { kind: 'outer', facing: { angle: angle * degree, within: within * degree } }
		});
	for (const name of names) picks.push({ source: `holes of ${name}`, set: { kind: 'holes', regions: [name] } });
	const pairs: Pick[] = [];
	names.forEach((a, i) => {
		for (const b of names.slice(i + 1)) pairs.push({ source: `between ${a}, ${b}`, set: { kind: 'between', regions: [a, b] } });
	});
	return [...picks, ...pairs.slice(0, 400)].filter((pick) => pieceOf(result, pick).length > 0).slice(0, picks.length + mostPairs);
}

/** The pieces of a pick. */
export function pieceOf({ model, arrangement, regions }: Shown, { set, source }: Pick): number[] {
	const reference = { name: '', found: set, source, from: 0, to: 0 };
	return resolvePieces(model, arrangement, [reference], new Report(), regions).map(({ piece }) => piece);
}
