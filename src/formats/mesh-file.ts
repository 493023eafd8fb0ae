import { mapped } from '../core/text/typed.ts';
import type { MeshElements } from '../core/mesh/mesh.ts';
import type { BoundaryKind } from '../core/recipe/language/boundary-kinds.ts';
import { UserError } from '../core/text/user-error.ts';

/** A named set of sides of a mesh that was read: two nodes to a side. */
export interface ReadGroup {
	name: string;
	/** As the file says it; undefined where it does not. */
	kind?: BoundaryKind;
	sides: Uint32Array;
}

/** A plane mesh as a file has it, in the file's unit, with the corners of elements of higher order alone. */
export interface MeshFile extends MeshElements {
	/** The file's unit of length, one of `lengthUnits`; absent when it does not say. */
	unit?: string;
	regions: string[];
	groups: ReadGroup[];
	/** Values at the nodes by name: of vectors their length. */
	fields?: ReadonlyMap<string, Float64Array>;
	/** What was understood how, in sentences. */
	notes: string[];
}

/** Why a file is no mesh that can be read, in a sentence for the person who chose it. */
export class MeshFileError extends UserError {}

/** Elements, as a reader comes upon them. */
export class ElementLists {
	private readonly parts: { size: 3 | 4; nodes: ArrayLike<number>; region: number }[] = [];

	/** Takes elements of one shape, `stride` nodes to each, of which the first `size` are its corners; numbers count from `base`. */
	add(region: number, size: 3 | 4, nodes: ArrayLike<number>, stride: number = size, base = 0): void {
		const count = Math.floor(nodes.length / stride);
		const packed = new Uint32Array(size * count);
		for (let e = 0; e < count; e++) for (let k = 0; k < size; k++) packed[size * e + k] = nodes[stride * e + k]! - base;
		this.parts.push({ size, nodes: packed, region });
	}

	/** All of them, counter-clockwise. */
	gathered(
		x: Float64Array,
		y: Float64Array
	): Pick<MeshFile, 'triangles' | 'triangleRegion' | 'quads' | 'quadRegion'> & { turned: number } {
		let turned = 0;
		const of = (size: 3 | 4): { nodes: Uint32Array; region: Uint32Array } => {
			const parts = this.parts.filter((p) => p.size === size);
			const total = parts.reduce((sum, p) => sum + p.nodes.length, 0);
			const nodes = new Uint32Array(total);
			const region = new Uint32Array(total / size);
			let at = 0;
			for (const part of parts) {
				nodes.set(part.nodes, at);
				region.fill(part.region, at / size, (at + part.nodes.length) / size);
				at += part.nodes.length;
			}
			for (let k = 0; k < total; k += size) {
				let area = 0;
				for (let i = 0; i < size; i++) {
					const [a, b] = [nodes[k + i]!, nodes[k + ((i + 1) % size)]!];
					if (a >= x.length)
						throw new MeshFileError(`an element names node ${a + 1}, and the file has ${x.length}; it is damaged`);
					area += x[a]! * y[b]! - x[b]! * y[a]!;
				}
				if (area >= 0) continue;
				turned++;
				nodes.subarray(k + 1, k + size).reverse();
			}
			return { nodes, region };
		};
		const [three, four] = [of(3), of(4)];
		return { triangles: three.nodes, triangleRegion: three.region, quads: four.nodes, quadRegion: four.region, turned };
	}
}

/**
 * The sides of a mesh, two nodes to each: those of one element alone, and those between two regions, with the regions that
 * they are of; the second is −1 at the boundary.
 */
export function sidesOf({ x, triangles, triangleRegion, quads, quadRegion }: MeshFile): {
	nodes: Uint32Array;
	regions: Int32Array;
} {
	// First element beside each side, by a hash of its nodes.
	let capacity = 4;
	while (capacity < 2 * (triangles.length + quads.length)) capacity *= 2;
	const keys = new Float64Array(capacity).fill(-1);
	const [first, second, from, to] = mapped([0, 0, 0, 0], () => new Int32Array(capacity).fill(-1));
	const slots: number[] = [];
	const take = (a: number, b: number, region: number) => {
		const key = Math.min(a, b) * x.length + Math.max(a, b);
		let slot = (Math.imul(Math.min(a, b), 0x9e3779b1) ^ Math.imul(Math.max(a, b), 0x85ebca6b)) & (capacity - 1);
		while (keys[slot] !== -1 && keys[slot] !== key) slot = (slot + 1) & (capacity - 1);
		if (keys[slot] === -1) {
			keys[slot] = key;
			first[slot] = region;
			[from[slot], to[slot]] = [a, b];
			slots.push(slot);
		} else second[slot] = region;
	};
	for (const [nodes, size, region] of [
		[triangles, 3, triangleRegion],
		[quads, 4, quadRegion]
	] as const)
		for (let e = 0; e < region.length; e++)
			for (let k = 0; k < size; k++) take(nodes[size * e + k]!, nodes[size * e + ((k + 1) % size)]!, region[e]!);
	const kept = slots.filter((slot) => second[slot] === -1 || second[slot] !== first[slot]);
	const nodes = new Uint32Array(2 * kept.length);
	const regions = new Int32Array(2 * kept.length);
	kept.forEach((slot, k) => {
		nodes.set([from[slot]!, to[slot]!], 2 * k);
		regions.set([first[slot]!, second[slot]!], 2 * k);
	});
	return { nodes, regions };
}
