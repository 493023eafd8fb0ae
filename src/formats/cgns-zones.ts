import { mapCoordinates, type DeliveryGrid } from '../core/mesh/grid.ts';
import type { Mesh } from '../core/mesh/mesh.ts';
import { structuredZones, type StructuredZone, type ZoneJoin } from '../core/mesh/structured-zones.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import {
	type CgnsNode,
	coordinate,
	type GridNames,
	nodeJoin,
	periodicProperty,
	pointList,
	spaceOf,
	text,
	UniqueNames,
	zoneOf
} from './cgns.ts';

/**
 * The zones of a plane grid: one of rows for every part of a region of quadrilaterals, joined to one another node to node, and one
 * unstructured zone for what else there is, joined to them. A boundary condition stands for every stretch of a side that is in a group;
 * between two zones there is none, and a group that lies there is a sub-region of one of them.
 */
export function structuredZoneNodes(grid: DeliveryGrid, mesh: Mesh, names: GridNames): CgnsNode[] {
	const { zones, joins, stretches, inner, rest } = structuredZones(mesh);
	const taken = new UniqueNames();
	const zoneNames = zones.map(({ region }) => taken.take(`${mesh.regions[region]!} zone`));
	const outer = rest.length > 0 ? restOf(grid, rest, edgesOfZones(zones)) : undefined;
	const otherName = taken.take('Rest');
	const patchOf = new Map(grid.patches.map((patch, p) => [patch.name, { patch, name: names.patches[p]! }]));
	const materialsOf = (region: number) =>
		grid.materials.flatMap((m, k) => (m.regions.includes(region) ? [names.materials[k]!] : []));

	const space = spaceOf(grid);
	/** The places of the nodes that are periodic, by zone; the unstructured one is the last. */
	const placed = [
		...zones.map((zone) => placesIn(zone, grid.periodic)),
		...(outer ? [new Map([...outer.numbers].map(([node, at]): [number, number[]] => [node, [at + 1]]))] : [])
	];
	const nameOf = (z: number) => zoneNames[z] ?? otherName;
	/** How periodic nodes of a zone lie on those of others, there and back. */
	const periodicJoins = (z: number) =>
		grid.periodic.flatMap(({ movement, from, to }, k) =>
			([1, -1] as const).flatMap((sign) =>
				placed.flatMap((donors, d) => {
					const [here, other]: [number[][], number[][]] = [[], []];
					for (let i = 0; i < from.length; i++) {
						const [a, b] = sign > 0 ? [from[i]!, to[i]!] : [to[i]!, from[i]!];
						const [at, there] = [placed[z]!.get(a), donors.get(b)];
						if (!at || !there) continue;
						here.push(at);
						other.push(there);
					}
					// Corners that touch share one node; a side has two at least.
					if (here.length < 2) return [];
					return {
						name: `Periodic${k + 1}${sign > 0 ? '' : ' back'}`,
						node: (name: string) =>
							nodeJoin(
								name,
								nameOf(d),
								indexList('PointList', here),
								indexList('PointListDonor', other),
								periodicProperty(movement, sign, space.length)
							)
					};
				})
			)
		);

	const nodes = zones.map((zone, z): CgnsNode => {
		const { ni, nj } = zone;
		const joinNames = new UniqueNames();
		const place = ([i, j]: readonly [number, number]) => [i + 1, j + 1];
		const range = (name: string, from: readonly [number, number], to: readonly [number, number]): CgnsNode => ({
			name,
			label: 'IndexRange_t',
			value: { type: 'I4', data: Int32Array.from([...place(from), ...place(to)]), shape: [2, 2] }
		});
		const conditions = stretches
			.filter((s) => s.zone === z && s.group >= 0)
			.flatMap((s): CgnsNode[] => {
				const found = patchOf.get(mesh.groups[s.group]!.name);
				if (!found) return [];
				const [low, high] = ordered(s.from, s.to);
				return [
					{
						name: joinNames.take(found.name),
						label: 'BC_t',
						value: { type: 'C1', text: boundaryKinds[found.patch.kind].cgns },
						children: [range('PointRange', low, high), text('FamilyName', 'FamilyName_t', found.name)]
					}
				];
			});
		const connections = joins
			.filter((join) => join.zone === z)
			.map((join): CgnsNode => {
				const { low, high, donorLow, donorHigh } = upward(join);
				return {
					name: joinNames.take(`to ${zoneNames[join.donor]!}`),
					label: 'GridConnectivity1to1_t',
					value: { type: 'C1', text: zoneNames[join.donor]! },
					children: [
						range('PointRange', low, high),
						range('PointRangeDonor', donorLow, donorHigh),
						{
							name: 'Transform',
							label: '"int[IndexDimension]"',
							value: { type: 'I4', data: Int32Array.from(join.transform), shape: [2] }
						}
					]
				};
			});
		const toRest = outer ? shared(zone, outer.numbers) : [];
		if (toRest.length > 0)
			connections.push(
				nodeJoin(
					joinNames.take(`to ${otherName}`),
					otherName,
					placeList('PointList', toRest),
					pointList(
						'PointListDonor',
						Uint32Array.from(toRest, ({ other }) => other)
					)
				)
			);
		connections.push(...periodicJoins(z).map(({ name, ...join }) => join.node(joinNames.take(name))));
		const subregionNames = new UniqueNames();
		const subregions = inner
			.filter((s) => s.zone === z)
			.flatMap((s): CgnsNode[] => {
				const found = patchOf.get(mesh.groups[s.group]!.name);
				if (!found) return [];
				return [
					{
						name: subregionNames.take(found.name),
						label: 'ZoneSubRegion_t',
						value: { type: 'I4', data: Int32Array.of(1), shape: [1] },
						children: [range('PointRange', ...ordered(s.from, s.to)), text('FamilyName', 'FamilyName_t', found.name)]
					}
				];
			});
		return {
			name: zoneNames[z]!,
			label: 'Zone_t',
			value: { type: 'I4', data: Int32Array.of(ni, nj, ni - 1, nj - 1, 0, 0), shape: [3, 2] },
			children: [
				text('ZoneType', 'ZoneType_t', 'Structured'),
				...materialsOf(zone.region).map((name, k) =>
					k === 0 ? text('FamilyName', 'FamilyName_t', name) : text(`Family${k + 1}`, 'AdditionalFamilyName_t', name)
				),
				{
					name: 'GridCoordinates',
					label: 'GridCoordinates_t',
					children: space.map((values, axis) =>
						coordinate(
							Float64Array.from(zone.nodes, (n) => values[n]!),
							axis,
							[nj, ni]
						)
					)
				},
				...(conditions.length > 0 ? [{ name: 'ZoneBC', label: 'ZoneBC_t', children: conditions }] : []),
				...(connections.length > 0
					? [{ name: 'ZoneGridConnectivity', label: 'ZoneGridConnectivity_t', children: connections }]
					: []),
				...subregions
			]
		};
	});
	if (!outer) return nodes;
	// The unstructured zone has its side of every join.
	const restNode = {
		...zoneOf(outer.grid, { ...names, sections: names.sections.filter((_, k) => rest.includes(grid.sections[k]!.region)) }),
		name: otherName
	};
	const joinNames = new UniqueNames();
	const back = zones.flatMap((zone, z): CgnsNode[] => {
		const list = shared(zone, outer.numbers);
		if (list.length === 0) return [];
		return [
			nodeJoin(
				joinNames.take(`to ${zoneNames[z]!}`),
				zoneNames[z]!,
				pointList(
					'PointList',
					Uint32Array.from(list, ({ other }) => other)
				),
				placeList('PointListDonor', list)
			)
		];
	});
	back.push(...periodicJoins(zones.length).map(({ name, node }) => node(joinNames.take(name))));
	const children = restNode.children ?? [];
	const present = children.find((c) => c.name === 'ZoneGridConnectivity');
	if (present) present.children = [...(present.children ?? []), ...back];
	else if (back.length > 0) children.push({ name: 'ZoneGridConnectivity', label: 'ZoneGridConnectivity_t', children: back });
	return [...nodes, { ...restNode, children }];
}

