import type { Report } from '../findings/report.ts';
import type { CountSource } from '../blocks/counts.ts';
import type { RegionDemands } from '../blocks/demands.ts';
import type { Block } from '../blocks/layout.ts';
import type { Domain } from '../domain/domain.ts';
import type { SizeField } from '../sizing/size-field.ts';
import type { SizeCache } from '../sizing/size-cache.ts';
import { PlacementCache } from './placement.ts';
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
		/** Moved when the mesh was smoothed across it. */
		| { law: 'smoothed' }
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
	/** For every one of the demands the counts that it has inside. */
	inner: number[][];
}

/** A four-sided block with the region that it fills. */
export interface BlockOf {
	region: number;
	block: Block;
}

/** What the divisions are worked out from. */
export interface DivideContext extends Domain {
	/** What the fills demand of the divisions around them. */
	demands: readonly RegionDemands[];
	field: SizeField;
	report: Report;
	/** Node places of the last time. */
	placed: PlacementCache;
	/** Sizes along pieces, and gaps, of the last time. */
	knownSizes: SizeCache;
}
