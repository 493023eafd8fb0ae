import type { GestureKind } from './gesture.ts';

/** Moves the view with the middle button, or with Alt. */
export const pan: GestureKind = (scene) => ({
	press: ({ pans }) => pans,
	move({ px, py }, { px: fromX, py: fromY, view }) {
		scene.view = { ...scene.view, x: view.x - (px - fromX) / view.scale, y: view.y + (py - fromY) / view.scale };
	},
	release() {},
	cancel() {}
});
