import type { ElementShapes } from './element-shapes.ts';

/** A measure of the shape of elements. */
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
	/** Writes the values of all elements that are looked at, one after another. */
	take: (elements: ElementShapes, values: Float64Array) => void;
}
