import { mapped } from '../../text/typed.ts';
import { keepHiddenClass } from '../../numeric/hidden-class.ts';
import { atan2 } from '../../numeric/elementary.ts';
import type { Work } from '../../numeric/work.ts';
import { follow, waysBetween } from './join-triangles.ts';
import { NONE, QuadMesh } from './quad-mesh.ts';
import { improveNode } from './smooth.ts';

/** A change of the connections is taken only if no element then is worse than this, or than what was there. */
const leastShape = 0.3;
const rounds = 6;
/** An irregular node wanders at most so far in search of one that it cancels with. */
const longestWay = 14;
/** A corner of an element at a given node wider than this, in radians, must not be. */
const tooWide = 2.6;
const widePenalty = 20;

/** The angle of a region around each given node. */
function anglesAround(mesh: QuadMesh): Float64Array {
	const angles = new Float64Array(mesh.given);
	const { x, y } = mesh;
	for (let v = 0; v < mesh.given; v++)
		for (const e of mesh.elementsAt(v)) {
			const place = mesh.placeOf(e, v);
			const n = mesh.sizeOf(e);
			const [q, r] = [mesh.after(e, place), mesh.after(e, place, n - 1)];
			const [ux, uy, wx, wy] = [x[q]! - x[v]!, y[q]! - y[v]!, x[r]! - x[v]!, y[r]! - y[v]!];
			const turn = atan2(ux * wy - uy * wx, ux * wx + uy * wy);
			angles[v]! += turn < 0 ? turn + 2 * Math.PI : turn;
		}
	return angles;
}

/** A change of connections: what the nodes then lack or have too much, less what they do now; and how it is made. */
interface Change {
	gain: number;
	/** The nodes that it is about. */
	nodes: readonly number[];
	make(): void;
}

type Four = [number, number, number, number];

/**
 * Cancels irregular nodes by local changes, each taken only if the squares of what the nodes lack or have too much become less,
 * and the elements stay fair after their nodes are moved: quadrilaterals that share two sides are joined, diagonals of pairs are turned,
 * quadrilaterals are closed along a diagonal or opened between two edges (P. Kinney, 6th Int. Meshing Roundtable, 1997; the set of
 * changes of C. Verma & K. Suresh, Computer-Aided Design 82 (2017)). Changes that neither gain nor lose let a pair of irregular
 * nodes wander until it meets one that it cancels with (G. Bunin, 15th Int. Meshing Roundtable, 2006, moves them likewise).
 */
export class CleanUp {
	private readonly angles: Float64Array;
	/** 1 for irregular nodes that found no way, as long as nothing changes around them. */
	private readonly isStuck: number[] = [];
	/** What a change may cost to be looked at. */
	private most = 0;
	/** What {@link lookAcross} found. */
	private readonly six = { f: 0, a: 0, b: 0, c: 0, d: 0, g: 0, h: 0 };

	constructor(private readonly mesh: QuadMesh) {
		this.angles = anglesAround(mesh);
	}

	/** @returns how many changes were made */
	*run(most = rounds): Work<number> {
		const { mesh } = this;
		let all = 0;
		// Only what gains is looked for.
		this.most = -Number.EPSILON;
		for (let round = 0; round < most; round++) {
			let made = 0;
			for (let e = 0; e < mesh.elementCount; e++) {
				if ((e & 0xfff) === 0) yield (round + e / mesh.elementCount) / most;
				if (mesh.sizeOf(e) === 4 && this.isIrregular(e) && (this.joinDoublets(e) || this.best(this.changesOf(e)))) made++;
			}
			for (let v = 0; v < mesh.nodeCount; v++) if (this.best(this.openings(v))) made++;
			all += made;
			if (made === 0) break;
		}
		this.most = 0;
		return all;
	}

	/** Lets irregular nodes wander until they cancel; @returns how many did. */
	*wander(): Work<number> {
		let met = 0;
		for (let v = 0; v < this.mesh.nodeCount; v++) {
			if ((v & 0xff) === 0) yield v / this.mesh.nodeCount;
			if (this.mesh.countAt(v) === 0 || this.cost(v, 0) === 0 || this.isStuck[v] === 1) continue;
			if (this.walk(v)) met++;
			else this.isStuck[v] = 1;
		}
		return met;
	}

	/**
	 * Gives every given node that lies flat in one quadrilateral a second one: it is cut there, and the two triangles go round by
	 * another way to join again. @returns how many nodes stay as they are
	 */
	*mendFlat(): Work<number> {
		const { mesh } = this;
		let left = 0;
		for (let v = 0; v < mesh.given; v++) {
			if ((v & 0xfff) === 0) yield v / mesh.given;
			if (this.cost(v, 0) < widePenalty) continue;
			if (!mesh.elementsAt(v).some((e) => this.cutAt(e, v))) left++;
		}
		return left;
	}

