import { CornerGrip } from '../corner-grip.svelte.ts';
import type { GestureKind } from './gesture.ts';

/** Drags or clicks the corners of the structured region that is selected in Fill. */
export const corners: GestureKind = (scene) => {
	const grip = new CornerGrip(scene.desk);
	return {
		press: ({ px, py, adding }) => !adding && grip.take(scene.view, px, py),
		move({ px, py }, _, moved) {
			if (moved) grip.move(scene.view, px, py);
		},
		release: (_, __, moved) => grip.drop(moved),
		cancel: () => void grip.cancel(),
		corners: (view) => grip.marks(view)
	};
};
