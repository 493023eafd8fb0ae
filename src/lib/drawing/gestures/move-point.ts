import { movePoint, whyLocked } from '../moving.ts';
import { snapAt } from '../snap.ts';
import type { GestureKind } from './gesture.ts';

/** Drags a named point; the mesh follows. A click on it selects it. */
export const movePoints: GestureKind = (scene) => {
	const { desk } = scene;
	let before = '';
	return {
		press({ px, py, adding }) {
			const point = desk.tool === 'select' && desk.station === 'shape' && !adding ? scene.pointUnder(px, py) : undefined;
			if (!point) return false;
			scene.moving = { name: point.name, x: point.x, y: point.y };
			before = desk.text;
			return true;
		},
		move({ px, py, snapping }, _, moved) {
			const { moving } = scene;
			if (!moved || !moving || !desk.result) return;
			const locked = whyLocked(desk.recipe, moving.name);
			if (locked) {
				desk.notice = locked;
				return;
			}
			// The point must not snap to itself, nor to what hangs on it.
			const { result } = desk;
			const points = result.model.points.filter((p) => p.name !== moving.name);
			const others = { ...result, model: { ...result.model, points, curves: [] } };
			const bare = { ...others, arrangement: { ...result.arrangement, x: new Float64Array(0), y: new Float64Array(0) } };
			const to = snapAt(scene.view, px, py, bare, { snapping });
			scene.moving = { ...moving, x: to.x, y: to.y };
			desk.typeText(movePoint(desk.recipe, moving.name, to.x, to.y), true);
		},
		release({ px, py, adding }, _, moved) {
			const { moving } = scene;
			scene.moving = undefined;
			if (moved && moving) desk.finishTyping(`Move ${moving.name}`);
			else scene.pick(px, py, adding);
		},
		cancel() {
			scene.moving = undefined;
			desk.typeText(before, true);
		}
	};
};