	private cutAt(e: number, v: number): boolean {
		const { mesh } = this;
		if (mesh.sizeOf(e) !== 4) return false;
		const place = mesh.placeOf(e, v);
		const [c, d, a] = mapped([1, 2, 3], (k) => mesh.after(e, place, k));
		const before = this.leastAround([v]);
		const cut = () => {
			mesh.set(e, a, v, d, NONE);
			return mesh.add(v, c, d, NONE);
		};
		const other = cut();
		const ways = waysBetween(mesh, e, other, [v, d]);
		mesh.takeBack();
		for (const way of ways) {
			const again = cut();
			follow(mesh, [...way.slice(0, -1), again]);
			const isMended = this.cost(v, 0) < widePenalty;
			if (isMended && this.settle(before)) return true;
			mesh.takeBack();
		}
		return false;
	}

	/** Whether an element has a node with too few or too many; where none has, nothing gains. */
	private isIrregular(e: number): boolean {
		const { nodes } = this.mesh;
		for (let k = 4 * e; k < 4 * e + 4; k++) if (this.cost(nodes[k]!, 0) > 0) return true;
		return false;
	}

	private changesOf(e: number): Change[] {
		return [...this.closings(e), ...this.turns(e), ...this.centres(e)];
	}

	/** What it costs that a node has so many elements more than now. */
	private cost(v: number, by: number): number {
		const count = this.mesh.countAt(v) + by;
		if (v >= this.mesh.given) return count < 3 ? Infinity : (count - 4) ** 2;
		if (count < 1) return Infinity;
		const angle = this.angles[v]!;
		const ideal = Math.max(1, Math.round(angle / (Math.PI / 2)));
		return 1.5 * (count - ideal) ** 2 + (angle / count > tooWide && angle < 6 ? widePenalty : 0);
	}

	/** What changes when a node gets so many elements more. */
	private change(v: number, by: number): number {
		return this.cost(v, by) - this.cost(v, 0);
	}

	/** Makes the first of some changes that gains and is fair. */
	private best(changes: readonly Change[]): boolean {
		for (const { gain, nodes, make } of changes) {
			if (!(gain < 0)) continue;
			const before = this.leastAround(nodes);
			make();
			if (this.settle(before)) return true;
		}
		return false;
	}

	/** Ways of a node that is irregular: changes that cost nothing, one after the other, until one gains. */
	private walk(v: number): boolean {
		const isFlat = this.cost(v, 0) >= widePenalty;
		// What must not be may cost a little on the way.
		this.most = isFlat ? 4 : 0;
		const first = this.changesAt([v]);
		const starts = Math.min(isFlat ? 12 : 6, first.length);
		let hasMet = false;
		for (let start = 0; start < starts && !hasMet; start++)
			for (let second = 0; second < (isFlat ? 4 : 1) && !hasMet; second++)
				hasMet = this.way(first, [start, second], isFlat ? -widePenalty / 2 : 0);
		this.most = 0;
		return hasMet;
	}

	/** One such way, by which of the changes is made in its first steps, of the first ones these; it is made if it gains more than so much. */
	private way(first: readonly Change[], choices: readonly number[], enough: number): boolean {
		const { mesh } = this;
		let changes = first;
		const last: (readonly number[])[] = [];
		let total = 0;
		let before = Infinity;
		for (let step = 0; step < longestWay; step++) {
			const chosen =
				changes.find((c) => c.gain + total < enough && c.gain + total <= this.most) ??
				this.freeChange(changes, total, last, choices[step] ?? 0);
			if (!chosen) break;
			before = Math.min(before, this.leastAround(chosen.nodes));
			last.push(chosen.nodes);
			chosen.make();
			total += chosen.gain;
			if (total < enough) return this.settle(before);
			changes = this.changesAt(chosen.nodes.filter((n) => mesh.countAt(n) > 0 && this.cost(n, 0) > 0));
		}
		mesh.takeBack();
		return false;
	}

	/** The change that comes after so many others, of those that cost little enough and have not been made before. */
	private freeChange(
		changes: readonly Change[],
		total: number,
		made: readonly (readonly number[])[],
		after: number
	): Change | undefined {
		let left = after;
		for (const change of changes) {
			if (!(change.gain + total <= this.most) || made.some((nodes) => areSame(nodes, change.nodes))) continue;
			if (left === 0) return change;
			left--;
		}
		return undefined;
	}

	/** All changes at some nodes that do not cost. */
	private changesAt(nodes: readonly number[]): Change[] {
		const list: Change[] = [];
		for (const v of nodes) {
			for (const e of this.mesh.elementsAt(v))
				if (this.mesh.sizeOf(e) === 4) list.push(...this.turns(e), ...this.closings(e), ...this.centres(e));
			list.push(...this.openings(v));
		}
		return list;
	}

