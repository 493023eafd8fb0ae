import * as v from 'valibot';
import { GridOptions } from './grid-options.ts';

/** The options of tables. */
export const TableOptions = v.strictObject({
	...GridOptions.entries,
	/** What nodes and elements are counted from. */
	ids: v.optional(v.picklist(['0', '1'], '“ids” count from 0 or 1, like “ids from 0”'), '1'),
	/** What stands between two columns. */
	separator: v.optional(v.picklist([',', ';', 'tab', ' '], 'a “separator” is ",", ";", " " or tab'), ','),
	/** The decimal sign. */
	decimal: v.optional(v.picklist(['.', ','], 'the “decimal” sign is "." or ","'), '.'),
	/** Whether the first row names the columns. */
	header: v.optional(v.picklist(['yes', 'none'], '“header” is “yes” or “none”'), 'yes'),
	/** Digits after the decimal sign; `shortest` reads back exactly. */
	digits: v.optional(
		v.pipe(v.string(), v.regex(/^(shortest|\d|1[0-7])$/, '“digits” are “shortest”, or a number from 0 to 17')),
		'shortest'
	)
});
export type TableOptions = v.InferOutput<typeof TableOptions>;
