import { arrange } from '../core/geometry/arrangement.ts';
import type { Curve } from '../core/geometry/curve.ts';
import { writtenPointInFace } from '../core/geometry/inside.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import type { CoordinateFile, CoordinateFiles, DrawingFile } from '../core/recipe/model/model.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import { lengthUnits } from '../core/recipe/language/units.ts';
import { type FilledShapes, materialFaces, type MaterialRule } from './material.ts';

/** More faces than this are left for the user to name. */
const regionLimit = 2000;

/**
 * A recipe that takes the curves of some files, and makes a region of every face. What is material is filled with
 * triangles, the rest stays empty: which is which is for the user to change.
 */
export function recipeOfFiles(files: CoordinateFiles, rule: MaterialRule = 'as filled'): string {
	const lines = ['recipe 1'];
	const unit = Object.values(files)
		.map((file) => ('drawing' in file ? file.drawing.unit : undefined))
		.find((u) => u !== undefined && lengthUnits.includes(u));
	if (unit) lines.push(`units ${unit}`);
	lines.push('');
	let number = 0;
	for (const [name, file] of Object.entries(files)) {
		if ('drawing' in file) lines.push(drawingStatement(`part${++number}`, name, file.drawing));
		else if ('outlines' in file)
			file.outlines.forEach((_, k) =>
				lines.push(`polyline outline_${++number} = from "${name}"${file.outlines.length > 1 ? ` outline ${k + 1}` : ''}`)
			);
	}
	const { curves } = evaluateRecipe(parseRecipe(`${lines.join('\n')}\n`), files);
	const names = (k: number) => `region_${k}`;
	const regions = regionStatements(curves, shapesOf(Object.values(files), curves.length), rule, names);
	return `${[...lines, ...(regions.length > 0 ? ['', ...regions] : [])].join('\n')}\n`;
}

/** The statement that takes the curves of a drawing; of a mesh it takes the outline. */
export const drawingStatement = (part: string, file: string, drawing: DrawingFile, layers?: string[]): string =>
	`${drawing.mesh ? 'boundary' : 'drawing'} ${part} = from "${file}"${layerClause(drawing, layers)}`;

/** ` only "a", "b"` where a drawing has layers that are switched off. */
function layerClause(drawing: DrawingFile, wanted = shownLayers(drawing)): string {
	const all = new Set(drawing.curves.map((c) => c.layer));
	return wanted.length < all.size && wanted.length > 0 ? ` only ${wanted.map((layer) => `"${layer}"`).join(', ')}` : '';
}

/** The layers of a drawing that are not switched off or frozen in its file; all where none is shown. */
export function shownLayers({ curves, hidden = [] }: DrawingFile): string[] {
	const all = [...new Set(curves.map((c) => c.layer))];
	const shown = all.filter((layer) => !hidden.includes(layer));
	return shown.length > 0 ? shown : all;
}

/** The filled shapes of files, for the curves that their statements make, in their order; none where the numbers do not agree. */
function shapesOf(files: readonly CoordinateFile[], curveCount: number): FilledShapes {
	const none: FilledShapes = { fills: [], shapeOf: [] };
	const all = files.map((file): FilledShapes => {
		if ('drawing' in file) return shapesOfDrawing(file.drawing, shownLayers(file.drawing));
		return 'outlines' in file ? { fills: [], shapeOf: file.outlines.map(() => undefined) } : none;
	});
	const joined = all.reduce(
		(a, b) => ({
			fills: [...a.fills, ...b.fills],
			shapeOf: [...a.shapeOf, ...b.shapeOf.map((s) => (s === undefined ? s : s + a.fills.length))]
		}),
		none
	);
	return joined.shapeOf.length === curveCount ? joined : none;
}

/** The filled shapes of the curves of some layers. */
export const shapesOfDrawing = ({ curves, fills = [] }: DrawingFile, layers: readonly string[]): FilledShapes => ({
	fills,
	shapeOf: curves.filter((c) => layers.includes(c.layer)).map((c) => c.shape)
});

/** The statements that make a region of every face of some curves, and fill what is material. */
export function regionStatements(
	curves: Curve[],
	shapes: FilledShapes,
	rule: MaterialRule,
	nameOf: (number: number) => string
): string[] {
	const arrangement = arrange(curves);
	const faces = arrangement.faces.slice(0, regionLimit).map((_, f) => writtenPointInFace(arrangement, f));
	const isMaterial = materialFaces(
		arrangement,
		arrangement.faces.map((_, f) => faces[f]?.at),
		rule,
		shapes
	);
	const regions = faces.flatMap((place, f) => (place ? [{ name: nameOf(f + 1), at: place.text, solid: isMaterial[f]! }] : []));
	if (regions.length === 0) return [];
	const named = (solid: boolean) => regions.filter((r) => r.solid === solid).map((r) => r.name);
	const [solid, holes] = [named(true), named(false)];
	return [
		...regions.map((r) => `region ${r.name} at ${r.at}`),
		...(solid.length > 0 ? ['', `fill ${solid.join(', ')} triangles`] : []),
		...(holes.length > 0 ? [`fill ${holes.join(', ')} none`] : [])
	];
}
