import type { MeshParts } from '../assembly/assemble.ts';
import type { Mesh } from '../mesh/mesh.ts';
import { elementCentre, foldedElements, Quality, type MeshPart, type PartResults } from '../quality/quality.ts';
import { part, type Work } from '../numeric/work.ts';
import type { Report } from '../findings/report.ts';

interface CachedQuality extends PartResults {
	folded: { count: number; worst: number };
}

/** Looks for elements that no solver can use, and keeps measures of regions that have not changed. Measures are taken when they are asked for. */
export class QualityStage {
	private last = new Map<string, CachedQuality>();

	*run(mesh: Mesh, { fills }: MeshParts, report: Report): Work<Quality> {
		const parts: MeshPart[] = [];
		const remembered: CachedQuality[] = [];
		const current = new Map<string, CachedQuality>();
		let [triangle, quad] = [0, 0];
		for (const [r, filled] of fills.entries()) {
			if (!filled) continue;
			const { fill } = filled;
			const elements: MeshPart = {
				triangles: [triangle, triangle + fill.triangles.length / 3],
				quads: [quad, quad + fill.quads.length / 4],
				// A pass that moves nodes makes new coordinates.
				madeFrom: [fill, mesh.x, mesh.y]
			};
			[triangle, quad] = [elements.triangles[1], elements.quads[1]];
			const cached = this.last.get(mesh.regions[r]!);
			const isKnown = cached?.madeFrom.every((object, k) => object === elements.madeFrom[k]);
			const entry = isKnown
				? cached!
				: {
						madeFrom: elements.madeFrom,
						results: new Map(),
						folded: yield* part(foldedElements(mesh, elements), r / fills.length, (r + 1) / fills.length)
					};
			parts.push(elements);
			remembered.push(entry);
			current.set(mesh.regions[r]!, entry);
		}
		this.last = current;
		reportFolded(mesh, remembered, report);
		return new Quality(mesh, parts, remembered);
	}
}

function reportFolded(mesh: Mesh, parts: readonly CachedQuality[], report: Report): void {
	const count = parts.reduce((sum, { folded }) => sum + folded.count, 0);
	if (count === 0) return;
	const { folded } = parts.find((part) => part.folded.count > 0)!;
	report.add('inverted', { count }, { at: elementCentre(mesh, folded.worst) });
}
