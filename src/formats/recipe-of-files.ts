import { evaluateRecipe } from '../core/recipe/evaluate.ts';
import type { CoordinateFiles } from '../core/recipe/model.ts';
import { parseRecipe } from '../core/recipe/parse.ts';
import { lengthUnits } from '../core/recipe/units.ts';
import { arrange } from '../core/geometry/arrangement.ts';
import type { Arrangement } from '../core/geometry/pieces.ts';
import { writtenPointInFace } from '../core/geometry/inside.ts';

/** More faces than this are left for the user to name. */
const regionLimit = 2000;

/**
 * A recipe that takes all curves of some files, and makes a region of every face. Outer faces and islands in
 * holes are filled with triangles, holes stay empty: which is which is for the user to change.
 */
export function recipeOfFiles(files: CoordinateFiles): string {
	const lines = ['recipe 1'];
	const unit = Object.values(files)
		.map((file) => ('drawing' in file ? file.drawing.unit : undefined))
		.find((u) => u !== undefined && lengthUnits.includes(u));
	if (unit) lines.push(`units ${unit}`);
	lines.push('');
	let number = 0;
	for (const [name, file] of Object.entries(files)) {
		if ('drawing' in file) lines.push(`drawing part${++number} = from "${name}"`);
		else if ('outlines' in file)
			file.outlines.forEach((_, k) =>
				lines.push(`polyline outline_${++number} = through "${name}"${file.outlines.length > 1 ? ` outline ${k + 1}` : ''}`)
			);
	}
	const model = evaluateRecipe(parseRecipe(`${lines.join('\n')}\n`), files);
	const arrangement = arrange(model.curves);
	const depth = depths(arrangement);
	const regions = arrangement.faces.slice(0, regionLimit).flatMap((_, f) => {
		const place = writtenPointInFace(arrangement, f);
		return place ? [{ name: `region_${f + 1}`, at: place.text, hole: depth[f]! % 2 === 1 }] : [];
	});
	if (regions.length > 0) lines.push('', ...regions.map((r) => `region ${r.name} at ${r.at}`));
	const named = (hole: boolean) => regions.filter((r) => r.hole === hole).map((r) => r.name);
	const [solid, holes] = [named(false), named(true)];
	if (solid.length > 0) lines.push('', `fill ${solid.join(', ')} triangles`);
	if (holes.length > 0) lines.push(`fill ${holes.join(', ')} none`);
	return `${lines.join('\n')}\n`;
}

/** How many outlines lie around each face, beside its own; faces of one outline count as one. */
function depths(arrangement: Arrangement): Int32Array {
	const { faces, sides } = arrangement;
	const depth = new Int32Array(faces.length).fill(-1);
	/** The face in which the outline of a face lies: on the other side of its hole walk. */
	const host = new Int32Array(faces.length).fill(-1);
	faces.forEach((face, f) => face.inner.forEach((walk) => walk.forEach((h) => sides[h ^ 1]! >= 0 && (host[sides[h ^ 1]!] = f))));
	// Faces that share an outline lie in the same hole.
	const of = (f: number, guard: number): number => {
		if (depth[f] !== -1) return depth[f]!;
		if (host[f]! >= 0 && guard < faces.length) return (depth[f] = of(host[f]!, guard + 1) + 1);
		return (depth[f] = 0);
	};
	const queue: number[] = [];
	faces.forEach((_, f) => host[f]! >= 0 && queue.push(f));
	for (let k = 0; k < queue.length; k++)
		for (const h of faces[queue[k]!]!.outer) {
			const other = sides[h ^ 1]!;
			if (other >= 0 && other !== host[queue[k]!] && host[other] === -1 && faces[other]!.outer.includes(h ^ 1)) {
				host[other] = host[queue[k]!]!;
				queue.push(other);
			}
		}
	faces.forEach((_, f) => of(f, 0));
	return depth;
}
