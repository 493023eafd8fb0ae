/** Whether two lists hold the same numbers. */
export function sameNumbers(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
	if (a === b) return true;
	if (a.length !== b.length) return false;
	for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
	return true;
}
