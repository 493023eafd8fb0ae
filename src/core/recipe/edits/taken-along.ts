import type { Arrangement } from '../../geometry/pieces.ts';
import { type Curve, type Point, pointAt, segmentCount } from '../../geometry/curve.ts';
import { faceAt } from '../../geometry/faces.ts';
import { type Affine, mapPoint } from '../../geometry/transform.ts';
import type { TextEdit } from '../../text/edit.ts';
import { formatNumber, isLiteral, tidyNumber } from '../language/literals.ts';
import { parseStatement } from '../language/parse.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { isA } from '../language/statement.ts';
import type { CurveReference, Expression, Word } from '../language/syntax.ts';
import { drawnBy, scopeOf } from '../model/evaluate.ts';
import { evaluatePoint, ExpressionError } from '../model/expressions.ts';
import type { Model } from '../model/model.ts';
import { baffle } from '../statements/baffle.ts';
import { divide } from '../statements/divide.ts';
import { fill } from '../statements/fill.ts';
import { group } from '../statements/group.ts';
import { layers } from '../statements/layers.ts';
import { node } from '../statements/node.ts';
import { region } from '../statements/region.ts';
import { size } from '../statements/size.ts';

/** Of more copies regions and labels would fill the recipe. */
const mostCopies = 200;

/** What a drawing is, as far as it decides what belongs to a curve. */
interface Drawn {
	model: Model;
	arrangement: Arrangement;
	/** Regions by name, with the name of their statement and the face that each is. */
	regions: readonly { name: string; statement: string; face: number }[];
}

/** What goes with curves that are moved or copied. */
export interface TakenAlong {
	/** Edits of the recipe as it is before the statement. */
	edits: TextEdit[];
	/** Statements that come after it. */
	statements: string[];
	/** What a user should know of it, in sentences. */
	notes: string[];
}

/** One movement of curves: where they come from, where they come to, and how copies are called. */
interface Movement {
	map: Affine;
	/** Names of copies by those of what they are copies of; empty where the curves themselves move. */
	copies: Map<string, string>;
}

/**
 * What belongs to the curves that a statement moves, turns, scales, mirrors, copies or repeats: with curves that move themselves, the
 * places of regions, zones and nodes inside; with copies, regions with their fills and materials, divisions, layers and labels.
 *
 * @param recipe the recipe before the statement
 * @param source the statement
 */
export function takenAlong(drawn: Drawn, recipe: Recipe, source: string): TakenAlong {
	const taken: TakenAlong = { edits: [], statements: [], notes: [] };
	const moved = movementsOf(drawn.model, source);
	if (!moved) return taken;
	const inside = facesWithin(drawn, moved.sources);
	const { movements, owner } = moved;
	if (movements.length > mostCopies) {
		taken.notes.push(`Of more than ${mostCopies} copies the curves alone are made`);
		return taken;
	}
	if (movements[0]!.copies.size === 0) movePlaces(recipe, drawn, inside, movements[0]!.map, taken);
	else {
		copyRegions(recipe, drawn, inside, movements, taken);
		labelCopies(recipe, drawn.model, moved.sources, movements, owner, taken);
	}
	return taken;
}

/** The movements of a statement, and the curves that it moves, by their names; undefined where it is none. */
function movementsOf(model: Model, source: string): { movements: Movement[]; sources: Set<string>; owner: string } | undefined {
	const { statement } = parseStatement(source);
	if (!statement || !['move', 'turn', 'scale', 'mirror', 'copy', 'repeat'].includes(statement.kind)) return undefined;
	const drawn = drawnBy(model, source);
	if (!drawn) return undefined;
	const { before, after } = drawn;
	const changed = before.flatMap((curve, c) => (after[c] === curve ? [] : [c]));
	if (changed.length > 0) {
		const map = affineOf(changed.map((c) => [before[c]!, after[c]!]));
		return map && { movements: [{ map, copies: new Map() }], sources: new Set(changed.map((c) => before[c]!.name)), owner: '' };
	}
	const references = (statement as unknown as { curves?: CurveReference[] }).curves ?? [];
	const originals = references.flatMap(({ name }) => model.curvesByName.get(name) ?? []).map((c) => before[c]!);
	const made = after.slice(before.length);
	if (originals.length === 0 || made.length === 0 || made.length % originals.length !== 0) return undefined;
	const movements: Movement[] = [];
	for (let from = 0; from < made.length; from += originals.length) {
		const map = affineOf(originals.map((curve, k) => [curve, made[from + k]!]));
		if (!map) return undefined;
		movements.push({ map, copies: new Map(originals.map(({ name }, k) => [name, made[from + k]!.name])) });
	}
	const owner = (statement as unknown as { name?: Word }).name?.text ?? '';
	return { movements, sources: new Set(originals.map(({ name }) => name)), owner };
}

