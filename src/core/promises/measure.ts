import type { Point } from '../geometry/curve.ts';
import type { FindingCode } from '../findings/table.ts';
import type { PromiseKind, PromiseKinds } from '../recipe/language/promise.ts';
import type { MeshView } from './mesh-view.ts';

/** What a promise came to at one place of a mesh. */
export interface Measured {
	/** What was measured, in the words of the statement: `first cell of “wall”`. */
	what: string;
	asked: number;
	got: number;
	isKept: boolean;
	/** Where it is, or is missed most. */
	at?: Point;
	/** The pieces that it is about, as indices into the arrangement. */
	pieces?: number[];
	/** At how many places beside this one it is missed. */
	more?: number;
}

/** A promise, and what of it still holds: later statements may overrule it on some pieces. */
export interface Standing<K extends PromiseKind> {
	promise: { asks: K } & PromiseKinds[K];
	/** The pieces about which no later statement says otherwise. */
	pieces: readonly number[];
	/** The sides of pieces about which no later statement says otherwise: `2 p` to the left of piece p, `2 p + 1` to its right. */
	sides: readonly number[];
	/** Names of region statements that have a size of their own. */
	ownSizes: ReadonlySet<string>;
}

/** How a kind of promise is measured. All of them stand in `table.ts`. */
export interface PromiseMeasure<K extends PromiseKind> {
	/**
	 * What kind of thing a later statement overrules: of two promises of one kind about one piece the later holds. Without, all hold.
	 */
	overruled?: 'count' | 'spacing' | 'layers' | 'size';
	/** Codes of findings that say the same of the statement: beside one of them no other is needed. */
	saidBy?: readonly FindingCode[];
	/** What the numbers are: a length in recipe units, a count, a ratio. */
	unit: 'length' | 'count' | 'ratio' | 'angle' | 'share';
	measure(standing: Standing<K>, view: MeshView): Measured[];
}

/** How far two numbers are apart, as a share of the first. */
export const apart = (asked: number, got: number): number =>
	asked === got ? 0 : Math.abs(got - asked) / Math.max(Math.abs(asked), 1e-300);

/** The worst of many places at which one thing is measured; the places that keep it cost nothing. */
export class Worst {
	private worst: Measured | undefined;
	private kept: Measured | undefined;
	private broken = 0;
	private readonly pieces = new Set<number>();

	/** @param place says what and where it is; asked for a few places only */
	add(asked: number, got: number, isKept: boolean, place: () => Pick<Measured, 'what' | 'at' | 'pieces'>): void {
		if (isKept) {
			this.kept ??= { asked, got, isKept, ...place() };
			return;
		}
		this.broken++;
		if (this.worst && apart(asked, got) <= apart(this.worst.asked, this.worst.got)) return;
		this.worst = { asked, got, isKept, ...place() };
		for (const p of this.worst.pieces ?? []) this.pieces.add(p);
	}

	/** The worst place, with the number of others; one that keeps it where all do; nothing where there was none. */
	get(): Measured[] {
		if (this.worst) return [{ ...this.worst, more: this.broken - 1, pieces: [...this.pieces] }];
		return this.kept ? [this.kept] : [];
	}
}
