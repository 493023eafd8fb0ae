import * as v from 'valibot';

const yesNo = (name: string, usual: 'yes' | 'no') => v.optional(v.picklist(['yes', 'no'], `“${name}” is “yes” or “no”`), usual);

/** The options of a figure. */
export const FigureOptions = v.strictObject({
	/** How wide it is on paper, in millimetres. */
	width: v.optional(
		v.pipe(
			v.string(),
			v.regex(/^\d{1,4}$/, '“width” is a whole number of millimetres, like 160'),
			v.check((text) => Number(text) >= 20 && Number(text) <= 2000, '“width” is from 20 to 2000 millimetres')
		),
		'160'
	),
	/** Whether the elements are drawn, or the outline alone. */
	mesh: yesNo('mesh', 'yes'),
	/** Whether groups have their colours, and a legend says which. */
	legend: yesNo('legend', 'yes'),
	/** Whether a bar says the scale. */
	scale: yesNo('scale', 'yes')
});
/** The options of a figure in dots. */
export const PngOptions = v.strictObject({
	...FigureOptions.entries,
	/** Dots to an inch: 300 is what print asks for. */
	dpi: v.optional(
		v.pipe(
			v.string(),
			v.regex(/^\d{2,4}$/, '“dpi” is a whole number of dots to an inch, like 300'),
			v.check((text) => Number(text) >= 36 && Number(text) <= 2400, '“dpi” is from 36 to 2400 dots to an inch')
		),
		'300'
	)
});
export type PngOptions = v.InferOutput<typeof PngOptions>;
export type FigureOptions = v.InferOutput<typeof FigureOptions>;
