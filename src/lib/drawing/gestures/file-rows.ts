import { RowGrip } from '../row-grip.svelte.ts';
import { snapAt } from '../snap.ts';
import type { GestureKind } from './gesture.ts';

/** Drags a point of the selected outline that came from a file; a click selects it, with Shift one more. */
export const fileRows: GestureKind = (scene) => {
	const grip = new RowGrip(scene.desk);
	return {
		press: ({ px, py }) => scene.desk.tool === 'select' && !scene.pointUnder(px, py) && grip.take(scene.view, px, py),
		move({ px, py, snapping }, _, moved) {
			if (moved) grip.move(snapAt(scene.view, px, py, undefined, { snapping }));
		},
		release({ adding }, _, moved) {
			if (moved) grip.drop();
			else grip.select(adding);
		},
		cancel: () => void (grip.held = undefined),
		handles: (view) => grip.marks(view)
	};
};
