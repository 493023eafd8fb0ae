import { applyEdits, type TextEdit } from '../../text/edit.ts';
import type { BoundaryKind, GroupColour } from '../language/boundary-kinds.ts';
import { definedBy, addStatement, partsOfLines, placementsOf, removeStatement, setClause } from './edits.ts';
import { language } from '../language/language.ts';
import { parseRecipe } from '../language/parse.ts';
import type { Line, Recipe } from '../language/recipe.ts';
import { type ActedOn, type IsDeleted, linesOf } from '../language/statement.ts';
import { baffle as baffleRecord } from '../statements/baffle.ts';
import { divide, type DivideSyntax } from '../statements/divide.ts';
import { fill, type FillKind } from '../statements/fill.ts';
import { group as groupRecord } from '../statements/group.ts';
import { parameter } from '../statements/let.ts';
import { owner as ownerRecord } from '../statements/owner.ts';
import { point } from '../statements/point.ts';
import { size } from '../statements/size.ts';
import type { CurveReference, Statement, Word } from '../language/syntax.ts';

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
		const covering = linesOf(recipe.lines, divide).filter(({ statement }) => statement.pieces.some((r) => covers(r, piece)));
		const ruling = covering.filter(({ statement }) => statement.clauses.some((c) => c.name === clause)).at(-1);
		const isExact = (line: DivideLine | undefined) =>
			line?.statement.pieces.every((r) => all.every((p) => !covers(r, p) || pieces.includes(p)));
		const target = isExact(ruling) ? ruling : ruling ? undefined : covering.filter(isExact).at(-1);
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

interface DivideLine {
	line: Line;
	statement: DivideSyntax;
}

/** Whether a reference stands for a piece: itself, the curve that the piece is of, or the rectangle that has it as a side. */
function covers(reference: CurveReference, piece: string): boolean {
	const curve = piece.replace(/\[\d+\]$/, '');
	const written = referenceText(reference);
	return written === piece || written === curve || written === curve.split('.', 1)[0];
}

/** A reference as a recipe writes it. */
export const referenceText = (r: CurveReference): string => {
	if (r.source !== undefined) return r.source;
	const first = r.piece === undefined ? r.name : `${r.name}[${r.piece}]`;
	return r.through ? `${first} to ${referenceText(r.through)}` : first;
};

/**
 * What regions are filled with. A fill of its own replaces the one that a shared statement gave.
 *
 * @param rest what the statement says after the kind: `size 2`, or corners and divisions across
 */
export function setFill(recipe: Recipe, regions: readonly string[], filling: FillKind, rest = ''): string {
	const statements = linesOf(recipe.lines, fill);
	const source = rest === '' ? filling : `${filling} ${rest}`;
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
		if (statement.fill === filling)
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
	const found = linesOf(recipe.lines, size)
		.filter(({ statement }) => !statement.zone)
		.at(-1);
	if (found)
		return applyEdits(
			recipe.text,
			setClause(found.line, clause, clause === 'growth' && source !== null ? `growth ${source}` : source)
		);
	return clause === 'size' && source !== null ? applyEdits(recipe.text, addStatement(recipe, `size ${source}`)) : recipe.text;
}

/** What a stack of layers may be given by; `to` is the size behind. */
export type LayerWord = 'first' | 'growth' | 'count' | 'thickness' | 'last';

/** Which number gives way when another is typed and three are there already. */
const givesWay: Record<LayerWord, readonly string[]> = {
	first: ['last', 'thickness', 'count'],
	growth: ['last', 'thickness', 'count'],
	count: ['thickness', 'last', 'to', 'growth'],
	thickness: ['count', 'last', 'to', 'growth'],
	last: ['count', 'thickness', 'to', 'growth']
};

/**
 * One number of the layers on a line of the recipe; where three say all, one of the others gives way.
 *
 * @param instead the one that gives way, where it is there; without, the one that follows best
 */
export function setLayers(recipe: Recipe, index: number, name: LayerWord, source: string, instead?: LayerWord): string {
	const line = recipe.lines[index]!;
	const present = line.statement!.clauses.map((c) => c.name);
	const full = ['first', 'growth', 'count', 'thickness', 'last', 'to'].filter((n) => present.includes(n)).length >= 3;
	const order = instead === undefined ? givesWay[name] : [instead, ...givesWay[name]];
	const gone = present.includes(name) || !full ? undefined : order.find((n) => present.includes(n));
	const once = applyEdits(recipe.text, setClause(line, name, `${name} ${source}`));
	if (gone === undefined) return once;
	const again = parseRecipe(once);
	return applyEdits(once, setClause(again.lines[index]!, gone, null));
}

