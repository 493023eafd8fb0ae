import type { BoundaryKind, GroupColour } from './boundary-kinds.ts';
import { addStatement, removeStatement, setClause } from './edits.ts';
import { applyEdits, type TextEdit } from '../text/edit.ts';
import { parseRecipe, type Line, type Recipe } from './parse.ts';
import type { CurveReference, FillKind, StatementKind, StatementOf } from './syntax.ts';

/**
 * The edits of drawing and ledger, in their own words: what is to hold afterwards, for things by
 * name. Each works on the current recipe alone and changes as few characters as will do. They give
 * the new text.
 */

/**
 * The count or the bias of pieces, as the source of the clause (`into 40`, `bias 3 toward wall`),
 * or null for none.
 *
 * @param all the names of all pieces: a statement about a whole curve is changed itself only when
 *   all of its pieces are meant
 */
export function setDivision(
	recipe: Recipe,
	pieces: readonly string[],
	clause: 'count' | 'spacing',
	source: string | null,
	all: readonly string[]
): string {
	const edits: TextEdit[] = [];
	const open: string[] = [];
	const handled = new Set<Line>();
	for (const piece of pieces) {
		const covering = linesOf(recipe, 'divide').filter(({ statement }) => statement.pieces.some((r) => covers(r, piece)));
		const ruling = covering.filter(({ statement }) => statement.clauses.some((c) => c.name === clause)).at(-1);
		const own = (line: DivideLine | undefined) =>
			line?.statement.pieces.every((r) => all.every((p) => !covers(r, p) || pieces.includes(p)));
		const target = own(ruling) ? ruling : ruling ? undefined : covering.filter(own).at(-1);
		if (!target) {
			if (ruling || source !== null) open.push(piece);
			continue;
		}
		if (handled.has(target.line)) continue;
		handled.add(target.line);
		const isLast = target.statement.clauses.every((c) => c.name === 'pieces' || c.name === clause);
		edits.push(
			...(source === null && isLast
				? removeStatement(recipe, recipe.lines.indexOf(target.line))
				: setClause(target.line, clause, source))
		);
	}
	// What a shared statement says is overruled by a later one; an even spacing is a bias of 1.
	const overrule = source ?? (clause === 'spacing' ? 'bias 1 toward both' : null);
	if (open.length > 0 && overrule !== null) edits.push(...addStatement(recipe, `divide ${open.join(', ')} ${overrule}`));
	return applyEdits(recipe.text, edits);
}

type DivideLine = LineOf<'divide'>;

interface LineOf<K extends StatementKind> {
	line: Line;
	statement: StatementOf<K>;
}

function linesOf<K extends StatementKind>(recipe: Recipe, kind: K): LineOf<K>[] {
	return recipe.lines.flatMap((line) =>
		line.statement?.kind === kind ? [{ line, statement: line.statement as StatementOf<K> }] : []
	);
}

/** Whether a reference stands for a piece: itself, the curve that the piece is of, or the rectangle that has it as a side. */
function covers(reference: CurveReference, piece: string): boolean {
	const curve = piece.replace(/\[\d+\]$/, '');
	const written = referenceText(reference);
	return written === piece || written === curve || written === curve.split('.', 1)[0];
}

/** A reference as a recipe writes it. */
export const referenceText = (r: CurveReference) => (r.piece === undefined ? r.name : `${r.name}[${r.piece}]`);

/**
 * What regions are filled with. A fill of its own replaces the one that a shared statement gave.
 *
 * @param rest what the statement says after the kind: `size 2`, or corners and divisions across
 */
export function setFill(recipe: Recipe, regions: readonly string[], fill: FillKind, rest = ''): string {
	const statements = linesOf(recipe, 'fill');
	const source = rest === '' ? fill : `${fill} ${rest}`;
	const edits: TextEdit[] = [];
	const open: string[] = [];
	const handled = new Set<Line>();
	for (const region of regions) {
		const ruling = statements.filter(({ statement }) => statement.regions.some((r) => r.text === region)).at(-1);
		if (!ruling || !ruling.statement.regions.every((r) => regions.includes(r.text))) {
			open.push(region);
			continue;
		}
		if (handled.has(ruling.line)) continue;
		handled.add(ruling.line);
		const { line, statement } = ruling;
		const kind = statement.clauses.find((c) => c.name === 'fill')!;
		const end = Math.max(...statement.clauses.map((c) => c.to));
		// What does not change is left alone.
		if (statement.fill === fill)
			edits.push({ from: line.from + kind.to, to: line.from + end, insert: rest === '' ? '' : ` ${rest}` });
		else edits.push({ from: line.from + kind.from, to: line.from + end, insert: source });
	}
	if (open.length > 0) edits.push(...addStatement(recipe, `fill ${open.join(', ')} ${source}`));
	return applyEdits(recipe.text, edits);
}

