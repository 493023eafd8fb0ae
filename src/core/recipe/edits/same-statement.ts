import type { Line, Recipe } from '../language/recipe.ts';

/**
 * Where a statement of a recipe stands in a newer text of it: what stands before the first change and after the last is found by its
 * text, what lies between by its place as long as there are as many statements. −1 where it is gone.
 */
export function lineIn(now: Recipe, before: Recipe, line: number): number {
	if (now.text === before.text) return line;
	const sourceOf = ({ text }: Recipe, { from, to }: Line) => text.slice(from, to);
	const same = (a: number, b: number) => sourceOf(before, before.lines[a]!) === sourceOf(now, now.lines[b]!);
	const [oldCount, newCount] = [before.lines.length, now.lines.length];
	const least = Math.min(oldCount, newCount);
	let start = 0;
	while (start < least && same(start, start)) start++;
	if (line < start) return line;
	let end = 0;
	while (end < least - start && same(oldCount - 1 - end, newCount - 1 - end)) end++;
	if (line >= oldCount - end) return line + newCount - oldCount;
	if (oldCount === newCount) return line;
	// Something was added or taken out beside it: it is the one that reads the same, if there is one.
	const found = now.lines.flatMap((_, k) => (k >= start && k < newCount - end && same(line, k) ? [k] : []));
	return found.length === 1 ? found[0]! : -1;
}
