import type { Arrangement } from '../geometry/pieces.ts';
import type { Model } from '../recipe/model/model.ts';
import type { PeriodicPair } from './periodic.ts';
import type { Region } from './regions.ts';
import type { WallLayers } from './walls.ts';

/** A recipe's drawing with its named regions: what is divided, filled and labelled. */
export interface Domain {
	model: Model;
	arrangement: Arrangement;
	regions: readonly Region[];
	/** The walls that grow layers. */
	layers: WallLayers;
	/** Pieces that are periodic with others. */
	periodic: readonly PeriodicPair[];
	/** The element size where the recipe gives none. */
	fallbackSize: number;
}
