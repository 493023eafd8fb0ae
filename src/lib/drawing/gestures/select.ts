import type { GestureKind } from './gesture.ts';

/** Selects what is clicked, or what a box takes in. */
export const select: GestureKind = (scene) => ({
	press: () => true,
	move() {},
	release({ px, py, adding }, from, moved) {
		if (moved) scene.desk.select(scene.thingsInBox(from.px, from.py, px, py), adding);
		else scene.pick(px, py, adding);
	},
	cancel() {},
	box: ({ px, py }, from, moved) => (moved ? { x0: from.px, y0: from.py, x1: px, y1: py } : undefined)
});
