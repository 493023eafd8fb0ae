import { promiseFigures, promiseText } from '../../core/figures/promise-figures.ts';
import type { RegionGroup } from '../../core/mesh/mesh.ts';
import { elementCount } from '../../core/mesh/mesh.ts';
import { sharedNodes } from '../../core/mesh/node-sets.ts';
import { counted } from '../../core/text/sentences.ts';
import type { Finding } from '../../core/text/finding.ts';
import { thingKey } from '../desk/selection.svelte.ts';
import type { Shown } from '../desk/snapshot.ts';

/** One thing that a mesh needs: whether it is so, in words with its count, and what a click shows. */
export interface Standing {
	ok: boolean;
	text: string;
	/** Places to walk through, one click each. */
	places: { x: number; y: number; said?: string }[];
	/** Keys of things to select. */
	keys: string[];
}

/** What must not be found of the outlines: by its codes, what is said when there is nothing of it, and when there is. */
const outlines = [
	{
		codes: ['open-end', 'inner-edge', 'region-open', 'encloses-nothing', 'bounds-nothing'],
		none: 'every outline is closed',
		some: 'place where an outline is open'
	},
	{ codes: ['doubled', 'overlap', 'spur'], none: 'nothing is drawn twice', some: 'place where curves lie on one another' },
	{
		codes: ['self-crossing', 'too-many-crossings', 'chords-cross', 'zigzag'],
		none: 'no curve crosses itself',
		some: 'place where a curve crosses itself'
	}
];

const placesOf = (findings: readonly Finding[]) => findings.flatMap(({ at }) => (at ? [{ x: at.x, y: at.y }] : []));

/**
 * What is so of the present drawing, labels and mesh, each with its count; what cannot be told yet says what is missing.
 *
 * @param names of the pieces
 * @param unlabelled pieces of the boundary in no group
 */
export function standings(
	result: Shown & { findings: readonly Finding[] },
	names: readonly string[],
	unlabelled: readonly number[]
): Standing[] {
	const { arrangement, findings, mesh, regions, promises } = result;
	if (arrangement.pieces.length === 0) return [{ ok: false, text: 'nothing is drawn yet', places: [], keys: [] }];
	const found = (codes: readonly string[]) => findings.filter(({ code }) => codes.includes(code));
	const list = outlines.map(({ codes, none, some }): Standing => {
		const wrong = found(codes);
		return {
			ok: wrong.length === 0,
			text: wrong.length === 0 ? none : counted(wrong.length, some),
			places: placesOf(wrong),
			keys: []
		};
	});
	const elements = elementCount(mesh);
	const isBare = regions.length === 0;
	list.push({
		ok: elements > 0,
		text: isBare
			? 'no region yet: click into an outline to make it one'
			: elements === 0
				? `${counted(regions.length, 'region')}, none filled`
				: `${counted(regions.length, 'region')}, ${counted(elements, 'element')}`,
		places: [],
		keys: regions.map(({ name }) => thingKey('region', name))
	});
	// Without a region there is no boundary, and so nothing to be said of it.
	if (isBare) return list;
	const twice = found(['two-groups']);
	const bounded = mesh.groups.flatMap((g) => (g.members === 'edges' ? g.pieces : []));
	list.push({
		ok: unlabelled.length === 0 && twice.length === 0,
		text:
			unlabelled.length > 0
				? `${counted(unlabelled.length, 'boundary piece')} in no group`
				: twice.length > 0
					? `${counted(twice.length, 'piece')} in more than one group`
					: `every boundary piece is in exactly one group: ${new Set(bounded).size}`,
		places: unlabelled.length > 0 ? [] : placesOf(twice),
		keys: unlabelled.map((p) => thingKey('piece', names[p]!))
	});
	const corners = elements > 0 ? sharedNodes(mesh) : [];
	const lost = found(['owner-nowhere']);
	list.push({
		ok: lost.length === 0,
		text:
			lost.length > 0
				? `${counted(lost.length, 'owner')} named where no groups meet`
				: corners.length === 0
					? 'no corner that groups share'
					: `${counted(corners.length, 'corner')} between groups, each owned by one`,
		places: lost.length > 0 ? placesOf(lost) : corners.map(({ node }) => ({ x: mesh.x[node]!, y: mesh.y[node]! })),
		keys: []
	});
	const materials = mesh.groups.filter((g): g is RegionGroup => g.members === 'elements');
	const known = new Set(materials.flatMap((g) => g.regions));
	const bare = regions.filter(({ fill }, r) => fill !== 'none' && !known.has(r));
	list.push({
		ok: materials.length === 0 || bare.length === 0,
		text:
			materials.length === 0
				? 'all regions are one material: none is named'
				: bare.length > 0
					? `${counted(bare.length, 'region')} of no material`
					: `every region has a material: ${materials.length}`,
		places: [],
		keys: bare.map(({ name }) => thingKey('region', name))
	});
	const { measured, missed } = promiseFigures(promises);
	list.push({
		ok: missed.length === 0,
		text:
			missed.length > 0
				? `${missed.length} of ${counted(measured, 'number')} not as asked`
				: `${counted(measured, 'number')} as asked`,
		places: missed.flatMap((check) => (check.at ? [{ ...check.at, said: promiseText(check, result.model.units) }] : [])),
		keys: []
	});
	return list;
}
