import type { GestureKind } from './gesture.ts';

/** Places of the pointer nearer than this to the last, in pixels, are left out. */
const step = 3;

/** Selects what is drawn around, and what the line crosses; without Shift the pointer selects again afterwards. */
export const lasso: GestureKind = (scene) => {
	const { desk } = scene;
	let line: number[] = [];
	return {
		press({ px, py }) {
			if (desk.tool !== 'lasso') return false;
			line = [px, py];
			return true;
		},
		move({ px, py }) {
			if (Math.hypot(px - line.at(-2)!, py - line.at(-1)!) >= step) line = [...line, px, py];
		},
		release({ px, py, adding }, _, moved) {
			if (!moved) scene.pick(px, py, adding);
			else desk.select(scene.thingsInLasso(line), adding);
			line = [];
			if (!adding) desk.tool = 'select';
		},
		cancel: () => void (line = []),
		lasso: () => line
	};
};
