import type { Model } from '../recipe/model.ts';
import type { Arrangement } from '../shape/arrangement.ts';
import type { Region } from '../shape/regions.ts';
import type { Finding } from './finding.ts';

/** What a check of the shape works on. */
export interface ShapeCheck {
	model: Model;
	arrangement: Arrangement;
	regions: readonly Region[];
	/** Where it reports. */
	findings: Finding[];
}

/** A coordinate or length in a sentence. */
export const short = (value: number): number => Number(value.toPrecision(6));

export const placeText = ({ x, y }: { x: number; y: number }): string => `(${short(x)}, ${short(y)})`;

/** The recipe's text of a thing of a statement, by its offsets there. */
export function sourceText(model: Model, line: number, { from, to }: { from: number; to: number }): string {
	const base = model.recipe.lines[line]!.from;
	return model.recipe.text.slice(base + from, base + to);
}

/** More findings of one kind than this are told in one. */
export const toldSingly = 12;

/** Reports a list of findings of one kind, or the first of them with a count where there are many. */
export function tell(findings: Finding[], list: readonly Finding[], many: (count: number) => string): void {
	if (list.length <= toldSingly) findings.push(...list);
	else findings.push({ ...list[0]!, message: many(list.length), pieces: [...new Set(list.flatMap((f) => f.pieces ?? []))] });
}
