/** Whether a side is a wall whose first cells keep their height. */
export type SideHeights =
	| false
	| {
			/**
			 * The part of the cell at its start and at its end that is that height: 1 where it is given along the line, the sine
			 * of the angle at the wall where it is given square to it.
			 */
			ends: readonly [number, number];
			/** Where the height varies along the side: that at each of its nodes. */
			heights?: Float64Array;
	  };

/** How many cells at the two ends of the lines across keep their height on every line, whatever its length, and the length for which `across` has it. */
export interface Stacks {
	start: number;
	end: number;
	distance: number;
}

/** A layout with the local nodes of its sides, each from corner to corner. */
export type NodeLayout =
	| {
			kind: 'block';
			sides: [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
			/** The sides along which the first cells keep their height, as fixed numbers of length ask. */
			walls: [SideHeights, SideHeights, SideHeights, SideHeights];
	  }
	/** `spokes[i]` divisions from side i to the middle; side i carries spokes[i − 1] + spokes[i + 1]. */
	| { kind: 'star'; sides: Uint32Array[]; spokes: number[] }
	/**
	 * Closed walks, the first node not repeated; `across` the positions from the outer to the inner one, as
	 * fractions. Where they are `matched` the first nodes face one another.
	 */
	| { kind: 'ring'; outer: Uint32Array; inner: Uint32Array; across: Float64Array; matched?: true; stacks?: Stacks }
	/** A closed walk, and how many nodes its first side has where the core shall have corners; `across` from the outline to the core, which lies so far out, as a share of the way, half way unless said. */
	| { kind: 'disc'; outline: Uint32Array; first: number; across: Float64Array; core?: number; stacks?: Stacks };
