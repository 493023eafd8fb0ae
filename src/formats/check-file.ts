import type { Domain } from '../core/domain/domain.ts';
import { fileScale } from '../core/recipe/language/units.ts';
import { checkPromises, type PromiseCheck } from '../core/promises/check.ts';
import { meshOnDrawing } from '../core/promises/mesh-on-drawing.ts';
import type { MeshFile } from './mesh-file.ts';

/** What of a mesh file no file says: how its groups came to be, pairs and owners. These are compared by their counts. */
const unsaid = new Set<PromiseCheck['asks']>(['edges', 'elements', 'periodic', 'two sides']);

/** Holds what a recipe asks against a mesh that was read from a file: nothing of what made the mesh is looked at. */
export function checkFile(file: MeshFile, domain: Pick<Domain, 'model' | 'arrangement' | 'regions'>): PromiseCheck[] {
	const scale = fileScale(file.unit, domain.model.units);
	const inUnits = (values: Float64Array) => (scale === 1 ? values : values.map((v) => v * scale));
	const read = { ...file, x: inUnits(file.x), y: inUnits(file.y) };
	const mesh = meshOnDrawing(read, domain.arrangement, []);
	return checkPromises({ ...domain, mesh }).filter(({ asks }) => !unsaid.has(asks));
}