/** The nodes on the border of a zone that another numbering has too. */
function shared(
	{ ni, nj, nodes }: StructuredZone,
	numbers: ReadonlyMap<number, number>
): { at: [number, number]; other: number }[] {
	const list: { at: [number, number]; other: number }[] = [];
	for (let j = 0; j < nj; j++)
		for (let i = 0; i < ni; i++) {
			if (i > 0 && j > 0 && i < ni - 1 && j < nj - 1) continue;
			const other = numbers.get(nodes[i + ni * j]!);
			if (other !== undefined) list.push({ at: [i, j], other });
		}
	return list;
}

/** The edges on the borders of zones, from either end. */
function edgesOfZones(zones: readonly StructuredZone[]): Set<string> {
	const edges = new Set<string>();
	for (const { ni, nj, nodes } of zones) {
		const add = (i: number, j: number, di: number, dj: number) => {
			const [a, b] = [nodes[i + ni * j]!, nodes[i + di + ni * (j + dj)]!];
			edges.add(`${a} ${b}`).add(`${b} ${a}`);
		};
		for (const j of [0, nj - 1]) for (let i = 0; i + 1 < ni; i++) add(i, j, 1, 0);
		for (const i of [0, ni - 1]) for (let j = 0; j + 1 < nj; j++) add(i, j, 0, 1);
	}
	return edges;
}

