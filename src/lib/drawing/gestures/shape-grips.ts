import { gripsOf, type TextGrip } from '../../../core/recipe/edits/grips-of.ts';
import { applyEdits } from '../../../core/text/edit.ts';
import type { DrawingScene } from '../drawing-scene.svelte.ts';
import { snapAt } from '../snap.ts';
import { screenX, screenY } from '../view.ts';
import type { GestureKind } from './gesture.ts';

/** Drags corners, sides, centres and rims of what one statement draws, where they are written as numbers; the mesh follows. */
export const shapeGrips: GestureKind = (scene) => {
	const { desk } = scene;
	let held: { grip: TextGrip; text: string; name: string } | undefined;
	return {
		press({ px, py, adding }) {
			const present = adding ? undefined : shown(scene);
			const grip = present?.grips.findLast((g) => Math.hypot(screenX(scene.view, g.x) - px, screenY(scene.view, g.y) - py) < 8);
			held = grip && { grip, text: desk.text, name: present!.name };
			return held !== undefined;
		},
		move({ px, py, snapping }, _, moved) {
			if (!held || !moved || !desk.result) return;
			// It must not snap to what hangs on it.
			const { result } = desk;
			const bare = {
				...result,
				model: { ...result.model, curves: [] },
				arrangement: { ...result.arrangement, x: new Float64Array(0), y: new Float64Array(0) }
			};
			const edits = held.grip.move(snapAt(scene.view, px, py, bare, { snapping }));
			if (edits.length > 0) desk.typeText(applyEdits(held.text, edits), true);
		},
		release({ px, py, adding }, _, moved) {
			if (held && moved) desk.finishTyping(`Change ${held.name}`);
			else scene.pick(px, py, adding);
			held = undefined;
		},
		cancel() {
			if (held) desk.typeText(held.text, true);
			held = undefined;
		},
		handles: (view) =>
			shown(scene)?.grips.map(({ x, y }) => ({ kind: 'grip', piece: -1, px: screenX(view, x), py: screenY(view, y) })) ?? []
	};
};

let cached: { of: unknown; line: number; grips: TextGrip[] } | undefined;

/** The grips of the one statement whose curves are selected in Shape. */
function shown({ desk }: DrawingScene): { name: string; grips: TextGrip[] } | undefined {
	const { result } = desk;
	if (desk.station !== 'shape' || desk.tool !== 'select' || !result || !desk.isCurrent) return undefined;
	const names = new Set(desk.selected('piece').map((p) => p.replace(/\[\d+\]$/, '')));
	const lines = new Set([...names].map((name) => result.model.curveLines[result.model.curvesByName.get(name)?.[0] ?? -1]));
	const [line] = lines;
	if (lines.size !== 1 || line === undefined) return undefined;
	if (cached?.of !== result.model || cached.line !== line)
		cached = { of: result.model, line, grips: gripsOf(result.model, line) };
	return { name: [...names][0]!.split('.', 1)[0]!, grips: cached.grips };
}
