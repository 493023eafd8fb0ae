import * as v from 'valibot';

const yesNo = (name: string, usual: 'yes' | 'no') =>
	v.optional(v.picklist(['yes', 'no'], `\`${name}\` is \`yes\` or \`no\``), usual);

/** The options of a figure. */
export const FigureOptions = v.strictObject({
	/** How wide it is on paper, in millimetres. */
	width: v.optional(
		v.pipe(
			v.string(),
			v.regex(/^\d{1,4}$/, '`width` is a whole number of millimetres, like 160'),
			v.check((text) => Number(text) >= 20 && Number(text) <= 2000, '`width` is from 20 to 2000 millimetres')
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
export type FigureOptions = v.InferOutput<typeof FigureOptions>;
