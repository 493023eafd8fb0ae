import * as v from 'valibot';
import { GridOptions } from './grid-options.ts';

/** The options of a deck. */
export const DeckOptions = v.strictObject({
	...GridOptions.entries,
	/** What nodes and elements are counted from. */
	ids: v.optional(v.picklist(['0', '1'], '“ids” count from 0 or 1, like “ids from 0”'), '1')
});
export type DeckOptions = v.InferOutput<typeof DeckOptions>;

/** A template of a deck, and the name of its file. */
export interface DeckTemplate {
	name: string;
	text: string;
}
