/**
 * What the browser keeps for this page between two visits. A browser may have no room, or forbid it: then nothing is remembered,
 * and nothing else is lost.
 */
export const browserMemory: Pick<Storage, 'getItem' | 'setItem'> = {
	getItem(key) {
		try {
			return localStorage.getItem(key);
		} catch {
			return null;
		}
	},
	setItem(key, value) {
		try {
			localStorage.setItem(key, value);
		} catch {
			// It is asked for again, or set again, at the next visit.
		}
	}
};
