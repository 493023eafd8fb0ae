import type { PromiseKind } from '../recipe/language/promise.ts';
import * as divisions from './divisions.ts';
import * as labels from './labels.ts';
import * as layers from './layers.ts';
import type { PromiseMeasure } from './measure.ts';
import * as sizes from './sizes.ts';

/** How each kind of promise is measured. */
export const promiseMeasures: { [K in PromiseKind]: PromiseMeasure<K> } = {
	count: divisions.count,
	'division size': divisions.divisionSize,
	'divisions a turn': divisions.divisionsATurn,
	'chord error': divisions.chordError,
	'first cell': divisions.firstCell,
	'last cell': divisions.lastCell,
	'cell growth': divisions.cellGrowth,
	bias: divisions.bias,
	'largest cell': divisions.largestCell,
	positions: divisions.positions,
	'like another': divisions.likeAnother,
	'first height': layers.firstHeight,
	'layer growth': layers.layerGrowth,
	'layer count': layers.layerCount,
	'rows across': layers.rowsAcross,
	'first row': layers.firstRow,
	size: sizes.size,
	'elements a turn': sizes.elementsATurn,
	edges: labels.edges,
	elements: labels.elements,
	node: labels.node,
	'two sides': labels.twoSides,
	periodic: labels.periodic,
	shape: labels.shape
};
