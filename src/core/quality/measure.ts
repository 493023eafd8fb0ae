import type { ElementShape } from './element-shape.ts';

/** A measure of the shape of one element. */
export interface Measure {
	key: string;
	title: string;
	/** Unit for the reader, '' for none. */
	unit: string;
	/** Ends of the histogram; values outside count in the outer bins. */
	low: number;
	high: number;
	/** Which end is the good one. */
	best: 'low' | 'high';
	of: (element: ElementShape) => number;
}
