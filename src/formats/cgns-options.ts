import * as v from 'valibot';
import { GridOptions } from './grid-options.ts';

/** The options of a CGNS delivery. */
export const CgnsOptions = v.strictObject({
	...GridOptions.entries,
	/** Whether regions of quadrilaterals are zones of rows, joined to one another, or all is one unstructured zone. */
	zones: v.optional(v.picklist(['one', 'structured'], '“zones” are “one” or “structured”'), 'one')
});
export type CgnsOptions = v.InferOutput<typeof CgnsOptions>;
