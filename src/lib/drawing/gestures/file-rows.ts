import { RowGrip } from '../row-grip.svelte.ts';
import { snapAt } from '../snap.ts';
import type { GestureKind } from './gesture.ts';

/** Drags a point of the selected outline that came from a file. */
export const fileRows: GestureKind = (scene) => {
	const grip = new RowGrip(scene.desk);
	return {
		press: ({ px, py, adding }) => !adding && !scene.pointUnder(px, py) && grip.take(scene.view, px, py),
		move({ px, py, snapping }, _, moved) {
			if (moved) grip.move(snapAt(scene.view, px, py, undefined, { snapping }));
		},
		release(_, __, moved) {
			if (moved) void grip.drop();
			else grip.held = undefined;
		},
		cancel: () => void (grip.held = undefined),
		handles: (view) => grip.marks(view)
	};
};
