import { addTo } from '../../numeric/lists.ts';
import type { NoDirections } from './directions.ts';
import type { Outline } from './outline.ts';
import type { Line } from './tracer.ts';

/** A stretch of an outline or of a line, from node to node: half-arc 2 a runs along it, 2 a + 1 against it. */
export interface Arc {
	from: number;
	to: number;
	/** Points along it, both ends included. */
	x: number[];
	y: number[];
	length: number;
	/** On an outline: the half-piece, and the shares of its length at which it starts and ends. */
	half: number;
	start: number;
	end: number;
	/** Whether it must have a division: both its ends are places that cannot be one. */
	isHeld: boolean;
}

/** A four-sided block: the half-arcs of its sides, counter-clockwise. */
export type Patch = [number[], number[], number[], number[]];

/** Blocks that cover a region; where lines end on others, blocks meet along parts of their sides. */
export interface Patches {
	arcs: Arc[];
	patches: Patch[];
	nodeCount: number;
	/** Nodes that cannot be one with another: junctions and singular nodes. */
	isSpecial: Uint8Array;
}

/** A node with the half-arcs that leave it, counter-clockwise, and how many right angles lie behind each of them up to the next. */
interface Node {
	out: number[];
	sectors: number[];
}

/** A place on an outline: on an edge, at a share of it. */
interface Stop {
	share: number;
	node: number;
}

/** A place on the way along an outline, with the node that stands there, if one does: on a half-piece, at a share of its length. */
interface Passed {
	x: number;
	y: number;
	node?: { number: number; half: number; share: number; isJunction: boolean };
}

