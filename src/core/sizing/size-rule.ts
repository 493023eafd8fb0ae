/** The most elements that one region is filled with; beyond it a finding says so. */
export const elementLimit = 8_000_000;

/** Sizes that are requested at places. It is an object of a class: code that is compiled for a function of the moment goes with it. */
export interface SizesAt {
	at(x: number, y: number): number;
}

/** Sizes that a fill asks for. */
export interface SizeRule {
	/** Element size away from finer boundaries; Infinity when only the boundary counts. */
	size: number;
	/** Largest ratio of neighbouring sizes, above 1. */
	growth: number;
	/** Size that zones ask for at a place; Infinity where none does. */
	field?: SizesAt;
	/** Whether the triangles are to be as even as the outline allows, rather than grow from its divisions. */
	even?: boolean;
	/** Boxes outside of which nothing is asked to have a certain size of its own, by the zones that the field is made of. */
	plateaus?: readonly { size: number; box: readonly [number, number, number, number] }[];
}

/** A size, or that of a field at a place where there is one and it is smaller. */
export const sizeOrField = (size: number, field: SizesAt | undefined, x: number, y: number): number =>
	field ? Math.min(size, field.at(x, y)) : size;