/** The map that takes curves to others, from three of their points that lie on no line; undefined where they all do. */
function affineOf(pairs: readonly (readonly [Curve, Curve])[]): Affine | undefined {
	const points: [Point, Point][] = pairs.flatMap(([from, to]) => {
		const last = segmentCount(from);
		return [0, last / 3, last / 2, (2 * last) / 3, last].map((t): [Point, Point] => [pointAt(from, t), pointAt(to, t)]);
	});
	const [p, P] = points[0]!;
	const away = ([q]: [Point, Point]) => (q.x - p.x) ** 2 + (q.y - p.y) ** 2;
	const [q, Q] = points.reduce((best, one) => (away(one) > away(best) ? one : best));
	const across = ([r]: [Point, Point]) => Math.abs((q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x));
	const third = points.reduce((best, one) => (across(one) > across(best) ? one : best));
	if (!(across(third) > 1e-9 * away([q, Q]))) return undefined;
	const [r, R] = third;
	const [ux, uy, vx, vy] = [q.x - p.x, q.y - p.y, r.x - p.x, r.y - p.y];
	const det = ux * vy - uy * vx;
	const along = (du: number, dv: number): [number, number] => [(du * vy - dv * uy) / det, (ux * dv - vx * du) / det];
	const [a, b] = along(Q.x - P.x, R.x - P.x);
	const [c, d] = along(Q.y - P.y, R.y - P.y);
	return { a, b, c, d, e: P.x - a * p.x - b * p.y, f: P.y - c * p.x - d * p.y };
}

/** The faces whose outer outlines are of some curves alone. */
function facesWithin({ arrangement, model }: Drawn, curves: ReadonlySet<string>): Set<number> {
	const nameOf = new Map(
		arrangement.byCurve.flatMap((list, c) => list.map(({ piece }) => [piece, model.curves[c]!.name] as const))
	);
	return new Set(
		arrangement.faces.flatMap(({ outer }, f) =>
			outer.length > 0 && outer.every((half) => curves.has(nameOf.get(half >> 1) ?? '')) ? [f] : []
		)
	);
}

/** Places of statements that stand in faces which move. */
function movePlaces(recipe: Recipe, drawn: Drawn, inside: ReadonlySet<number>, map: Affine, taken: TakenAlong): void {
	const { model, arrangement } = drawn;
	const scope = scopeOf(model);
	for (const line of recipe.lines) {
		const { statement } = line;
		if (!isA(region, statement) && !isA(node, statement) && !isA(size, statement) && !isA(fill, statement)) continue;
		for (const place of placesIn(statement)) {
			let at: Point;
			try {
				at = evaluatePoint(place, scope);
			} catch (error) {
				// What has no place stays as it is written.
				if (error instanceof ExpressionError) continue;
				throw error;
			}
			if (!inside.has(faceAt(arrangement, at))) continue;
			const to = mapPoint(map, at);
			taken.edits.push({ from: line.from + place.from, to: line.from + place.to, insert: written(to, arrangement.diagonal) });
			if (!isNumbers(place))
				taken.notes.push(
					`A place that was written as “${recipe.text.slice(line.from + place.from, line.from + place.to)}” is now one in numbers`
				);
		}
	}
}

const isNumbers = (e: Expression): boolean => e.kind === 'pair' && isLiteral(e.x) && isLiteral(e.y);

const written = ({ x, y }: Point, size: number) => `(${formatNumber(tidyNumber(x, size))}, ${formatNumber(tidyNumber(y, size))})`;

