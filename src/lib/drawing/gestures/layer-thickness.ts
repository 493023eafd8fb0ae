import { setLayers } from '../../../core/recipe/edits/intents.ts';
import type { Recipe } from '../../../core/recipe/language/recipe.ts';
import { layersOf } from '../../../core/recipe/statements/layers.ts';
import { writtenSize } from '../../../core/recipe/physics/calculators.ts';
import type { Handle } from '../handles.ts';
import { screenX, screenY, worldX, worldY, type View } from '../view.ts';
import { heightAbove, outerStackUnder, type WallStack } from '../wall-stacks.ts';
import type { GestureKind } from './gesture.ts';

/** Drags the outer line of layers: they become as thick as the pointer is high above the wall. */
export const layerThickness: GestureKind = (scene) => {
	const { desk } = scene;
	let held: { stack: WallStack; recipe: Recipe; label: string } | undefined;
	const isOpen = () => desk.station === 'fill' && desk.tool === 'select' && (desk.result?.layerFigures.length ?? 0) > 0;
	const worldAt = (px: number, py: number) => ({ x: worldX(scene.view, px), y: worldY(scene.view, py) });

	return {
		press({ px, py, pans }) {
			if (pans || !isOpen() || !desk.isCurrent) return false;
			const at = worldAt(px, py);
			const stack = outerStackUnder(desk.result!, at, 6 / scene.view.scale);
			// Where layers are thinner than the reach of a click, the wall itself is meant.
			if (!stack || heightAbove(stack, at) * scene.view.scale < 8) return false;
			const layer = layersOf(desk.result!.model).find(({ line }) => line === stack.line);
			if (!layer || layer.firsts || layer.toSize) {
				desk.notice = 'where the first height varies or the layers go on to the size behind, their thickness follows';
				return false;
			}
			held = { stack, recipe: desk.recipe, label: '' };
			return true;
		},
		move({ px, py }, _press, moved) {
			if (!held || !moved) return;
			const { stack, recipe } = held;
			const { profile, k } = stack;
			const least = profile.first[k]!;
			const thickness = writtenSize(Math.max(least, heightAbove(stack, worldAt(px, py))));
			held.label = `Layers ${thickness} thick`;
			desk.notice = held.label;
			desk.typeText(setLayers(recipe, stack.line, 'thickness', thickness), true);
		},
		release({ px, py, adding }, _press, moved) {
			if (held?.label) desk.finishTyping(held.label);
			else if (held && !moved) scene.pick(px, py, adding);
			held = undefined;
			desk.notice = '';
		},
		cancel() {
			if (held?.label) desk.typeText(held.recipe.text, true);
			held = undefined;
		},
		handles: (view) =>
			isOpen() ? desk.result!.layerFigures.flatMap(({ profiles }) => profiles.flatMap((p) => gripOf(p, view))) : []
	};
};

/** A square on the outer line in the middle of the longest stretch, where it stands clear of the wall. */
function gripOf({ topX, topY, x, y, runs }: WallStack['profile'], view: View): Handle[] {
	const ends = [...runs.slice(1), x.length];
	const longest = runs.reduce((best, from, r) => (ends[r]! - from > ends[best]! - runs[best]! ? r : best), 0);
	const k = ((runs[longest] ?? 0) + (ends[longest] ?? 0)) >> 1;
	if (k >= x.length || Math.hypot(topX[k]! - x[k]!, topY[k]! - y[k]!) * view.scale < 14) return [];
	return [{ kind: 'grip', piece: -1, px: screenX(view, topX[k]!), py: screenY(view, topY[k]!) }];
}
