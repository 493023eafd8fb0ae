import { boundaryKinds, groupColours } from '../language/boundary-kinds.ts';
import { language } from '../language/language.ts';
import { expectedNext, parseRecipe } from '../language/parse.ts';
import { statements } from '../statements/table.ts';
import { knownUnits, lengthUnits } from '../language/units.ts';

/** Something that could stand where one types. */
export interface Offer {
	label: string;
	kind: 'statement' | 'word' | 'name' | 'unit';
	/** What it is, in a word or two. */
	detail?: string;
	/** A paragraph that says what it does. */
	doc?: string;
	/** What is put in instead of the label; `${…}` is to be filled in. */
	template?: string;
}

/** What could stand at a place of a recipe, as the grammar has it, and where the word that is typed there begins. */
export function offersAt(text: string, offset: number): { from: number; word: string; offers: Offer[] } {
	const start = text.lastIndexOf('\n', offset - 1) + 1;
	const before = text.slice(start, offset);
	const word = /[\p{L}_][\p{L}\p{N}_.]*$/u.exec(before)?.[0] ?? '';
	const ahead = before.slice(0, before.length - word.length);
	const offers: Offer[] = [];
	if (ahead.trim() === '')
		offers.push(
			...statements.map(({ words, form, title, doc }): Offer => ({
				label: words[0]!,
				kind: 'statement',
				detail: title,
				doc,
				template: form
			}))
		);
	else {
		const could = expectedNext(ahead);
		for (const label of could) if (/^“[a-z][a-z-]*”$/.test(label)) offers.push({ label: label.slice(1, -1), kind: 'word' });
		if (could.includes('a name')) offers.push(...namesFor(ahead, text));
		if (could.includes('a unit')) for (const label of knownUnits) offers.push({ label, kind: 'unit' });
	}
	return { from: offset - word.length, word, offers };
}

/** Names that fit: kinds after `as`, colours after `colour`, regions where regions stand, else what is defined. */
function namesFor(ahead: string, text: string): Offer[] {
	const words = (list: Iterable<string>, detail: string) => [...list].map((label): Offer => ({ label, kind: 'name', detail }));
	if (/\bas\s+$/.test(ahead)) return words(Object.keys(boundaryKinds), 'kind');
	if (/\bcolour\s+$/.test(ahead)) return words(Object.keys(groupColours), 'colour');
	if (/^\s*units\s+$/.test(ahead)) return words(lengthUnits, 'unit');
	if (/\babout\s+$/.test(ahead)) return words(['x', 'y'], 'axis');
	const { recordOf } = language();
	const regions = /^\s*fill\b|=\s*region\b/.test(ahead);
	return parseRecipe(text).lines.flatMap(({ statement }): Offer[] => {
		const record = statement && recordOf(statement);
		const definition = record?.defines?.(statement!);
		if (!definition || definition.space !== (regions ? 'region' : 'value')) return [];
		return [{ label: definition.name.text, kind: 'name', detail: record!.title.toLowerCase() }];
	});
}
