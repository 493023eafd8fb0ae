import type { GridCells, DeliveryGrid, GridPatch, GridSection, CellShape } from '../mesh/grid.ts';
import { cos, pow, sin } from '../numeric/elementary.ts';
import { Uint32List } from '../numeric/lists.ts';
import type { Frame } from '../recipe/model/model.ts';
import type { SolidStatement } from '../recipe/statements/solid.ts';

/**
 * A solid of a plane grid: a slab of layers, or a body of revolution. Cells at the axis collapse as they must: triangles
 * become prisms, pyramids or tetrahedra, quadrilaterals hexahedra, prisms, or two pyramids or tetrahedra. Nodes on the
 * axis exist once; sides on it have no area and are left out.
 */
export const solidGrid = (plane: DeliveryGrid, solid: SolidStatement, frame: Frame): DeliveryGrid =>
	sweptGrid(plane, solid, frame).grid;

/** A solid, with where its nodes come from. */
export interface SweptGrid {
	grid: DeliveryGrid;
	/** The node of the plane grid that each node is swept from. */
	source: Uint32Array;
	/** The plane on which each lies; NaN on the axis, where all planes meet. */
	level: Float64Array;
	/** The place of a point of the plane at a level, which may be half way between two planes. */
	place: (x: number, y: number, level: number) => [number, number, number];
}

/** A solid of a plane grid, with where its nodes come from: {@link solidGrid}. */
export function sweptGrid(plane: DeliveryGrid, { shape, sides, kind }: SolidStatement, frame: Frame): SweptGrid {
	const [x, y] = plane.coordinates;
	const count = x.length;
	const axis = shape.kind === 'revolve' && frame.kind === 'axisymmetric' ? frame.axis : undefined;
	const away = axis === 'y' ? x : y;
	const isOnAxis = (node: number) => axis !== undefined && away[node] === 0;
	const layers = shape.kind === 'slab' ? shape.layers : shape.into;
	const isClosed = shape.kind === 'revolve' && shape.angle > 2 * Math.PI - 1e-9;

	// Phase 1: nodes, plane by plane; those on the axis once, of a full turn the first plane is the last.
	const levels = isClosed ? layers : layers + 1;
	const numberOf = Array.from({ length: levels }, () => new Uint32Array(count));
	let total = 0;
	for (let level = 0; level < levels; level++)
		for (let node = 0; node < count; node++) numberOf[level]![node] = level > 0 && isOnAxis(node) ? numberOf[0]![node]! : total++;
	const coordinates = [new Float64Array(total), new Float64Array(total), new Float64Array(total)] as const;
	const source = new Uint32Array(total);
	const level = new Float64Array(total);
	const place = (px: number, py: number, at: number): [number, number, number] => {
		// Between two planes of a slab it is half way, whatever the layers beside it are.
		if (shape.kind === 'slab') return [px, py, (slabHeight(shape, Math.floor(at)) + slabHeight(shape, Math.ceil(at))) / 2];
		const [c, s] = turnAt(shape, at);
		return axis === 'y' ? [px * c, py, px * s] : [px, py * c, py * s];
	};
	for (let k = 0; k < levels; k++)
		for (let node = 0; node < count; node++) {
			const number = numberOf[k]![node]!;
			const [px, py, pz] = place(x[node]!, y[node]!, k);
			// Nodes on the axis are set again on every plane, to the same place.
			coordinates[0][number] = px;
			coordinates[1][number] = py;
			coordinates[2][number] = isNaN(pz) ? 0 : pz;
			source[number] = node;
			level[number] = isOnAxis(node) ? NaN : k;
		}

	const at = (node: number, level: number) => numberOf[isClosed ? level % layers : level]![node]!;

	// Phase 2: cells, layer by layer.
	const sections: GridSection[] = [];
	for (let region = 0; region < plane.regions.length; region++) {
		const lists = new CellLists();
		for (const section of plane.sections) {
			if (section.region !== region) continue;
			const size = section.shape === 'triangle' ? 3 : 4;
			for (let layer = 0; layer < layers; layer++)
				for (let k = 0; k < section.nodes.length; k += size)
					addCell(
						lists,
						section.nodes.subarray(k, k + size),
						isOnAxis,
						(node) => at(node, layer),
						(node) => at(node, layer + 1)
					);
		}
		sections.push(...lists.taken().map((cells) => ({ ...cells, region })));
	}

	// Phase 3: the boundary: what the edges of groups sweep over, and the two flat sides.
	const patches = plane.patches.map(({ name, kind: kindOfPatch, sides: edges, inside }): GridPatch => {
		const lists = new CellLists();
		for (const { nodes } of edges)
			for (let layer = 0; layer < layers; layer++)
				for (let k = 0; k < nodes.length; k += 2)
					addSide(
						lists,
						nodes[k]!,
						nodes[k + 1]!,
						isOnAxis,
						(node) => at(node, layer),
						(node) => at(node, layer + 1)
					);
		return { name, kind: kindOfPatch, sides: lists.taken(), ...(inside ? { inside } : {}) };
	});
	if (!isClosed && sides) {
		const flat = (name: string, level: number, front: boolean): GridPatch => {
			const lists = new CellLists();
			for (const section of plane.sections) {
				const size = section.shape === 'triangle' ? 3 : 4;
				for (let k = 0; k < section.nodes.length; k += size)
					addFlat(lists, section.nodes.subarray(k, k + size), isOnAxis, (node) => at(node, level), front);
			}
			return { name, kind, sides: lists.taken() };
		};
		patches.push(flat(sides[0], layers, true), flat(sides[1], 0, false));
	}
	const swept = (nodes: Uint32Array) => {
		const all = new Set<number>();
		for (let level = 0; level < levels; level++) for (const node of nodes) all.add(at(node, level));
		return Uint32Array.from(all).sort();
	};
	const grid: DeliveryGrid = {
		...plane,
		coordinates: [...coordinates],
		sections,
		patches,
		points: plane.points.map((p) => ({ ...p, nodes: swept(p.nodes) })),
		// A pair in the plane is one on every plane of the solid.
		periodic: plane.periodic.map(({ from, to, ...rest }) => {
			const pairs = new Map<number, number>();
			for (let level = 0; level < levels; level++) from.forEach((node, k) => pairs.set(at(node, level), at(to[k]!, level)));
			return { ...rest, from: Uint32Array.from(pairs.keys()), to: Uint32Array.from(pairs.values()) };
		}),
		nodeSets: () => plane.nodeSets().map(({ name, all, owned }) => ({ name, all: swept(all), owned: swept(owned) }))
	};
	return { grid, source, level, place };
}

