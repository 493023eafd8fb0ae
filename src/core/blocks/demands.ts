import type { Walk } from '../geometry/pieces.ts';
import { layoutEquations, layoutWalks, type Block, type Layout, type LayoutEquation } from './layout.ts';

/**
 * What the fill of a region demands of the divisions around it: equations between counts, which the count solver
 * fulfils, and places of nodes, which the placing takes.
 */
export interface Demands {
	/** Four-sided blocks: facing sides carry the same sum, and a spacing passes from side to side. */
	blocks: readonly Block[];
	/** The layout whose sides the walks are, where it has one. */
	layout?: Layout;
	/** Walks that are divided by the layout; sizes along them follow only the size of the region. */
	walks: readonly Walk[];
	/**
	 * Equations between the counts of pieces and counts that the layout has inside, numbered from 0.
	 *
	 * @param wanted divisions that the sizes imply, one per piece, not rounded
	 * @param pinned counts that are typed, by piece
	 */
	equations(wanted: readonly number[], pinned?: ReadonlyMap<number, number>): { equations: LayoutEquation[]; inner: number[] };
	/** Equations that are enough where those cannot hold beside the counts of other regions; the layout then follows as far as it can. */
	enough?(wanted: readonly number[]): { equations: LayoutEquation[]; inner: number[] };
	/**
	 * Nodes near an end of a piece whose count is derived: by the half-piece that leaves that end, their distances
	 * from it, rising. The rest of the piece is divided by sizes.
	 */
	heights?: ReadonlyMap<number, readonly number[]>;
}

/** The demands of one of the regions of a domain. */
export interface RegionDemands {
	region: number;
	demands: Demands;
}

/** The demands of a fill that is laid out in blocks. */
export const demandsOf = (layout: Layout): Demands => ({
	blocks: layout.kind === 'block' ? [layout] : [],
	layout,
	walks: layoutWalks(layout),
	equations: (wanted) => layoutEquations(layout, wanted)
});
