import type { Report } from '../../findings/report.ts';
import type { Curve, Point } from '../../geometry/curve.ts';
import { ExpressionError, type Scope } from './expressions.ts';
import type { CoordinateFiles, Model } from './model.ts';
import type { CurveReference, Expression, Word } from '../language/syntax.ts';
import type { Value, ExpectedKind } from './values.ts';
import { isUserError } from '../../text/user-error.ts';

/** What a statement that makes or changes curves works with. Every method throws {@link ExpressionError} on wrong input. */
export interface EvaluationContext {
	readonly model: Model;
	readonly scope: Scope;
	readonly files: CoordinateFiles;
	/** Index of the present statement. */
	readonly line: number;
	number(e: Expression, want: ExpectedKind): number;
	/** A length above zero; `what` names it in the complaint. */
	positive(e: Expression, what: string): number;
	/**
	 * Adds a curve; with `owner` it is one of several that this name stands for. `lines` are the lines of the
	 * file on which its points stand, where its segments run from point to point.
	 */
	add(curve: Curve, owner?: string, lines?: Uint32Array): void;
	/** Puts other curves in the place of some, by their indices: all of them, or none where one cannot be. */
	replace(changed: readonly (readonly [c: number, curve: Curve])[]): void;
	/** The curves, as indices into the model's, that a reference stands for; at least one. */
	curves(reference: CurveReference): number[];
	/** The one curve that a reference stands for. */
	curve(reference: CurveReference): number;
	/** The curves that an expression names; undefined when it names none. */
	curvesNamed(e: Expression): number[] | undefined;
	/** Takes curves out of the model; a later use of their names is an error that says `because`. */
	remove(curves: readonly number[], because: string): void;
	/** Reports what is doubtful about the present statement. */
	readonly report: Report;
	/** Refuses a name that an earlier statement gives to another region, group or study. */
	free(space: 'region' | 'group' | 'study', name: Word): void;
	/** Gives a name its value. */
	define(name: string, value: Value): void;
	/** The value that a parameter has instead of its own, as the command's `--set` gives it. */
	setting(name: string): Expression | undefined;
}

export function fail(at: { from: number; to: number }, message: string): never {
	throw new ExpressionError(message, at.from, at.to);
}

/** Runs a geometric construction and turns its refusal into a complaint about a place in the statement. */
export function constructed<T>(at: { from: number; to: number }, run: () => T): T {
	try {
		return run();
	} catch (error) {
		if (isUserError(error) && !(error instanceof ExpressionError)) fail(at, error.message);
		throw error;
	}
}

export const same = (a: Point, b: Point): boolean => a.x === b.x && a.y === b.y;
export const round = (v: number): number => Number(v.toPrecision(6));
