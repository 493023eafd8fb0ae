import { kindByName } from '../core/recipe/language/boundary-kinds.ts';
import { addStatements, freeName } from '../core/recipe/edits/intents.ts';
import { parseRecipe } from '../core/recipe/language/parse.ts';
import type { Recipe } from '../core/recipe/language/recipe.ts';
import { linesOf } from '../core/recipe/language/statement.ts';
import { evaluateRecipe } from '../core/recipe/model/evaluate.ts';
import type { DrawingFile } from '../core/recipe/model/model.ts';
import { group as groupStatement } from '../core/recipe/statements/group.ts';
import { layerName } from '../core/recipe/statements/shared/curve-files.ts';
import type { MaterialRule } from './material.ts';
import { drawingStatement, regionStatements, shapesOfDrawing } from './recipe-of-files.ts';

/** How a file is placed, as a user typed it; empty where it stays as it is. */
export interface Placing {
	scaled: string;
	/** In degrees, or an expression with its unit. */
	turned: string;
	/** `x, y`, or the name of a point. */
	moved: string;
}

const number = /^[\d.eE+\s-]+$/;
const degrees = (text: string) => (number.test(text) ? `${text.trim()} deg` : text.trim());
const pair = (text: string) => (text.trim().startsWith('(') || !text.includes(',') ? text.trim() : `(${text.trim()})`);

/** The clauses that place a file, each after a space. */
export function placingClauses({ scaled, turned, moved }: Placing): string {
	const scale = scaled.trim() && ` scaled ${scaled.trim()}`;
	const turn = turned.trim() && ` turned ${degrees(turned)}`;
	return `${scale}${turn}${moved.trim() && ` moved ${pair(moved)}`}`;
}

/** How rows of coordinates become curves. */
export interface OutlineOptions extends Placing {
	kind: 'spline' | 'polyline';
	/** The columns of x and y, from 1. */
	columns: readonly number[];
	/** Turns from which a joint is a corner, in degrees, or an expression; empty for the statement's own choice. */
	corners: string;
	/** The distance within which points are left out; empty for none. */
	within: string;
}

/** The recipe with a curve for each outline of a file of coordinates. */
export function withOutlines(recipe: Recipe, file: string, count: number, options: OutlineOptions): string {
	const { kind, columns, corners, within } = options;
	const chosen = columns[0] !== 1 || columns[1] !== 2 ? ` columns ${columns.join(', ')}` : '';
	const thin = within.trim() && ` thinned within ${within.trim()}`;
	const sharp = corners.trim() && ` corners above ${degrees(corners)}`;
	for (let k = 1; k <= count; k++) {
		const name = freeName(recipe, 'outline_');
		const which = count > 1 ? ` outline ${k}` : '';
		const statement = `${kind} ${name} = from "${file}"${which}${chosen}${placingClauses(options)}${thin}${sharp}`;
		recipe = parseRecipe(addStatements(recipe, [statement]));
	}
	return recipe.text;
}

/** A drawing to be imported, and what of it. */
export interface DrawingImport extends Placing {
	/** The name under which it stands beside the recipe. */
	file: string;
	drawing: DrawingFile;
	layers: readonly string[];
	/** What becomes of closed outlines. */
	material: MaterialRule | 'none';
	/** Whether each layer becomes a boundary group. */
	withGroups: boolean;
	/** The units of the recipe. */
	units: string;
}

/** The statement that takes the curves, placed. */
const curvesStatement = ({ file, drawing, layers, ...placing }: DrawingImport, part: string): string =>
	`${drawingStatement(part, file, drawing, [...layers])}${placingClauses(placing)}`;

/**
 * The statements that make regions of the closed outlines of a drawing, by what is taken for material; how many outlines
 * there are, and how many of them are filled.
 */
export function regionsOfDrawing(
	recipe: Recipe,
	wanted: DrawingImport,
	part = 'part'
): { statements: string[]; outlines: number; filled: number } {
	const { file, drawing, layers, material, units } = wanted;
	if (material === 'none' || layers.length === 0) return { statements: [], outlines: 0, filled: 0 };
	const text = `recipe 1\nunits ${units}\n${curvesStatement(wanted, part)}\n`;
	const { curves } = evaluateRecipe(parseRecipe(text), { [file]: { drawing } });
	const first = Number(/\d+$/.exec(freeName(recipe, 'region_'))![0]);
	const nameOf = (number: number) => `region_${first + number - 1}`;
	const all = regionStatements(curves, shapesOfDrawing(drawing, [...layers]), material, nameOf);
	const filled = all.find((s) => s.startsWith('fill ') && s.endsWith(' triangles'));
	return {
		statements: all.filter((s) => s !== ''),
		outlines: all.filter((s) => s.startsWith('region ')).length,
		filled: filled?.split(',').length ?? 0
	};
}

/** The recipe with the curves of a drawing, its regions, and a group for each layer. A group of that name stays as it is. */
export function withDrawing(recipe: Recipe, wanted: DrawingImport): string {
	const { drawing, layers } = wanted;
	const part = freeName(recipe, 'part');
	const { statements } = regionsOfDrawing(recipe, wanted, part);
	recipe = parseRecipe(addStatements(recipe, [curvesStatement(wanted, part), ...statements]));
	if (!wanted.withGroups) return recipe.text;
	const taken = new Set(linesOf(recipe.lines, groupStatement).map(({ statement }) => statement.name.text));
	for (const layer of layers) {
		const name = layerName(layer);
		const group = taken.has(name) ? `${part}_${name}` : name;
		const kind = drawing.mesh?.kinds[name] ?? kindByName(name) ?? 'wall';
		recipe = parseRecipe(addStatements(recipe, [`group ${group} = ${part}.${name} as ${kind}`]));
		taken.add(name);
	}
	return recipe.text;
}

/** A number that was typed in percent; NaN where it is none. */
export const percentOf = (text: string): number => Number(text.replace(',', '.'));

/** The recipe with sizes from the values of a result, which straight interpolation may miss by a share of their range in percent. */
export function withSizesFrom(recipe: Recipe, file: string, field: string | undefined, percent: number): string {
	const name = field !== undefined && !/^[\p{L}_][\p{L}\p{N}_]*$/u.test(field) ? `"${field}"` : field;
	const clause = name === undefined ? '' : ` field ${name}`;
	return addStatements(recipe, [`size from "${file}"${clause} error ${Number((percent / 100).toPrecision(6))}`]);
}
