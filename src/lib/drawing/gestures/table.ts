import { answerTool } from './answer.ts';
import { cornerOwner } from './corner-owner.ts';
import { corners } from './corners.ts';
import { divisionHandles } from './division-handles.ts';
import { fileRows } from './file-rows.ts';
import type { GestureKind } from './gesture.ts';
import { lasso } from './lasso.ts';
import { layerThickness } from './layer-thickness.ts';
import { movePoints } from './move-point.ts';
import { pan } from './pan.ts';
import { shapeGrips } from './shape-grips.ts';
import { select } from './select.ts';

/** Every gesture, in the order in which they are asked whether a press is theirs. */
export const gestures: readonly GestureKind[] = [
	pan,
	cornerOwner,
	divisionHandles,
	fileRows,
	corners,
	movePoints,
	shapeGrips,
	layerThickness,
	lasso,
	answerTool,
	select
];
