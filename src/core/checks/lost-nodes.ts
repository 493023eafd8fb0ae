import { methodOf } from '../fill/methods.ts';
import type { ShapeCheck } from './shape-check.ts';

/** Nodes that are requested inside a region whose cells stand in rows, which takes none of its own. */
export function checkLostNodes({ model, arrangement, regions, report }: ShapeCheck): void {
	const { isolated, x, y, tolerance } = arrangement;
	for (const { junction, face } of isolated) {
		const region = regions.find((r) => r.face === face);
		const method = region && methodOf(region);
		if (!method || method.keepsPoints) continue;
		const at = { x: x[junction]!, y: y[junction]! };
		const node = model.nodes.find((n) => Math.abs(n.x - at.x) + Math.abs(n.y - at.y) <= 2 * tolerance);
		(node ? report.about(node.line) : report).add('lost-node', { at, region: region.name, method: method.title }, { at });
	}
}
