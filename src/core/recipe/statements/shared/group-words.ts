import { didYouMean } from '../../../text/nearest.ts';
import {
	type BoundaryKind,
	boundaryKinds,
	type GroupColour,
	groupColours,
	isBoundaryKind,
	isGroupColour
} from '../../language/boundary-kinds.ts';
import type { Word } from '../../language/syntax.ts';
import { fail } from '../../model/evaluation-context.ts';

/** The kind that a word after `as` names; `usual` without one. */
export function kindOf(boundary: Word | undefined, usual: BoundaryKind): BoundaryKind {
	const kind = boundary?.text ?? usual;
	if (isBoundaryKind(kind)) return kind;
	fail(
		boundary!,
		`“${kind}” is no kind of boundary${didYouMean(kind, Object.keys(boundaryKinds))}; there are ${Object.keys(boundaryKinds).join(', ')}`
	);
}

/** The colour that a word after `colour` names. */
export function colourOf(colour: Word): GroupColour {
	if (isGroupColour(colour.text)) return colour.text;
	fail(colour, `“${colour.text}” is no colour of a group; there are ${Object.keys(groupColours).join(', ')}`);
}