/** How high a plane of a slab lies; growth is that from layer to layer. */
function slabHeight({ thickness, layers, growth }: { thickness: number; layers: number; growth: number }, level: number): number {
	if (level === layers) return thickness;
	if (Math.abs(growth - 1) < 1e-12) return (thickness * level) / layers;
	return (thickness * (pow(growth, level) - 1)) / (pow(growth, layers) - 1);
}

/** Cosine and sine of a plane of a body of revolution; planes that mirror one another have the same to the last bit. */
function turnAt({ angle, into }: { angle: number; into: number }, level: number): [number, number] {
	// Counted from the middle, in halves of a cell.
	const half = 2 * level - into;
	const turned = (Math.abs(half) * angle) / (2 * into);
	const s = sin(turned);
	return [cos(turned), half < 0 ? -s : half > 0 ? s : 0];
}

/** Cells by shape, in the order in which shapes are delivered. */
class CellLists {
	private readonly lists = new Map<CellShape, Uint32List>();

	add(shape: CellShape, ...nodes: number[]): void {
		let list = this.lists.get(shape);
		if (!list) this.lists.set(shape, (list = new Uint32List()));
		for (const node of nodes) list.push(node);
	}

	taken(): GridCells[] {
		const order: CellShape[] = ['hexahedron', 'prism', 'pyramid', 'tetrahedron', 'quadrilateral', 'triangle'];
		return order.flatMap((shape) => {
			const list = this.lists.get(shape);
			return list ? [{ shape, nodes: list.taken() }] : [];
		});
	}
}