/** Names a region by a point inside it. */
export function nameRegion(recipe: Recipe, name: string, at: string): string {
	return applyEdits(recipe.text, addStatement(recipe, `region ${name} at ${at}`));
}

/**
 * Puts pieces into a group, made if need be, and takes them out of the others: an edge belongs to one group.
 *
 * @param as a description that finds these pieces, written in their place
 */
export function labelPieces(
	recipe: Recipe,
	group: string,
	pieces: readonly string[],
	kind: BoundaryKind = 'wall',
	as?: string
): string {
	const current = withoutOthers(recipe, group, pieces);
	const found = linesOf(current.lines, groupRecord).find(({ statement }) => statement.name.text === group);
	if (!found) return applyEdits(current.text, addStatement(current, `group ${group} = ${as ?? pieces.join(', ')} as ${kind}`));
	const present = found.statement.pieces ?? [];
	const added = as === undefined ? pieces.filter((p) => !present.some((r) => covers(r, p))) : [as];
	const list = [...present.map(referenceText), ...added].join(', ');
	return applyEdits(current.text, setClause(found.line, 'members', list));
}

/** What an edit of labels did to groups besides what it was for: which it took pieces from, and which it left without any. */
export function otherGroups(before: Recipe, after: string, group: string): { less: string[]; gone: string[] } {
	const membersOf = (recipe: Recipe) =>
		new Map(
			labelLines(recipe).map(({ name, line }) => {
				const { pieces = [] } = line.statement as { pieces?: CurveReference[] };
				return [name, pieces.map(referenceText).join(', ')] as const;
			})
		);
	const now = membersOf(parseRecipe(after));
	const others = [...membersOf(before)].filter(([name]) => name !== group);
	return {
		gone: others.flatMap(([name]) => (now.has(name) ? [] : [name])),
		less: others.flatMap(([name, members]) => (now.has(name) && now.get(name) !== members ? [name] : []))
	};
}

/** Makes a two-sided wall of pieces and takes them out of all groups; with `sides` each side is a group of its own. */
export function makeBaffle(
	recipe: Recipe,
	name: string,
	pieces: readonly string[],
	kind: BoundaryKind = 'wall',
	sides?: readonly [string, string]
): string {
	const current = withoutOthers(recipe, name, pieces);
	const both = sides ? ` sides ${sides.join(', ')}` : '';
	return applyEdits(current.text, addStatement(current, `baffle ${name} = ${pieces.join(', ')} as ${kind}${both}`));
}

function withoutOthers(recipe: Recipe, group: string, pieces: readonly string[]): Recipe {
	let current = recipe;
	for (const record of [groupRecord, baffleRecord])
		for (const { statement } of linesOf(recipe.lines, record as typeof groupRecord))
			if (statement.name.text !== group && statement.pieces)
				current = parseRecipe(withoutMembers(current, statement.name.text, pieces));
	return current;
}

/** Puts a group in front of another, or behind all: the group that stands first owns the nodes that they share. */
export function moveGroup(recipe: Recipe, group: string, before: string | null): string {
	const found = labelLines(recipe).find(({ name }) => name === group);
	const others = labelLines(recipe).filter(({ name }) => name !== group);
	const target = before === null ? undefined : others.find(({ name }) => name === before);
	const last = others.at(-1);
	if (!found || (before !== null && !target) || !last) return recipe.text;
	const source = recipe.text.slice(found.line.from, found.line.to);
	const place = target ? target.line.from : last.line.to;
	const insert = target ? `${source}\n` : `\n${source}`;
	const removed = removeStatement(recipe, recipe.lines.indexOf(found.line));
	return applyEdits(
		recipe.text,
		[...removed, { from: place, to: place, insert }].sort((a, b) => a.from - b.from)
	);
}

/** The statements of groups and two-sided walls, by the names that they define. */
const labelLines = (recipe: Recipe) =>
	[...linesOf(recipe.lines, groupRecord), ...linesOf(recipe.lines, baffleRecord)]
		.map(({ line, statement }) => ({ line, name: statement.name.text }))
		.sort((a, b) => a.line.from - b.line.from);

