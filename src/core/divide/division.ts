import type { CountSource } from '../blocks/counts.ts';
import type { Block, Layout } from '../blocks/layout.ts';
import type { Spacing, SpacingFigures } from './spacing.ts';

/** How one piece is divided. */
export interface Division {
	count: number;
	source: CountSource;
	/** The law of its spacing; `across` when a structured neighbour passes its spacing on, `like` when it is copied, `chain` when it is part of a longer one. */
	spacing:
		| Spacing
		| { law: 'across'; piece: number; turned?: boolean }
		| { law: 'like'; piece: number }
		| { law: 'sizes' }
		| { law: 'chain'; spacing: Spacing; pieces: readonly number[] };
	/** Statement that gave the count and the spacing; −1 when none did. */
	countLine: number;
	spacingLine: number;
	/** Fractions of arc length, count + 1 of them. */
	at: Float64Array;
	figures: SpacingFigures;
	/** Node coordinates along the piece, count + 1, the ends exactly those of its junctions. */
	x: Float64Array;
	y: Float64Array;
}

/** Counts and node places of every piece. */
export interface Divisions {
	pieces: Division[];
	/** Pieces whose counts cannot all stand. */
	clashing: Set<number>;
	/** For every layout the counts of its own. */
	own: number[][];
}

/** A four-sided block with the region that it fills. */
export interface BlockOf {
	region: number;
	block: Block;
}

/** A layout with the region that it fills. */
export interface RegionLayout {
	region: number;
	layout: Layout;
}
