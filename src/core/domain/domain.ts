import type { Arrangement } from '../geometry/pieces.ts';
import type { Model } from '../recipe/model.ts';
import type { Region } from './regions.ts';

/** A recipe's drawing with its named regions: what is divided, filled and labelled. */
export interface Domain {
	model: Model;
	arrangement: Arrangement;
	regions: readonly Region[];
	/** The element size where the recipe gives none. */
	fallbackSize: number;
}