/** Which group owns the node at a place, as a recipe writes the place. */
export function setOwner(recipe: Recipe, place: string, group: string): string {
	const found = linesOf(recipe.lines, ownerRecord).find(
		({ line, statement }) => recipe.text.slice(line.from + statement.at.from, line.from + statement.at.to) === place
	);
	if (found) return applyEdits(recipe.text, setClause(found.line, 'group', group));
	return applyEdits(recipe.text, addStatement(recipe, `owner of ${place} = ${group}`));
}

/** Puts regions into a material group, made if need be; a region may be in several. */
export function labelRegions(recipe: Recipe, group: string, regions: readonly string[]): string {
	const found = linesOf(recipe.lines, groupRecord).find(({ statement }) => statement.name.text === group);
	if (!found?.statement.regions)
		return applyEdits(recipe.text, addStatement(recipe, `group ${group} = region ${regions.join(', ')}`));
	const present = found.statement.regions.map((r) => r.text);
	const list = [...present, ...regions.filter((r) => !present.includes(r))].join(', ');
	return applyEdits(recipe.text, setClause(found.line, 'members', `region ${list}`));
}

/**
 * Takes pieces out of a group; a group left empty goes.
 *
 * @param all the pieces that it has; where a description or a whole curve finds them, those that stay are listed instead
 */
export function unlabelPieces(recipe: Recipe, group: string, pieces: readonly string[], all: readonly string[] = []): string {
	const found = labelled(recipe, group);
	const isListed = pieces.every((piece) => found?.statement.pieces?.some((r) => referenceText(r) === piece));
	if (!found || isListed || all.length === 0) return withoutMembers(recipe, group, pieces);
	const left = all.filter((piece) => !pieces.includes(piece));
	return left.length === 0
		? applyEdits(recipe.text, removeStatement(recipe, recipe.lines.indexOf(found.line)))
		: applyEdits(recipe.text, setClause(found.line, 'members', left.join(', ')));
}

function withoutMembers(recipe: Recipe, group: string, pieces: readonly string[]): string {
	const found = labelled(recipe, group);
	if (!found?.statement.pieces) return recipe.text;
	const left = found.statement.pieces.filter((r) => !pieces.includes(referenceText(r)));
	if (left.length === found.statement.pieces.length) return recipe.text;
	if (left.length === 0) return applyEdits(recipe.text, removeStatement(recipe, recipe.lines.indexOf(found.line)));
	return applyEdits(recipe.text, setClause(found.line, 'members', left.map(referenceText).join(', ')));
}

/** The statement of a group or a two-sided wall. */
const labelled = (recipe: Recipe, name: string) =>
	[...linesOf(recipe.lines, groupRecord), ...linesOf(recipe.lines, baffleRecord)].find(
		({ statement }) => statement.name.text === name
	) as { line: Line; statement: { name: Word; pieces?: CurveReference[] } & Statement } | undefined;

/** The kind of groups. */
export function setGroupKind(recipe: Recipe, groups: readonly string[], kind: BoundaryKind): string {
	return setGroupClause(recipe, groups, 'kind', `as ${kind}`);
}

/** The colour of groups. */
export function setGroupColour(recipe: Recipe, groups: readonly string[], colour: GroupColour): string {
	return setGroupClause(recipe, groups, 'colour', `colour ${colour}`);
}

function setGroupClause(recipe: Recipe, groups: readonly string[], clause: string, source: string): string {
	const lines = groups.flatMap((name) => labelled(recipe, name) ?? []);
	return applyEdits(
		recipe.text,
		lines.flatMap(({ line }) => setClause(line, clause, source))
	);
}

/** One coordinate of a point, as an expression. A point that is not written as (x, y) stays as it is. */
export function setCoordinate(recipe: Recipe, name: string, axis: 'x' | 'y', source: string): string {
	const found = linesOf(recipe.lines, point).find(({ statement }) => statement.name.text === name);
	if (found?.statement.at.kind !== 'pair') return recipe.text;
	const { from, to } = found.statement.at[axis];
	return applyEdits(recipe.text, [{ from: found.line.from + from, to: found.line.from + to, insert: source }]);
}