/** The blocks between outlines and lines, each with four sides; a sentence that says why where some have not. */
export function patchesOf(outline: Outline, lines: readonly Line[], singularCount: number): Patches | NoDirections {
	const arcs: Arc[] = [];
	const nodes: Node[] = [];
	const special: number[] = [];
	const newNode = (): number => nodes.push({ out: [], sectors: [] }) - 1;

	// Phase 1: nodes at junctions and at singular places, and those at which lines end.
	const count = outline.half.length;
	const { x, y, edges } = outline.input;
	const atJunction = new Map<number, number>();
	for (let k = 0; k < count; k++) if (outline.isJunction[k]) atJunction.set(k, newNode());
	special.push(...atJunction.values());
	const singular = Array.from({ length: singularCount }, newNode);
	special.push(...singular);
	const stops = new Map<number, Stop[]>();
	const startOf: number[] = [];
	const endOf: number[] = [];
	lines.forEach(({ origin, end }, l) => {
		if (origin.kind === 'corner') startOf[l] = atJunction.get(origin.node)!;
		else if (origin.kind === 'singular') startOf[l] = singular[origin.singular]!;
		else {
			startOf[l] = newNode();
			addTo(stops, origin.edge, { share: origin.share, node: startOf[l]! });
		}
		if (end?.kind === 'outline') {
			endOf[l] = newNode();
			addTo(stops, end.edge, { share: end.share, node: endOf[l]! });
		} else if (end?.kind === 'line') endOf[l] = newNode();
	});

	// Phase 2: arcs along the outlines.
	const leaves = new Map<number, number>();
	const arrives = new Map<number, number>();
	for (const first of outline.loops) {
		let open: { node: number; x: number[]; y: number[]; half: number; start: number } | undefined;
		const passed: Passed[] = [];
		let k = first;
		do {
			const half = outline.half[k]!;
			const junction = atJunction.get(k);
			passed.push({
				x: x[k]!,
				y: y[k]!,
				...(junction === undefined ? {} : { node: { number: junction, half, share: 0, isJunction: true } })
			});
			const end = edges[2 * k + 1]!;
			for (const { share, node } of (stops.get(k) ?? []).sort((a, b) => a.share - b.share))
				passed.push({
					x: x[k]! + share * (x[end]! - x[k]!),
					y: y[k]! + share * (y[end]! - y[k]!),
					node: { number: node, half, share: outline.from[k]! + share * (outline.to[k]! - outline.from[k]!), isJunction: false }
				});
			k = end;
		} while (k !== first);
		const begin = passed.findIndex(({ node }) => node?.isJunction);
		if (begin < 0) return { reason: 'an outline has no junction' };
		for (let i = 0; i <= passed.length; i++) {
			const { node, ...at } = passed[(begin + i) % passed.length]!;
			open?.x.push(at.x);
			open?.y.push(at.y);
			if (!node) continue;
			if (open) {
				const arc = newArc(arcs, open.node, node.number, open.x, open.y);
				[arc.half, arc.start, arc.end] = [open.half, open.start, node.isJunction ? 1 : node.share];
				leaves.set(open.node, 2 * (arcs.length - 1));
				arrives.set(node.number, 2 * (arcs.length - 1) + 1);
			}
			open = { node: node.number, x: [at.x], y: [at.y], half: node.half, start: node.share };
		}
	}

	// Phase 3: arcs along the lines, and what leaves each node.
	const branches = new Map<number, Map<number, number>>();
	const branch = (node: number, number: number, half: number) => {
		const list = branches.get(node) ?? new Map<number, number>();
		branches.set(node, list.set(number, half));
	};
	const tees = new Map<number, { at: number; line: number; fromLeft: boolean }[]>();
	lines.forEach(({ end }, l) => {
		if (end?.kind === 'line') addTo(tees, end.line, { at: end.at, line: l, fromLeft: end.fromLeft });
	});
	const through: { node: number; back: number; forward: number; line: number; fromLeft: boolean }[] = [];
	/** The half-arcs that leave the start of each seam, and the end of each line. */
	const departures = new Map<number, number>();
	const arrivals = new Map<number, number>();
	for (const [l, line] of lines.entries()) {
		if (!line.end) return { reason: 'a line of blocks has no end' };
		const other = line.end.kind === 'joined' ? line.end.line : -1;
		if (other >= 0 && other < l) continue;
		const points = line.x.map((px, k) => ({ x: px, y: line.y[k]! }));
		const events = (tees.get(l) ?? []).map((tee) => ({ ...tee }));
		let last = endOf[l]!;
		if (other >= 0) {
			const far = lines[other]!;
			const before = points.length - 1;
			const segments = far.x.length - 1;
			// The end of one is the end of the other.
			for (let k = segments - 1; k >= 0; k--) points.push({ x: far.x[k]!, y: far.y[k]! });
			for (const tee of tees.get(other) ?? []) events.push({ ...tee, at: before + segments - tee.at, fromLeft: !tee.fromLeft });
			last = startOf[other]!;
		}
		events.sort((a, b) => a.at - b.at);
		let open = { node: startOf[l]!, x: [points[0]!.x], y: [points[0]!.y] };
		let k = 1;
		const close = (node: number): number => {
			newArc(arcs, open.node, node, open.x, open.y);
			return 2 * (arcs.length - 1);
		};
		const firstArc = arcs.length;
		for (const tee of events) {
			while (k <= tee.at) {
				open.x.push(points[k]!.x);
				open.y.push(points[k]!.y);
				k++;
			}
			const segment = Math.min(points.length - 2, Math.floor(tee.at));
			const f = tee.at - segment;
			const [a, b] = [points[segment]!, points[segment + 1]!];
			const [px, py] = [a.x + f * (b.x - a.x), a.y + f * (b.y - a.y)];
			open.x.push(px);
			open.y.push(py);
			const node = endOf[tee.line]!;
			const back = close(node) + 1;
			through.push({ node, back, forward: back + 1, line: tee.line, fromLeft: tee.fromLeft });
			open = { node, x: [px], y: [py] };
		}
		for (; k < points.length; k++) {
			open.x.push(points[k]!.x);
			open.y.push(points[k]!.y);
		}
		const final = close(last);
		const { origin } = line;
		if (origin.kind === 'seam') departures.set(l, 2 * firstArc);
		else branch(startOf[l]!, origin.branch, 2 * firstArc);
		if (other >= 0) {
			const { origin: farOrigin } = lines[other]!;
			if (farOrigin.kind === 'seam') departures.set(other, final + 1);
			else branch(startOf[other]!, farOrigin.branch, final + 1);
		} else arrivals.set(l, final + 1);
	}

	// Phase 4: the order around nodes.
	for (const [k, n] of atJunction) {
		const list = [...(branches.get(n) ?? [])].sort(([a], [b]) => a - b).map(([, half]) => half);
		nodes[n] = {
			out: [leaves.get(n)!, ...list, arrives.get(n)!],
			sectors: list.length > 0 || outline.quadrants[k] === 1 ? new Array<number>(list.length + 1).fill(1) : [2]
		};
	}
	for (const n of singular) {
		const list = [...(branches.get(n) ?? [])].sort(([a], [b]) => a - b).map(([, half]) => half);
		nodes[n] = { out: list, sectors: list.map(() => 1) };
	}
	for (const [l, { origin, end }] of lines.entries()) {
		if (origin.kind === 'seam') atOutline(startOf[l]!, departures.get(l)!);
		if (end?.kind === 'outline') atOutline(endOf[l]!, arrivals.get(l)!);
	}
	function atOutline(n: number, half: number): void {
		nodes[n] = { out: [leaves.get(n)!, half, arrives.get(n)!], sectors: [1, 1] };
	}
	for (const { node, back, forward, line, fromLeft } of through) {
		const tee = arrivals.get(line)!;
		nodes[node] = fromLeft
			? { out: [forward, tee, back], sectors: [1, 1, 2] }
			: { out: [forward, back, tee], sectors: [2, 1, 1] };
	}

	// Phase 5: around each block.
	const isSpecial = new Uint8Array(nodes.length);
	for (const n of special) isSpecial[n] = 1;
	for (const arc of arcs) arc.isHeld = isSpecial[arc.from] === 1 && isSpecial[arc.to] === 1;
	const place = new Int32Array(2 * arcs.length).fill(-1);
	for (const { out } of nodes)
		for (const [i, half] of out.entries()) {
			if (half === undefined) return { reason: 'its lines of blocks do not fit together' };
			place[half] = i;
		}
	const seen = new Uint8Array(2 * arcs.length);
	const patches: Patch[] = [];
	for (let h = 0; h < 2 * arcs.length; h++) {
		if (seen[h] || (h & 1 && arcs[h >> 1]!.half >= 0)) continue;
		const around: number[] = [];
		const corners: number[] = [];
		let area = 0;
		for (let at = h; !seen[at];) {
			seen[at] = 1;
			around.push(at);
			area += areaUnder(arcs[at >> 1]!, (at & 1) === 1);
			const node = nodes[at & 1 ? arcs[at >> 1]!.from : arcs[at >> 1]!.to]!;
			const i = place[at ^ 1]!;
			const before = i > 0 ? i - 1 : node.out.length - 1;
			if (i < 0 || node.sectors[before] === undefined) return { reason: 'its lines of blocks do not fit together' };
			if (node.sectors[before] === 1) corners.push(around.length);
			at = node.out[before]!;
			if (around.length > 4 * arcs.length) return { reason: 'its lines of blocks do not fit together' };
		}
		if (area <= 0) return { reason: 'a block would lie around a hole' };
		if (corners.length !== 4) return { reason: `a block would have ${corners.length} corners` };
		const shift = corners[0]!;
		const turned = [...around.slice(shift), ...around.slice(0, shift)];
		const cuts = [0, ...corners.slice(1).map((c) => c - shift), around.length];
		patches.push([0, 1, 2, 3].map((s) => turned.slice(cuts[s], cuts[s + 1])) as Patch);
	}
	return { arcs, patches, nodeCount: nodes.length, isSpecial };
}

