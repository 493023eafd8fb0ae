import { DivisionGrip } from '../division-grip.svelte.ts';
import type { GestureKind } from './gesture.ts';

/** Drags the count or an end cell of the piece that is selected in Divide. */
export const divisionHandles: GestureKind = (scene) => {
	const grip = new DivisionGrip(scene.desk, scene.lines);
	return {
		press: ({ px, py }) => grip.take(scene.view, px, py),
		move: ({ px, py }) => grip.move(scene.view, px, py),
		release: () => grip.drop(),
		cancel: () => void grip.cancel(),
		handles: (view) => grip.handles(view)
	};
};