/** A recipe with more statements, one a line; the same where there are none. */
export function withStatements(recipe: Recipe, source: string): Recipe {
	return source === '' ? recipe : parseRecipe(applyEdits(recipe.text, addStatement(recipe, source)));
}

/** The corners of a structured region; what else its fill, on the line given, says of its layout stays. */
export function setCorners(recipe: Recipe, region: string, fillLine: number, corners: readonly string[]): string {
	const line = recipe.lines[fillLine];
	const rest = ['across', 'spacing', 'smooth'].flatMap((name) => {
		const span = line?.statement?.clauses.find((c) => c.name === name);
		return span ? [recipe.text.slice(line!.from + span.from, line!.from + span.to)] : [];
	});
	return setFill(recipe, [region], 'structured', [`corners ${corners.join(', ')}`, ...rest].join(' '));
}

/** The size that holds where nothing finer is asked, or how fast sizes may grow; null takes the growth away. */
export function setSize(recipe: Recipe, clause: 'size' | 'growth', source: string | null): string {
	const own = linesOf(recipe, 'size').at(-1);
	if (own)
		return applyEdits(
			recipe.text,
			setClause(own.line, clause, clause === 'growth' && source !== null ? `growth ${source}` : source)
		);
	return clause === 'size' && source !== null ? applyEdits(recipe.text, addStatement(recipe, `size ${source}`)) : recipe.text;
}

/** Names a region by a point inside it. */
export function nameRegion(recipe: Recipe, name: string, at: string): string {
	return applyEdits(recipe.text, addStatement(recipe, `region ${name} at ${at}`));
}

/** Puts pieces into a group, made if need be, and takes them out of the others: an edge belongs to one group. */
export function labelPieces(recipe: Recipe, group: string, pieces: readonly string[], kind: BoundaryKind = 'wall'): string {
	let current = recipe;
	for (const { statement } of linesOf(recipe, 'group'))
		if (statement.name.text !== group && statement.pieces)
			current = parseRecipe(withoutMembers(current, statement.name.text, pieces));
	const own = linesOf(current, 'group').find(({ statement }) => statement.name.text === group);
	if (!own) return applyEdits(current.text, addStatement(current, `group ${group} = ${pieces.join(', ')} as ${kind}`));
	const present = own.statement.pieces ?? [];
	const added = pieces.filter((p) => !present.some((r) => covers(r, p)));
	const list = [...present.map(referenceText), ...added].join(', ');
	return applyEdits(current.text, setClause(own.line, 'members', list));
}

/** Takes pieces out of a group; a group left empty goes. */
export function unlabelPieces(recipe: Recipe, group: string, pieces: readonly string[]): string {
	return withoutMembers(recipe, group, pieces);
}

function withoutMembers(recipe: Recipe, group: string, pieces: readonly string[]): string {
	const own = linesOf(recipe, 'group').find(({ statement }) => statement.name.text === group);
	if (!own?.statement.pieces) return recipe.text;
	const left = own.statement.pieces.filter((r) => !pieces.includes(referenceText(r)));
	if (left.length === own.statement.pieces.length) return recipe.text;
	if (left.length === 0) return applyEdits(recipe.text, removeStatement(recipe, recipe.lines.indexOf(own.line)));
	return applyEdits(recipe.text, setClause(own.line, 'members', left.map(referenceText).join(', ')));
}

/** The kind of groups. */
export function setGroupKind(recipe: Recipe, groups: readonly string[], kind: BoundaryKind): string {
	return setGroupClause(recipe, groups, 'kind', `as ${kind}`);
}

/** The colour of groups. */
export function setGroupColour(recipe: Recipe, groups: readonly string[], colour: GroupColour): string {
	return setGroupClause(recipe, groups, 'colour', `colour ${colour}`);
}

function setGroupClause(recipe: Recipe, groups: readonly string[], clause: string, source: string): string {
	const lines = linesOf(recipe, 'group').filter(({ statement }) => groups.includes(statement.name.text));
	return applyEdits(
		recipe.text,
		lines.flatMap(({ line }) => setClause(line, clause, source))
	);
}

/** One coordinate of a point, as an expression. A point that is not written as (x, y) stays as it is. */
export function setCoordinate(recipe: Recipe, point: string, axis: 'x' | 'y', source: string): string {
	const own = linesOf(recipe, 'point').find(({ statement }) => statement.name.text === point);
	if (own?.statement.at.kind !== 'pair') return recipe.text;
	const { from, to } = own.statement.at[axis];
	return applyEdits(recipe.text, [{ from: own.line.from + from, to: own.line.from + to, insert: source }]);
}

/** The value of a parameter, as an expression. */
export function setParameter(recipe: Recipe, name: string, source: string): string {
	const own = linesOf(recipe, 'let').find(({ statement }) => statement.name.text === name);
	return own ? applyEdits(recipe.text, setClause(own.line, 'value', source)) : recipe.text;
}

