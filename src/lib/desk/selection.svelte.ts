import { SvelteSet } from 'svelte/reactivity';

/** Something that can be selected: by its name, so that it survives every new mesh; a row of a file by its curve and line. */
export type ThingKind = 'piece' | 'point' | 'region' | 'group' | 'row';
export const thingKey = (kind: ThingKind, name: string): string => `${kind} ${name}`;

/** What is selected on the desk, and what the pointer is over. */
export class Selection {
	readonly keys = new SvelteSet<string>();
	hover = $state('');

	has(kind: ThingKind, name: string): boolean {
		return this.keys.has(thingKey(kind, name));
	}

	/** Names of the selected things of a kind. */
	names(kind: ThingKind): string[] {
		return [...this.keys].filter((key) => key.startsWith(`${kind} `)).map((key) => key.slice(kind.length + 1));
	}

	/** Selects things in place of what was; adding a single thing that is selected takes it away. */
	take(keys: readonly string[], add: boolean): void {
		if (!add) this.keys.clear();
		for (const key of keys)
			if (add && keys.length === 1 && this.keys.has(key)) this.keys.delete(key);
			else this.keys.add(key);
	}

	clear(): void {
		this.keys.clear();
	}
}
