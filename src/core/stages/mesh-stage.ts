import { assembleMesh, type MeshParts } from '../assembly/assemble.ts';
import type { Pass, PassResult } from '../assembly/pass.ts';
import { DropUnused } from '../assembly/drop-unused.ts';
import { PartWalls } from '../assembly/part-walls.ts';
import { SmoothAcross } from '../assembly/smooth-across.ts';
import type { Work } from '../numeric/work.ts';
import type { Mesh, MeshGroup } from '../mesh/mesh.ts';

/** From fills to one mesh, and the passes over it. What has not changed is not copied again. */
export class MeshStage {
	/** Changes to the finished mesh, in their order. */
	private readonly passes: readonly Pass[] = [new SmoothAcross(), new DropUnused(), new PartWalls()];
	private last: { parts: MeshParts; mesh: Mesh } | undefined;

	*run(parts: MeshParts, groups: MeshGroup[]): Work<PassResult> {
		const mesh = yield* assembleMesh(parts, groups, this.last);
		this.last = { parts, mesh };
		return this.passes.reduce<PassResult>((passed, pass) => pass.run(passed, parts), { mesh, divisions: parts.divisions });
	}
}