/** Deletes statements that define points, curves, regions or groups by name, and what other lists say of them. */
export function deleteThings(
	recipe: Recipe,
	things: { values?: readonly string[]; regions?: readonly string[]; groups?: readonly string[] }
): string {
	const { regions = [], groups = [] } = things;
	const { values, gone } = withDependents(recipe, things.values ?? []);
	const edits: TextEdit[] = [];
	recipe.lines.forEach((line, index) => {
		const { statement } = line;
		if (!statement) return;
		const kept = (list: CurveReference[]) =>
			list.filter((r) => !values.includes(r.name.split('.', 1)[0]!) && !values.includes(r.name));
		const shorten = (clause: string, before: number, list: string[], prefix = '') => {
			if (list.length === before) return;
			edits.push(...(list.length === 0 ? removeStatement(recipe, index) : setClause(line, clause, prefix + list.join(', '))));
		};
		switch (statement.kind) {
			case 'region':
				if (regions.includes(statement.name.text)) edits.push(...removeStatement(recipe, index));
				else if (statement.bounds)
					shorten('bounds', statement.bounds.length, kept(statement.bounds).map(referenceText), 'bounded by ');
				return;
			case 'divide':
				if (statement.like && kept([statement.like]).length === 0 && kept(statement.pieces).length > 0)
					edits.push(
						...(statement.clauses.some((c) => c.name === 'count')
							? setClause(line, 'spacing', null)
							: removeStatement(recipe, index))
					);
				return shorten('pieces', statement.pieces.length, kept(statement.pieces).map(referenceText));
			case 'zone': {
				const { zone } = statement;
				const named = 'references' in zone ? zone.references : zone.kind === 'curve' ? [zone.curve] : [];
				const left = kept(named);
				if (named.length > 0 && left.length === 0) edits.push(...removeStatement(recipe, index));
				else if (left.length < named.length) edits.push(...shortenReferences(line, named, left));
				return;
			}
			case 'fill':
				return shorten(
					'regions',
					statement.regions.length,
					statement.regions.map((r) => r.text).filter((r) => !regions.includes(r))
				);
			case 'group':
				if (groups.includes(statement.name.text)) edits.push(...removeStatement(recipe, index));
				else if (statement.pieces) shorten('members', statement.pieces.length, kept(statement.pieces).map(referenceText));
				else if (statement.regions)
					shorten(
						'members',
						statement.regions.length,
						statement.regions.map((r) => r.text).filter((r) => !regions.includes(r)),
						'region '
					);
				return;
			case 'let':
				return;
			default:
				if (gone.has(index)) edits.push(...removeStatement(recipe, index));
				else if ('curves' in statement && statement.curves.length > kept(statement.curves).length)
					edits.push(...shortenReferences(line, statement.curves, kept(statement.curves)));
		}
	});
	return applyEdits(recipe.text, edits);
}

/**
 * The names that go when `values` go, and the statements that define or only change them: a fillet
 * without one of its curves says nothing, and neither does a mirror image of nothing.
 */
function withDependents(recipe: Recipe, first: readonly string[]): { values: string[]; gone: Set<number> } {
	const values = [...first];
	const gone = new Set<number>();
	const lost = (r: CurveReference) => values.includes(r.name) || values.includes(r.name.split('.', 1)[0]!);
	recipe.lines.forEach(({ statement }, index) => {
		if (!statement || ['region', 'divide', 'fill', 'group', 'let'].includes(statement.kind)) return;
		const own = 'name' in statement ? statement.name?.text : undefined;
		const needs =
			'first' in statement
				? [statement.first, statement.second]
				: 'curve' in statement
					? [statement.curve, ...('to' in statement ? [statement.to] : [])]
					: [];
		const empty = 'curves' in statement && statement.curves.every(lost);
		if (!(own !== undefined && first.includes(own)) && !needs.some(lost) && !empty) return;
		gone.add(index);
		if (own !== undefined && !values.includes(own)) values.push(own);
	});
	return { values, gone };
}

/** Leaves only some of the references of a list in its statement. */
function shortenReferences(line: Line, list: readonly CurveReference[], kept: readonly CurveReference[]): TextEdit[] {
	const [from, to] = [line.from + list[0]!.from, line.from + list.at(-1)!.to];
	return [{ from, to, insert: kept.map(referenceText).join(', ') }];
}

/** Adds statements in the order given. */
export function addStatements(recipe: Recipe, sources: readonly string[]): string {
	let current = recipe;
	for (const source of sources) current = parseRecipe(applyEdits(current.text, addStatement(current, source)));
	return current.text;
}

/** The first free name of the form stem1, stem2, … */
export function freeName(recipe: Recipe, stem: string): string {
	const taken = new Set<string>();
	for (const { statement } of recipe.lines)
		if (statement && 'name' in statement && statement.name) taken.add(statement.name.text);
	let number = 1;
	while (taken.has(`${stem}${number}`)) number++;
	return `${stem}${number}`;
}
