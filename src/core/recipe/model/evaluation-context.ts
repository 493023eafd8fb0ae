import type { Report } from '../../findings/report.ts';
import type { Curve, Point } from '../../geometry/curve.ts';
import { ExpressionError, type Scope } from './expressions.ts';
import type { CoordinateFiles, Model } from './model.ts';
import type { CurveReference, Expression, PartSyntax, PlaceSyntax, Word } from '../language/syntax.ts';
import type { Value, ExpectedKind } from './values.ts';
import type { Mend } from '../../text/finding.ts';
import { nearest } from '../../text/nearest.ts';
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
	/** Whether a name stands for curves that only help: they are no part of the domain. */
	isGuide(name: string): boolean;
	/** Takes curves out of the model; a later use of their names is an error that says `because`. */
	remove(curves: readonly number[], because: string): void;
	/** The regions that a name stands for: one of its own, or those of all copies of a part. */
	regions(name: Word): string[];
	/** Takes up a part, to be placed. */
	definePart(part: PartSyntax): void;
	/** Where a part ends that none began. */
	endPart(): void;
	/** Puts copies of a part into the drawing, with all that it says. */
	place(placement: PlaceSyntax): void;
	/** Reports what is doubtful about the present statement. */
	readonly report: Report;
	/** Refuses a name that an earlier statement gives to another region, group or study. */
	free(space: 'region' | 'group' | 'study', name: Word): void;
	/** Gives a name its value. */
	define(name: string, value: Value): void;
	/** The value that a parameter has instead of its own, as the command's `--set` gives it. */
	setting(name: string): Expression | undefined;
}

/** Refuses a part of the statement, with edits of it that settle what is wrong, the likeliest first. */
export function fail(at: { from: number; to: number }, message: string, mends: readonly Mend[] = []): never {
	throw new ExpressionError(message, at.from, at.to, mends);
}

/** Refuses a word that is none of those that may stand there; where one of them is probably meant, a mend writes it. */
export function failWith(
	word: Word,
	message: string,
	candidates: readonly string[],
	meant: Readonly<Record<string, string>> = {}
): never {
	const lower = word.text.toLowerCase();
	const near = Object.hasOwn(meant, lower) ? meant[lower]! : nearest(word.text, candidates);
	if (near === undefined) fail(word, `${message}; there are ${candidates.join(', ')}`);
	fail(word, `${message}; did you mean “${near}”?`, [replacing(word, near)]);
}

/** A mend that writes another word. */
export const replacing = ({ from, to }: { from: number; to: number }, insert: string): Mend => ({
	label: `Write “${insert}”`,
	edits: [{ from, to, insert }]
});

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
