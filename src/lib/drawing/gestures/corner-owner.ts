import { sharedNodes, type SharedNode } from '../../../core/mesh/node-sets.ts';
import type { Mesh } from '../../../core/mesh/mesh.ts';
import { groupColours } from '../../../core/recipe/language/boundary-kinds.ts';
import { setOwner } from '../../../core/recipe/edits/intents.ts';
import { formatNumber } from '../../../core/recipe/language/literals.ts';
import type { Shown } from '../../desk/snapshot.ts';
import { screenX, screenY, type View } from '../view.ts';
import type { GestureKind } from './gesture.ts';

const cache = new WeakMap<Mesh, SharedNode[]>();

/** The nodes that groups share, once for a mesh. */
function sharedOf(mesh: Mesh): SharedNode[] {
	const list = cache.get(mesh) ?? sharedNodes(mesh);
	cache.set(mesh, list);
	return list;
}

/** More flags than this in sight are not drawn. */
const mostFlags = 400;

/** The flags at nodes that groups share, in pixels. */
export function flagsOf({ mesh }: Shown, view: View): { px: number; py: number; colour: string; shared: SharedNode }[] {
	const flags = [];
	for (const shared of sharedOf(mesh)) {
		const [px, py] = [screenX(view, mesh.x[shared.node]!), screenY(view, mesh.y[shared.node]!)];
		if (px < 0 || py < 0 || px > view.width || py > view.height + 15) continue;
		flags.push({ px, py, colour: groupColours[mesh.groups[shared.owner]!.colour], shared });
		if (flags.length > mostFlags) return [];
	}
	return flags;
}

/** A click on the flag of a corner makes the next of its groups the owner. */
export const cornerOwner: GestureKind = (scene) => {
	const { desk } = scene;
	return {
		press({ px, py, pans }) {
			const { result } = desk;
			if (pans || desk.station !== 'label' || desk.tool !== 'select' || !result || !desk.isCurrent) return false;
			const flag = flagsOf(result, scene.view).find((f) => px > f.px - 3 && px < f.px + 12 && py > f.py - 18 && py < f.py - 6);
			if (!flag) return false;
			const { mesh, model } = result;
			const { node, groups, owner } = flag.shared;
			const next = mesh.groups[groups[(groups.indexOf(owner) + 1) % groups.length]!]!.name;
			const at = { x: mesh.x[node]!, y: mesh.y[node]! };
			// A point that stands there follows what moves it.
			const point = model.points.find((p) => Math.hypot(p.x - at.x, p.y - at.y) <= result.arrangement.tolerance);
			const place = point?.name ?? `(${formatNumber(at.x)}, ${formatNumber(at.y)})`;
			desk.edit(setOwner(desk.recipe, place, next), `Owner of ${place}: ${next}`);
			return true;
		},
		move() {
			// A click is all of it.
		},
		release() {
			// A click is all of it.
		},
		cancel() {
			// A click is all of it.
		}
	};
};
