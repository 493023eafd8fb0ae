/** Lists of a fixed length, and records with known keys, without losing their types on the way. */

/** What a function makes of each item of a list of fixed length, in a list of that length. */
export const mapped = <const T extends readonly unknown[], U>(
	list: T,
	make: (item: T[number], k: number) => U
): { -readonly [K in keyof T]: U } => list.map(make) as { -readonly [K in keyof T]: U };

/** The keys of a record that has no others than its type names. */
export const keysOf = <T extends object>(record: T): (keyof T & string)[] => Object.keys(record) as (keyof T & string)[];

/** Keys and values of a record that has no others than its type names. */
export const entriesOf = <T extends object>(record: T): [keyof T & string, NonNullable<T[keyof T & string]>][] =>
	Object.entries(record) as [keyof T & string, NonNullable<T[keyof T & string]>][];
