import {
	type BoundaryKind,
	boundaryKinds,
	type GroupColour,
	groupColours,
	isBoundaryKind,
	isGroupColour
} from '../../language/boundary-kinds.ts';
import type { Word } from '../../language/syntax.ts';
import { failWith } from '../../model/evaluation-context.ts';

/** Words that people use for kinds of boundaries, and for colours, and those that are meant. */
const kindsMeant: Record<string, BoundaryKind> = {
	inlet: 'inflow',
	intake: 'inflow',
	outlet: 'outflow',
	exit: 'outflow',
	exhaust: 'outflow',
	noslip: 'no_slip_wall',
	no_slip: 'no_slip_wall',
	slip: 'slip_wall',
	farfield: 'far_field',
	freestream: 'far_field',
	symmetric: 'symmetry',
	symmetry_plane: 'symmetry',
	adiabatic: 'heat_flux_wall',
	isothermal: 'isothermal_wall'
};
const coloursMeant: Record<string, GroupColour> = {
	red: 'vermilion',
	orange: 'amber',
	yellow: 'amber',
	cyan: 'sky',
	teal: 'sky',
	violet: 'purple',
	magenta: 'purple',
	grey: 'slate',
	gray: 'slate',
	black: 'slate'
};

/** The kind that a word after `as` names; `usual` without one. */
export function kindOf(boundary: Word | undefined, usual: BoundaryKind): BoundaryKind {
	const kind = boundary?.text ?? usual;
	if (isBoundaryKind(kind)) return kind;
	failWith(boundary!, `“${kind}” is no kind of boundary`, Object.keys(boundaryKinds), kindsMeant);
}

/** The colour that a word after `colour` names. */
export function colourOf(colour: Word): GroupColour {
	if (isGroupColour(colour.text)) return colour.text;
	failWith(colour, `“${colour.text}” is no colour of a group`, Object.keys(groupColours), coloursMeant);
}