type Node = (node: number) => number;

/** The cell, or the cells, that an element sweeps over; `low` and `high` number its nodes on the two planes. Nodes in the order of the SIDS. */
function addCell(lists: CellLists, element: Uint32Array, isOnAxis: (node: number) => boolean, low: Node, high: Node): void {
	for (const part of partsOf(element, isOnAxis)) {
		const on = part.filter(isOnAxis).length;
		if (part.length === 4 && on === 0) {
			const [a, b, c, d] = part as [number, number, number, number];
			lists.add('hexahedron', low(a), low(b), low(c), low(d), high(a), high(b), high(c), high(d));
		} else if (part.length === 4) {
			// An edge on the axis: turned so that it comes first.
			const [a, b, c, d] = turnedTo(part, (k) => isOnAxis(part[k]!) && isOnAxis(part[(k + 1) % 4]!)) as [
				number,
				number,
				number,
				number
			];
			lists.add('prism', low(a), low(d), high(d), low(b), low(c), high(c));
		} else if (on === 0) {
			const [a, b, c] = part as [number, number, number];
			lists.add('prism', low(a), low(b), low(c), high(a), high(b), high(c));
		} else if (on === 1) {
			const [a, b, c] = turnedTo(part, (k) => isOnAxis(part[k]!)) as [number, number, number];
			lists.add('pyramid', low(b), high(b), high(c), low(c), low(a));
		} else {
			const [a, b, c] = turnedTo(part, (k) => !isOnAxis(part[(k + 2) % 3]!)) as [number, number, number];
			lists.add('tetrahedron', low(a), low(b), low(c), high(c));
		}
	}
}

/**
 * An element as it can be swept: whole, or in two triangles where a quadrilateral has one node on the axis, two that no
 * edge joins, or three. Each plane is cut alike, so that cells beside one another fit.
 */
function partsOf(element: Uint32Array, isOnAxis: (node: number) => boolean): number[][] {
	const nodes = [...element];
	if (nodes.length === 3) return [nodes];
	const on = nodes.flatMap((node, k) => (isOnAxis(node) ? [k] : []));
	const isEdge = on.length === 2 && (on[1]! - on[0]! === 1 || on[1]! - on[0]! === 3);
	if (on.length === 0 || isEdge) return [nodes];
	// One node: cut from it; opposite nodes, or three: cut between the others, so that no part lies on the axis.
	const from = on.length === 1 ? on[0]! : [0, 1, 2, 3].find((k) => !on.includes(k))!;
	const [a, b, c, d] = turnedTo(nodes, (k) => k === from) as [number, number, number, number];
	return [
		[a, b, c],
		[a, c, d]
	];
}

/** A closed list from the first place of which something holds. */
function turnedTo(nodes: readonly number[], isFirst: (k: number) => boolean): number[] {
	const first = nodes.findIndex((_, k) => isFirst(k));
	return [...nodes.slice(first), ...nodes.slice(0, first)];
}

/** What an edge with the mesh to its left sweeps over, outward; nothing where it lies on the axis. */
function addSide(lists: CellLists, p: number, q: number, isOnAxis: (node: number) => boolean, low: Node, high: Node): void {
	const [onP, onQ] = [isOnAxis(p), isOnAxis(q)];
	if (onP && onQ) return;
	if (onP) lists.add('triangle', low(p), low(q), high(q));
	else if (onQ) lists.add('triangle', low(p), low(q), high(p));
	else lists.add('quadrilateral', low(p), low(q), high(q), high(p));
}

/** An element as a part of a flat side, outward; cut as the cells beneath it are. */
function addFlat(lists: CellLists, element: Uint32Array, isOnAxis: (node: number) => boolean, at: Node, front: boolean): void {
	for (const part of partsOf(element, isOnAxis)) {
		const nodes = part.map(at);
		lists.add(part.length === 3 ? 'triangle' : 'quadrilateral', ...(front ? nodes : nodes.reverse()));
	}
}
