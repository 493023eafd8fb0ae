import { writtenPointInFace } from '../../core/geometry/inside.ts';
import { addStatements, freeName, nameRegion, setFill } from '../../core/recipe/edits/intents.ts';
import { parseRecipe } from '../../core/recipe/language/parse.ts';
import type { FillKind } from '../../core/recipe/statements/fill.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import type { Shown } from './snapshot.ts';

/** The closed outlines that belong to no region, as indices of faces. */
export function bareFaces({ arrangement, regions }: Shown): number[] {
	const taken = new Set(regions.map(({ face }) => face));
	return arrangement.faces.flatMap((_, face) => (taken.has(face) ? [] : [face]));
}

/** Makes faces regions and fills them, in one edit; answers the new text, and the names. */
export function fillFaces(
	recipe: Recipe,
	{ arrangement }: Shown,
	faces: readonly number[],
	kind: FillKind
): { text: string; names: string[] } {
	const names: string[] = [];
	let current = recipe;
	for (const face of faces) {
		const place = writtenPointInFace(arrangement, face);
		if (!place) continue;
		const name = freeName(current, 'region_');
		names.push(name);
		current = parseRecipe(nameRegion(current, name, place.text));
	}
	if (names.length === 0) return { text: recipe.text, names };
	// That a region is empty is said too: then it is meant.
	const text = kind === 'none' ? addStatements(current, [`fill ${names.join(', ')} none`]) : setFill(current, names, kind);
	return { text, names };
}

/** What an outline that is no region yet is offered to be filled with. */
export const offeredFills: readonly [FillKind, string][] = [
	['structured', 'Structured'],
	['quads', 'Quads'],
	['triangles', 'Triangles']
];
