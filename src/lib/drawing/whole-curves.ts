/** What the statement of a curve is called: a rectangle, of its sides. */
const ownerOf = (name: string): string => name.split('.', 1)[0]!;

/**
 * Curves by name, each once: where all of what one statement draws is among them, by its name, as a rectangle instead of its sides.
 *
 * @param curvesByName how many curves each name stands for
 */
export function wholeCurves(names: readonly string[], curvesByName: ReadonlyMap<string, readonly number[]>): string[] {
	const each = new Set(names);
	const of = new Map<string, number>();
	for (const name of each) of.set(ownerOf(name), (of.get(ownerOf(name)) ?? 0) + 1);
	const isWhole = (owner: string) => curvesByName.get(owner)?.length === of.get(owner);
	return [...new Set([...each].map((name) => (isWhole(ownerOf(name)) ? ownerOf(name) : name)))];
}
