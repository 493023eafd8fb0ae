import type { Point } from '../../geometry/curve.ts';
import type { Model, WithLine } from '../model/model.ts';
import type { NameSpace, NameUse } from './names.ts';
import type { Line } from './recipe.ts';
import type { StatementPromise } from './promise.ts';
import type { NamedRule, Rules } from './rules.ts';
import type { CurveReference, Expression, Statement, Word } from './syntax.ts';
import type { EvaluationContext } from '../model/evaluation-context.ts';

/** The order of the work; statements of one stage may stand mixed. */
export const workOrder = [
	'header',
	'parameters',
	'shape',
	'regions',
	'divisions',
	'fills',
	'labels',
	'deliveries',
	'studies'
] as const;
export type WorkStage = (typeof workOrder)[number];

/** A list of things that a statement acts on: when some of them go it is shortened, and when all go the statement goes. */
export type ActedOn = readonly CurveReference[] | readonly Word[];

/** What goes when things are deleted. */
export interface IsDeleted {
	(space: NameSpace, name: string): boolean;
}

/** What grips and dimensions may look at. Throws ExpressionError where something has no value. */
export interface ValueReader {
	point(e: Expression): Point;
	number(e: Expression): number;
}

/** An expression of a statement, and what is to stand in its place. */
export interface Rewrite {
	of: Expression;
	as: number | string;
}

/** A place in the drawing that can be dragged, and what it writes anew. */
export interface Grip extends Point {
	move(to: Point): Rewrite[];
}

/** A dimension that can be typed: its value, the expression that gives it, and what another expression writes anew. */
export interface Dimensioned {
	label: string;
	value: number;
	of?: Expression;
	set(source: string): Rewrite[];
}

/**
 * All that the program knows of one kind of statement, in one file: a new statement is such a record and a line in
 * `statements/table.ts`. Grammar, completion, documentation, evaluation, renaming and deleting take it from here.
 *
 * @typeParam S what it says, as values with their places
 * @typeParam M what it comes to, with its expressions worked out; kept in {@link Model.stated}
 */
export interface StatementRecord<S extends Statement = Statement, M = unknown> {
	kind: S['kind'];
	/** What a table of such things calls one of them. */
	title: string;
	/** The words of its grammar, the one that it starts with first. */
	words: readonly string[];
	stage: WorkStage;
	/** It stands at most once. */
	once?: boolean;
	/** The clauses that may be set, added or taken away, in the order in which they stand. */
	clauses: readonly string[];
	/** How it is written, for the documentation and as a template of completion: `${…}` is to be filled in. */
	form: string;
	/** A paragraph that says what it does. */
	doc: string;
	rules?: readonly NamedRule<unknown>[];
	/** Reads it; the keyword is still ahead. */
	grammar(p: Rules): Omit<S, 'clauses'>;
	/** Works it out: changes the model, or gives what is kept of it, of several places one each. Throws ExpressionError where something is wrong. */
	evaluate(statement: S, context: EvaluationContext): M | M[] | void;
	/** What it asks of the mesh: each is held against the mesh that is there (core/promises). */
	promises?(statement: M): StatementPromise[];
	/** The name that it defines. */
	defines?(statement: S): { space: NameSpace; name: Word } | undefined;
	/** Further names that it defines. */
	definesAlso?(statement: S): { space: NameSpace; name: Word }[];
	/** What can be dragged of what it draws; without it, the places that are written as numbers. */
	grips?(statement: S, look: ValueReader): Grip[];
	/** What can be typed of what it draws, besides lengths and angles of its curves. */
	dimensions?(statement: S, look: ValueReader): Dimensioned[];
	/** The file beside the recipe that it reads. */
	file?(statement: S): Word | undefined;
	/** The names that it uses. */
	uses?(statement: S): NameUse[];
	/** The expressions that say where the curve that it draws starts and ends. */
	ends?(statement: S): { start?: Expression; end?: Expression };
	/** The lists of what it acts on. */
	actsOn?(statement: S): ActedOn[];
	/** What it cannot do without: when one of these goes, so does the statement. */
	needs?(statement: S): CurveReference[];
	/** What else becomes of it when things go: a clause that is lost, or all of it. */
	loses?(statement: S, gone: (reference: CurveReference) => boolean): { clause: string } | 'all' | undefined;
}

/** Whether a statement is of the kind of a record. */
export const isA = <S extends Statement>(record: StatementRecord<S>, statement: Statement | undefined): statement is S =>
	statement?.kind === record.kind;

/** The statements of one kind, with their lines. */
export function linesOf<S extends Statement>(lines: readonly Line[], record: StatementRecord<S>): { line: Line; statement: S }[] {
	return lines.flatMap((line) => (isA(record, line.statement) ? [{ line, statement: line.statement }] : []));
}

/** What the statements of one kind came to, in their order. */
export const stated = <S extends Statement, M>(model: Model, record: StatementRecord<S, M>): WithLine<M>[] =>
	(model.stated[record.kind] ?? []) as WithLine<M>[];
