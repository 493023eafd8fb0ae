import type { PromiseCheck } from '../promises/check.ts';
import { counted, short } from '../text/sentences.ts';

/** What of a recipe's numbers is in the mesh: how many were measured, and those that are missed, each once for a statement. */
export function promiseFigures(promises: readonly PromiseCheck[]): { measured: number; missed: PromiseCheck[] } {
	return { measured: promises.length, missed: promises.filter(({ isKept }) => !isKept) };
}

/** What was asked and what came, in words: `first cell of “wall”: 0.05 mm asked, 0.084 mm came`. */
export function promiseText({ what, asked, got, unit, more = 0 }: PromiseCheck, units: string): string {
	const of = (value: number) => `${short(value)}${unit === 'length' ? ` ${units}` : ''}`;
	return `${what}: ${of(asked)} asked, ${of(got)} came${more > 0 ? `, and at ${counted(more, 'more place')} it is missed` : ''}`;
}

/** The promises about a piece that are missed. */
export const missedOn = (promises: readonly PromiseCheck[], piece: number): PromiseCheck[] =>
	promises.filter(({ isKept, pieces }) => !isKept && pieces?.includes(piece));

/** The promises of a statement that are missed. */
export const missedIn = (promises: readonly PromiseCheck[], line: number): PromiseCheck[] =>
	promises.filter((p) => !p.isKept && p.line === line);