/** The expressions of a statement that are places. */
function placesIn(statement: object): Expression[] {
	const found: Expression[] = [];
	const walk = (value: unknown, key: string): void => {
		if (typeof value !== 'object' || value === null) return;
		if (Array.isArray(value)) {
			for (const item of value) walk(item, key);
			return;
		}
		const isPlace = 'kind' in value && ('from' in value ? (value.kind === 'pair' ? true : placeKeys.has(key)) : false);
		if (isPlace) found.push(value as Expression);
		else for (const [k, item] of Object.entries(value)) if (k !== 'clauses') walk(item, k);
	};
	walk(statement, '');
	return found;
}

/** Parts of statements that are places, whatever they are written as. */
const placeKeys: ReadonlySet<string> = new Set(['at', 'around', 'centre']);

/** Regions of copies, filled and with the material of the original. */
function copyRegions(
	recipe: Recipe,
	{ model, arrangement, regions }: Drawn,
	inside: ReadonlySet<number>,
	movements: readonly Movement[],
	taken: TakenAlong
): void {
	const names = new Set<string>(regions.map(({ name }) => name));
	for (const line of recipe.lines) {
		const { statement } = line;
		if (!isA(region, statement) || !statement.at) continue;
		const found = regions.find((r) => r.statement === statement.name.text);
		if (!found || !inside.has(found.face)) continue;
		const at = evaluatePoint(statement.at, scopeOf(model));
		const copies = movements.map(({ map }) => {
			const name = freeName(names, statement.name.text);
			names.add(name);
			taken.statements.push(`region ${name} at ${written(mapPoint(map, at), arrangement.diagonal)}`);
			return name;
		});
		for (const other of recipe.lines) nameBeside(other, statement.name.text, copies, taken);
	}
}

/** The first free name of the form name_2, name_3, … */
function freeName(taken: ReadonlySet<string>, name: string): string {
	let number = 2;
	while (taken.has(`${name}_${number}`)) number++;
	return `${name}_${number}`;
}

/** Names regions beside another in what a statement says of it: its fill, its material. */
function nameBeside({ statement, from }: Line, region: string, copies: readonly string[], taken: TakenAlong): void {
	if (!isA(fill, statement) && !isA(group, statement)) return;
	const word = (statement.regions ?? []).find((one) => one.text === region);
	if (!word) return;
	if (isA(fill, statement) && statement.clauses.some((c) => c.name === 'corners'))
		taken.notes.push(`${copies.join(', ')} have no fill: the corners of “${region}” are its own`);
	else taken.edits.push({ from: from + word.to, to: from + word.to, insert: copies.map((name) => `, ${name}`).join('') });
}

/** Names copies beside what they are copies of, wherever that is divided, labelled, grows layers or has a size near it. */
function labelCopies(
	recipe: Recipe,
	model: Model,
	sources: ReadonlySet<string>,
	movements: readonly Movement[],
	owner: string,
	taken: TakenAlong
): void {
	for (const line of recipe.lines) {
		const { statement } = line;
		if (!isA(divide, statement) && !isA(layers, statement) && !isA(baffle, statement) && !isA(group, statement)) continue;
		const references = statement.pieces ?? [];
		const own = references.filter(
			(r) => r.source === undefined && !r.through && curvesOf(model, r).every((name) => sources.has(name))
		);
		if (own.length === 0) continue;
		const covered = new Set(own.filter((r) => r.piece === undefined).flatMap((r) => curvesOf(model, r)));
		const names =
			covered.size === sources.size
				? [owner]
				: own.flatMap((r) =>
						movements.flatMap(({ copies }) =>
							curvesOf(model, r).map((name) => `${copies.get(name)!}${r.piece === undefined ? '' : `[${r.piece}]`}`)
						)
					);
		const last = own.at(-1)!;
		const at = line.from + last.to;
		taken.edits.push({ from: at, to: at, insert: names.map((name) => `, ${name}`).join('') });
	}
}

/** The names of the curves that a reference stands for. */
const curvesOf = (model: Model, { name }: CurveReference): string[] =>
	(model.curvesByName.get(name) ?? []).map((c) => model.curves[c]!.name);