/** The value of a parameter, as an expression. */
export function setParameter(recipe: Recipe, name: string, source: string): string {
	const found = linesOf(recipe.lines, parameter).find(({ statement }) => statement.name.text === name);
	return found ? applyEdits(recipe.text, setClause(found.line, 'value', source)) : recipe.text;
}

/** Things to delete, by name. */
export interface Deletions {
	values?: readonly string[];
	regions?: readonly string[];
	groups?: readonly string[];
}

/**
 * Deletes statements that define points, curves, regions or groups by name, and what other statements say of them:
 * lists are shortened, and what cannot do without goes too, with all that hangs on it.
 */
export function deleteThings(recipe: Recipe, things: Deletions): string {
	return deletion(recipe, things).text;
}

/** What {@link deleteThings} gives, and in words what else goes or is shortened: `division of wall`, `group shell (fewer pieces)`. */
export function deletion(recipe: Recipe, things: Deletions): { text: string; also: string[] } {
	const lost = {
		value: new Set(things.values),
		region: new Set(things.regions),
		group: new Set(things.groups),
		study: new Set<string>()
	};
	const isAsked: IsDeleted = (space, name) =>
		({ value: things.values, region: things.regions, group: things.groups, study: undefined })[space]?.includes(name) ?? false;
	const placementOf = placementsOf(recipe);
	const isLost: IsDeleted = (space, name) => {
		// What a placed part brings goes with its placement, whatever it is.
		const placed = placementOf(name);
		return lost[space].has(name) || (placed === undefined ? lost[space].has(name.split('.', 1)[0]!) : lost.value.has(placed));
	};
	const isLostCurve = (r: CurveReference): boolean =>
		r.set
			? (r.set.regions ?? []).some((w) => isLost('region', w.text)) || (r.set.layer !== undefined && isLostCurve(r.set.layer))
			: isLost('value', r.name) || (r.through !== undefined && isLostCurve(r.through));
	const edits: TextEdit[] = [];
	const also: string[] = [];
	const parts = partsOfLines(recipe);
	recipe.lines.forEach((line, index) => {
		const { statement } = line;
		// A part sees nothing of what stands outside it.
		if (!statement || parts[index] !== '') return;
		const record = language().recordOf(statement);
		const defined = record.defines?.(statement);
		const lists = record.actsOn?.(statement) ?? [];
		const kept = lists.map((list) => list.filter((item) => !('name' in item ? isLostCurve(item) : isLost('region', item.text))));
		const loss = record.loses?.(statement, isLostCurve);
		const title = record.title.toLowerCase();
		const what = defined
			? `${title} ${defined.name.text}`
			: `${title} of ${lists
					.flat()
					.map((item) => ('name' in item ? referenceText(item) : item.text))
					.join(', ')}`;
		const goes =
			(defined && isLost(defined.space, defined.name.text)) ||
			record.needs?.(statement).some(isLostCurve) ||
			lists.some((list, k) => list.length > 0 && kept[k]!.length === 0) ||
			(defined === undefined && record.uses?.(statement).some(({ space, name }) => space === 'group' && lost.group.has(name))) ||
			loss === 'all';
		if (goes) {
			if (!defined || !isAsked(defined.space, defined.name.text)) also.push(what);
			for (const definition of definedBy(statement)) lost[definition.space].add(definition.name.text);
			edits.push(...removeStatement(recipe, index));
			return;
		}
		if (loss) edits.push(...setClause(line, loss.clause, null));
		lists.forEach((list, k) => {
			if (kept[k]!.length < list.length) {
				edits.push(shortened(line, list, kept[k]!));
				also.push(`${what} (shortened)`);
			}
		});
	});
	return { text: applyEdits(recipe.text, edits), also };
}

/** Leaves only some of the things of a list in its statement. */
function shortened(line: Line, list: ActedOn, kept: readonly (CurveReference | Word)[]): TextEdit {
	const [from, to] = [line.from + list[0]!.from, line.from + list.at(-1)!.to];
	return { from, to, insert: kept.map((item) => ('name' in item ? referenceText(item) : item.text)).join(', ') };
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
	for (const { statement } of recipe.lines) {
		const defined = statement && language().recordOf(statement).defines?.(statement);
		if (defined) taken.add(defined.name.text);
	}
	let number = 1;
	while (taken.has(`${stem}${number}`)) number++;
	return `${stem}${number}`;
}
