/** A table with a limit to its entries: what was used longest ago goes first. */
export interface LeastRecent<T> {
	get(key: string): T | undefined;
	set(key: string, value: T): void;
	delete(key: string): void;
}

export function leastRecent<T>(most: number): LeastRecent<T> {
	const entries = new Map<string, T>();
	return {
		get(key) {
			const value = entries.get(key);
			if (value !== undefined) {
				entries.delete(key);
				entries.set(key, value);
			}
			return value;
		},
		set(key, value) {
			entries.delete(key);
			entries.set(key, value);
			for (const oldest of entries.keys()) {
				if (entries.size <= most) break;
				entries.delete(oldest);
			}
		},
		delete: (key) => void entries.delete(key)
	};
}