/** What is in some regions alone, its nodes numbered anew; sides that zones have are theirs. */
function restOf(
	grid: DeliveryGrid,
	regions: readonly number[],
	zoned: ReadonlySet<string>
): { grid: DeliveryGrid; numbers: Map<number, number> } {
	const numbers = new Map<number, number>();
	const number = (node: number) => {
		let number = numbers.get(node);
		if (number === undefined) numbers.set(node, (number = numbers.size));
		return number;
	};
	const sections = grid.sections.filter((s) => regions.includes(s.region)).map((s) => ({ ...s, nodes: s.nodes.map(number) }));
	// A side belongs here if an element here has it.
	const edges = new Set<string>();
	for (const { shape, nodes } of sections) {
		const size = shape === 'triangle' ? 3 : 4;
		for (let k = 0; k < nodes.length; k++) edges.add(`${nodes[k]!} ${nodes[k - (k % size) + ((k + 1) % size)]!}`);
	}
	const patches = grid.patches.map((patch) => ({
		...patch,
		sides: patch.sides.map(({ shape, nodes }) => {
			const kept: number[] = [];
			for (let k = 0; k < nodes.length; k += 2) {
				const [a, b] = [numbers.get(nodes[k]!), numbers.get(nodes[k + 1]!)];
				if (a === undefined || b === undefined || zoned.has(`${nodes[k]!} ${nodes[k + 1]!}`)) continue;
				if (edges.has(`${a} ${b}`) || edges.has(`${b} ${a}`)) kept.push(a, b);
			}
			return { shape, nodes: Uint32Array.from(kept) };
		})
	}));
	const order = [...numbers.keys()];
	const within = (nodes: Uint32Array) => Uint32Array.from([...nodes].flatMap((n) => numbers.get(n) ?? []));
	return {
		numbers,
		grid: {
			...grid,
			coordinates: mapCoordinates(grid.coordinates, (values) => Float64Array.from(order, (n) => values[n]!)),
			sections,
			patches,
			points: grid.points.map((p) => ({ ...p, nodes: within(p.nodes) })),
			// A turn asks for the third coordinate here as there; the pairs themselves stand between the zones.
			periodic: grid.periodic.map((pair) => ({ ...pair, from: none, to: none })),
			nodeSets: () => []
		}
	};
}

const none = new Uint32Array(0);

/** Indices of nodes, counted from 1: one to a node of an unstructured zone, two to one of rows. */
const indexList = (name: string, places: readonly number[][]): CgnsNode => ({
	name,
	label: 'IndexArray_t',
	value: { type: 'I4', data: Int32Array.from(places.flat()), shape: [places.length, places[0]!.length] }
});

const placeList = (name: string, list: readonly { at: [number, number] }[]): CgnsNode =>
	indexList(
		name,
		list.map(({ at: [i, j] }) => [i + 1, j + 1])
	);

/** The places, counted from 1, of the nodes of a zone that are periodic. */
function placesIn({ ni, nj, nodes }: StructuredZone, periodic: DeliveryGrid['periodic']): Map<number, number[]> {
	const places = new Map<number, number[]>();
	if (periodic.length === 0) return places;
	const meant = new Set(periodic.flatMap(({ from, to }) => [...from, ...to]));
	for (let k = 0; k < ni * nj; k++) if (meant.has(nodes[k]!)) places.set(nodes[k]!, [(k % ni) + 1, Math.floor(k / ni) + 1]);
	return places;
}

type Corner = [number, number];

/** Two ends of a stretch, the lower indices first. */
const ordered = (a: Corner, b: Corner): [Corner, Corner] => (a[0] < b[0] || a[1] < b[1] ? [a, b] : [b, a]);

/** A join with the range of its zone from lower to higher indices, as readers want it. */
function upward({ from, to, donorFrom, donorTo }: ZoneJoin): { low: Corner; high: Corner; donorLow: Corner; donorHigh: Corner } {
	const isUp = from[0] < to[0] || from[1] < to[1];
	return isUp
		? { low: from, high: to, donorLow: donorFrom, donorHigh: donorTo }
		: { low: to, high: from, donorLow: donorTo, donorHigh: donorFrom };
}