	/** Does what was tried for good if it is fair, after the nodes around have found their places; else takes it back. */
	private settle(before: number): boolean {
		const { mesh } = this;
		const changed = mesh.changed();
		const nodes = new Set<number>();
		for (const e of changed)
			for (let k = 0; k < mesh.sizeOf(e); k++) if (mesh.nodes[4 * e + k]! >= mesh.given) nodes.add(mesh.nodes[4 * e + k]!);
		for (let sweep = 0; sweep < 3; sweep++) for (const v of nodes) improveNode(mesh, v);
		let least = Infinity;
		const visited = new Set<number>(changed);
		for (const v of nodes) for (const e of mesh.elementsAt(v)) visited.add(e);
		for (const e of visited) least = Math.min(least, mesh.shape(e));
		if (least >= Math.min(leastShape, before)) {
			for (const v of nodes) this.isStuck[v] = 0;
			mesh.keep();
			return true;
		}
		mesh.takeBack();
		return false;
	}

	private leastAround(nodes: readonly number[]): number {
		const { mesh } = this;
		let least = Infinity;
		for (const v of nodes)
			for (let c = mesh.corner[v]!; c >= 0; c = mesh.otherCorner[c]!) least = Math.min(least, mesh.shape(c >> 2));
		return least;
	}

	/** Two quadrilaterals that meet along two sides in a row are one. */
	private joinDoublets(e: number): boolean {
		const { mesh } = this;
		for (let k = 0; k < 4; k++) {
			const v = mesh.nodes[4 * e + k]!;
			if (v < mesh.given || mesh.countAt(v) !== 2) continue;
			const f = mesh.elementsAt(v).find((other) => other !== e)!;
			if (mesh.sizeOf(f) !== 4) continue;
			const far = mesh.after(f, mesh.placeOf(f, v), 2);
			const [a, b, c] = [mesh.after(e, k, 1), mesh.after(e, k, 2), mesh.after(e, k, 3)];
			if (far === b) continue;
			mesh.remove(f);
			mesh.set(e, a, b, c, far);
			mesh.keep();
			return true;
		}
		return false;
	}

	/** A quadrilateral closed along one of its diagonals. */
	private closings(e: number): Change[] {
		const { mesh } = this;
		const list: Change[] = [];
		for (let k = 0; k < 2; k++) {
			const [a, b, c, d] = [0, 1, 2, 3].map((i) => mesh.nodes[4 * e + ((k + i) % 4)]!) as Four;
			if (a < mesh.given && c < mesh.given) continue;
			// The one that stays is the given one.
			const [kept, gone] = c < mesh.given ? [c, a] : [a, c];
			const others = mesh.countAt(gone) - 2;
			const gain = this.change(kept, others) + this.change(b, -1) + this.change(d, -1) - this.cost(gone, 0);
			if (!(gain <= this.most)) continue;
			// Elements that would share more than an edge cannot be.
			if (mesh.elementsAt(gone).some((f) => f !== e && mesh.placeOf(f, kept) >= 0)) continue;
			list.push({
				gain,
				nodes: [kept, b, d, gone],
				make: () => {
					const [px, py] = [(mesh.x[a]! + mesh.x[c]!) / 2, (mesh.y[a]! + mesh.y[c]!) / 2];
					mesh.remove(e);
					for (const f of mesh.elementsAt(gone)) this.exchange(f, gone, kept);
					if (kept >= mesh.given) mesh.move(kept, px, py);
				}
			});
		}
		return list;
	}

	/** Puts one node in the place of another. */
	private exchange(f: number, gone: number, kept: number): void {
		const { mesh } = this;
		const corners = [0, 1, 2, 3].map((i) => mesh.nodes[4 * f + i]!);
		mesh.set(f, ...(corners.map((n) => (n === gone ? kept : n)) as Four));
	}

	/**
	 * The six corners around two quadrilaterals that share the edge a–b: b c d a from the one, a g h b from the other.
	 *
	 * @returns false where the edge may not go, there is no other, or the six corners are no six nodes
	 */
	private lookAcross(e: number, k: number): boolean {
		const { mesh, six } = this;
		const { nodes } = mesh;
		const a = nodes[4 * e + k]!;
		const b = nodes[4 * e + ((k + 1) & 3)]!;
		if (mesh.isFixedEdge(a, b)) return false;
		const f = mesh.across(e, a, b);
		if (f < 0 || nodes[4 * f + 3]! < 0) return false;
		const place = mesh.placeOf(f, a);
		six.f = f;
		six.a = a;
		six.b = b;
		six.c = nodes[4 * e + ((k + 2) & 3)]!;
		six.d = nodes[4 * e + ((k + 3) & 3)]!;
		six.g = nodes[4 * f + ((place + 1) & 3)]!;
		six.h = nodes[4 * f + ((place + 2) & 3)]!;
		return six.c !== six.g && six.c !== six.h && six.d !== six.g && six.d !== six.h;
	}