function newArc(arcs: Arc[], from: number, to: number, x: number[], y: number[]): Arc {
	let length = 0;
	for (let k = 1; k < x.length; k++) length += Math.sqrt((x[k]! - x[k - 1]!) ** 2 + (y[k]! - y[k - 1]!) ** 2);
	const arc: Arc = { from, to, x, y, length, half: -1, start: 0, end: 1, isHeld: false };
	arcs.push(arc);
	return arc;
}

/** Twice the area between a half-arc and the origin. */
function areaUnder({ x, y }: Arc, isBack: boolean): number {
	let area = 0;
	for (let k = 1; k < x.length; k++) area += x[k - 1]! * y[k]! - x[k]! * y[k - 1]!;
	return isBack ? -area : area;
}

/** The blocks of several regions together, one region after another. */
export function united(all: readonly Patches[]): Patches {
	const whole: Patches = { arcs: [], patches: [], nodeCount: 0, isSpecial: new Uint8Array(0) };
	for (const { arcs, patches, nodeCount, isSpecial } of all) {
		const [nodes, halves] = [whole.nodeCount, 2 * whole.arcs.length];
		for (const arc of arcs) whole.arcs.push({ ...arc, from: arc.from + nodes, to: arc.to + nodes });
		for (const patch of patches) whole.patches.push(patch.map((side) => side.map((h) => h + halves)) as Patch);
		whole.nodeCount += nodeCount;
		const special = new Uint8Array(whole.nodeCount);
		special.set(whole.isSpecial);
		special.set(isSpecial, nodes);
		whole.isSpecial = special;
	}
	return whole;
}
