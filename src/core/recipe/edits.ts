import type { TextEdit } from '../text/edit.ts';
import type { Line, Recipe } from './parse.ts';
import { clauseOrder, type CurveReference, type Expression, type Statement, type Word } from './syntax.ts';

/**
 * Sets one clause of a statement — `into 40`, `bias 12 toward pipe` — to `source`, or takes it away
 * with null. A clause that is not there yet is put in after the last one that precedes it.
 */
export function setClause(line: Line, clause: string, source: string | null): TextEdit[] {
	const statement = line.statement!;
	const present = statement.clauses.find((c) => c.name === clause);
	if (present) {
		if (source !== null) return [{ from: line.from + present.from, to: line.from + present.to, insert: source }];
		const before = Math.max(0, ...statement.clauses.filter((c) => c.to <= present.from).map((c) => c.to));
		return [{ from: line.from + before, to: line.from + present.to, insert: '' }];
	}
	if (source === null) return [];
	const order = clauseOrder[statement.kind] ?? [];
	const rank = order.indexOf(clause);
	if (rank < 0) throw new Error(`a \`${statement.kind}\` statement has no clause \`${clause}\``);
	const ahead = statement.clauses.filter((c) => order.indexOf(c.name) < rank);
	const at = line.from + Math.max(...ahead.map((c) => c.to));
	return [{ from: at, to: at, insert: ` ${source}` }];
}

/**
 * Adds a statement. It goes after the last statement of its own kind, or of the nearest earlier
 * kind in the order of the work; a comment at the end of that line stays with it.
 */
export function addStatement(recipe: Recipe, source: string): TextEdit[] {
	const kind = source.split(/\s/, 1)[0]!;
	const rank = workOrder.findIndex((kinds) => kinds.includes(kind));
	let after: Line | undefined;
	for (const line of recipe.lines) {
		const own = workOrder.findIndex((kinds) => line.statement && kinds.includes(line.statement.kind));
		if (own >= 0 && own <= rank) after = line;
	}
	const { text } = recipe;
	if (!after) return [{ from: 0, to: 0, insert: `${source}\n` }];
	const end = text.indexOf('\n', after.to);
	const last = recipe.lines.filter((l) => l.statement && workOrder[rank]?.includes(l.statement.kind)).at(-1);
	// A first statement of its kind starts a paragraph of its own.
	const gap = last || rank <= 0 ? '' : '\n';
	if (end === -1) return [{ from: text.length, to: text.length, insert: `\n${gap}${source}\n` }];
	return [{ from: end + 1, to: end + 1, insert: `${gap}${source}\n` }];
}

/** Kinds of statement in the order of the work; those in one row may stand mixed. */
const workOrder: string[][] = [
	['recipe', 'title', 'units', 'frame'],
	['let'],
	[
		...['point', 'node', 'line', 'polyline', 'spline', 'rectangle', 'polygon', 'arc', 'circle', 'ellipse', 'bezier', 'bspline'],
		...['curve', 'drawing', 'fillet', 'chamfer', 'offset', 'trim', 'extend', 'split', 'join', 'mirror', 'move', 'turn', 'scale'],
		...['repeat', 'cut', 'far']
	],
	['region'],
	['divide'],
	['fill', 'size', 'zone'],
	['group']
];

/** Takes a statement away, with its line when nothing else stands on it. */
export function removeStatement(recipe: Recipe, index: number): TextEdit[] {
	const line = recipe.lines[index]!;
	const { text } = recipe;
	const start = text.lastIndexOf('\n', line.from - 1) + 1;
	const newline = text.indexOf('\n', line.to);
	const end = newline === -1 ? text.length : newline + 1;
	const alone = text.slice(start, line.from).trim() === '' && text.slice(line.to, end).trim() === '';
	return [alone ? { from: start, to: end, insert: '' } : { from: line.from, to: line.to, insert: '' }];
}

/** Moves a statement to stand just before another one, or at the end with `before` equal to the number of lines. */
export function moveStatement(recipe: Recipe, index: number, before: number): TextEdit[] {
	const { text, lines } = recipe;
	if (before === index || before === index + 1) return [];
	const line = lines[index]!;
	const start = text.lastIndexOf('\n', line.from - 1) + 1;
	const newline = text.indexOf('\n', line.to);
	const end = newline === -1 ? text.length : newline + 1;
	const moved = text.slice(start, end).replace(/\n?$/, '\n');
	const target = lines[before] ? text.lastIndexOf('\n', lines[before].from - 1) + 1 : text.length;
	const glue = target === text.length && !text.endsWith('\n') ? '\n' : '';
	return [
		{ from: start, to: end, insert: '' },
		{ from: target, to: target, insert: glue + moved }
	];
}

/** What a name names: the same word may name a curve, a region and a group. */
export type NameSpace = 'value' | 'region' | 'group';

/** Renames a thing with all its uses. Names of parameters, points and curves are one space. */
export function renameEverywhere(recipe: Recipe, space: NameSpace, from: string, to: string): TextEdit[] {
	const edits: TextEdit[] = [];
	for (const line of recipe.lines)
		if (line.statement)
			forEachName(line.statement, (use) => {
				if (use.space === space && use.name === from)
					edits.push({ from: line.from + use.from, to: line.from + use.from + from.length, insert: to });
			});
	return edits;
}

interface NameUse {
	space: NameSpace;
	name: string;
	from: number;
}

const expressionKinds = new Set(['number', 'name', 'member', 'negate', 'binary', 'call', 'pair']);

/** Calls back with every name that a statement defines or uses. */
export function forEachName(statement: Statement, visit: (use: NameUse) => void): void {
	// The parameter of a curve by formula is its own.
	const own = statement.kind === 'curve' ? statement.parameter.text : undefined;
	const expression = (e: Expression): void => {
		if (e.kind === 'name' && e.name !== own) visit({ space: 'value', name: e.name, from: e.from });
		else if (e.kind === 'member') visit({ space: 'value', name: e.object, from: e.from });
		else for (const part of Object.values(e)) any('', part);
	};
	const any = (key: string, value: unknown): void => {
		if (Array.isArray(value)) value.forEach((item) => any(key, item));
		else if (typeof value !== 'object' || value === null) return;
		else if ('kind' in value && expressionKinds.has(value.kind as string)) expression(value as Expression);
		else if ('text' in value) {
			const { text: name, from } = value as Word;
			if (key === 'regions') visit({ space: 'region', name, from });
			else if (key === 'name')
				visit({ space: statement.kind === 'region' || statement.kind === 'group' ? statement.kind : 'value', name, from });
		} else if ('name' in value) {
			const { name, from } = value as CurveReference;
			visit({ space: 'value', name: name.split('.', 1)[0]!, from });
		} else for (const [inner, part] of Object.entries(value)) any(inner, part);
	};
	for (const [key, value] of Object.entries(statement)) if (key !== 'clauses') any(key, value);
}

/** Whether an expression is a bare number, perhaps negative: what the drawing may rewrite. */
export function isLiteral(e: Expression): boolean {
	return (e.kind === 'number' && e.unit === undefined) || (e.kind === 'negate' && isLiteral(e.operand));
}

/** The shortest text that reads back as the same double. */
export function formatNumber(value: number): string {
	return Object.is(value, -0) ? '0' : String(value);
}