	/** The edge between two quadrilaterals, turned one way or the other. */
	private turns(e: number): Change[] {
		const { mesh, six } = this;
		const list: Change[] = [];
		for (let k = 0; k < 4; k++) {
			if (!this.lookAcross(e, k)) continue;
			const { f, a, b, c, d, g, h } = six;
			const ends = this.change(a, -1) + this.change(b, -1);
			const one = ends + this.change(c, 1) + this.change(g, 1);
			if (one <= this.most)
				list.push({
					gain: one,
					nodes: [c, g, a, b],
					make: () => {
						mesh.set(e, c, d, a, g);
						mesh.set(f, g, h, b, c);
					}
				});
			const other = ends + this.change(d, 1) + this.change(h, 1);
			if (other <= this.most)
				list.push({
					gain: other,
					nodes: [d, h, a, b],
					make: () => {
						mesh.set(e, d, a, g, h);
						mesh.set(f, h, b, c, d);
					}
				});
		}
		return list;
	}

	/** Two quadrilaterals made three, around a node between them. */
	private centres(e: number): Change[] {
		const { mesh, six } = this;
		const list: Change[] = [];
		for (let k = 0; k < 4; k++) {
			if (!this.lookAcross(e, k)) continue;
			const { f, a, b, c, d, g, h } = six;
			// Around: a g h b c d; of the two ways, the one that keeps the edge's end b, the other comes with the neighbour.
			const gain = this.change(a, -1) + this.change(d, 1) + this.change(g, 1) + 1;
			if (!(gain < 0 || gain <= this.most - 1)) continue;
			list.push({
				gain,
				nodes: [a, b, d, g],
				make: () => {
					const { x, y } = mesh;
					const w = mesh.addNode((x[d]! + x[g]! + x[b]!) / 3, (y[d]! + y[g]! + y[b]!) / 3);
					mesh.set(e, d, a, g, w);
					mesh.set(f, g, h, b, w);
					mesh.add(b, c, d, w);
				}
			});
		}
		return list;
	}

	/** A node with too many elements, opened between two of its edges; a quadrilateral comes between. */
	private openings(v: number): Change[] {
		const { mesh } = this;
		const count = mesh.countAt(v);
		if (v < mesh.given || count < 5) return [];
		const ring = this.ringOf(v);
		if (!ring) return [];
		const list: Change[] = [];
		for (let i = 0; i < count; i++)
			for (let j = i + 2; j <= i + count - 2 && j < count; j++) {
				const [left, other] = [count - (j - i) + 1, j - i + 1];
				const [p, q] = [ring[i]!.start, ring[j]!.start];
				const gain = (left - 4) ** 2 + (other - 4) ** 2 - (count - 4) ** 2 + this.change(p, 1) + this.change(q, 1);
				if (!(gain <= this.most)) continue;
				// The elements from edge i to edge j go to the new node.
				const moved = ring.slice(i, j);
				list.push({
					gain,
					nodes: [v, p, q],
					make: () => {
						let [mx, my] = [0, 0];
						for (const { e } of moved) {
							const far = mesh.after(e, mesh.placeOf(e, v), 2);
							mx += mesh.x[far]! / moved.length;
							my += mesh.y[far]! / moved.length;
						}
						const w = mesh.addNode(mesh.x[v]! + 0.25 * (mx - mesh.x[v]!), mesh.y[v]! + 0.25 * (my - mesh.y[v]!));
						for (const { e } of moved) this.exchange(e, v, w);
						mesh.add(v, p, w, q);
					}
				});
			}
		return list.sort((a, b) => a.gain - b.gain);
	}

	/** The elements around a free node, counter-clockwise, each with the node at which its first edge ends. */
	private ringOf(v: number): { e: number; start: number }[] | undefined {
		const { mesh } = this;
		const ring: { e: number; start: number }[] = [];
		const first = mesh.corner[v]! >> 2;
		let e = first;
		for (let k = mesh.countAt(v); k > 0; k--) {
			const place = mesh.placeOf(e, v);
			ring.push({ e, start: mesh.after(e, place) });
			e = mesh.across(e, v, mesh.after(e, place, mesh.sizeOf(e) - 1));
			if (e < 0) return undefined;
		}
		return e === first ? ring : undefined;
	}
}

/** Whether two lists hold the same nodes, in any order. */
const areSame = (some: readonly number[], others: readonly number[]): boolean =>
	some.length === others.length && some.every((v) => others.includes(v));

keepHiddenClass(new CleanUp(new QuadMesh(new Float64Array(), new Float64Array(), 0, new Uint32Array())));
