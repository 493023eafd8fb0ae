import { DisjointSets } from '../numeric/disjoint-sets.ts';
import { addTo, numbersBelow } from '../numeric/lists.ts';
import type { Block } from './layout.ts';
import type { Walk } from '../geometry/pieces.ts';
import { nearestIntegers, type Equation, type Target } from './integer-programme.ts';

/** Where a count comes from: typed by the user, implied by a structured neighbour, or implied by a size. */
export type CountSource = 'pinned' | 'carried' | 'derived';

export interface Count {
	count: number;
	source: CountSource;
}

/** A block whose opposite sides cannot have the same count. */
export interface CountMismatch {
	block: number;
	sides: [Walk, Walk];
	counts: [number, number];
}

/** Pinned counts that cannot all stand: the pieces that hang together, and what would settle it. */
export interface CountConflict {
	pieces: number[];
	/** Opposite sides that differ. */
	mismatches: CountMismatch[];
	/** At most two sets of new counts for pinned pieces, the smallest change first. */
	settlements: Map<number, number>[];
}

/** What counts must fulfil besides blocks. */
export interface CountRules {
	/** Pieces that have the same count as another. */
	equal?: readonly (readonly [number, number])[];
	/** Sums of counts, each with its coefficient, that come to a total. */
	equations?: readonly { terms: readonly (readonly [number, number])[]; total: number }[];
}

/**
 * Gives every piece a count. Pinned counts stand; opposite sides of a block carry the same sum.
 * Sides of one piece each are equal and make a class; what is left, the sums, is an integer
 * programme that keeps every count as near as it can to its share of the whole.
 *
 * @param blocks the four-sided blocks
 * @param pinned counts typed by the user, by piece
 * @param wanted divisions that the sizes imply, one per piece, above zero and not rounded; counts
 *   that belong to no piece, as inside a layout, may follow them
 */
export function settleCounts(
	blocks: readonly Pick<Block, 'sides'>[],
	pinned: ReadonlyMap<number, number>,
	wanted: readonly number[],
	rules: CountRules = {}
): { counts: Count[]; conflicts: CountConflict[] } {
	const { equal = [], equations = [] } = rules;
	const pairs = blocks.flatMap((block, b) => [0, 1].map((k) => ({ block: b, one: block.sides[k]!, other: block.sides[k + 2]! })));

	// Phase 1: pieces that must have one count make a class.
	const classes = new DisjointSets(wanted.length);
	for (const { one, other } of pairs) if (one.length === 1 && other.length === 1) classes.join(one[0]! >> 1, other[0]! >> 1);
	for (const [p, q] of equal) classes.join(p, q);

	// Phase 2: the equations between classes.
	const all: (Equation & { pieces: number[] })[] = [];
	for (const { one, other } of pairs) {
		if (one.length === 1 && other.length === 1) continue;
		const terms = new Map<number, number>();
		const add = (p: number, sign: number) => terms.set(classes.root(p), (terms.get(classes.root(p)) ?? 0) + sign);
		for (const h of one) add(h >> 1, 1);
		for (const h of other) add(h >> 1, -1);
		all.push({ terms, total: 0, pieces: [...one, ...other].map((h) => h >> 1) });
	}
	for (const { terms: list, total } of equations) {
		const terms = new Map<number, number>();
		for (const [p, coefficient] of list) terms.set(classes.root(p), (terms.get(classes.root(p)) ?? 0) + coefficient);
		all.push({ terms, total, pieces: list.map(([p]) => p) });
	}

	// Phase 3: classes that hang together through equations are settled together.
	const groups = new DisjointSets(wanted.length);
	for (const { pieces } of all) for (const p of pieces) groups.join(classes.root(pieces[0]!), classes.root(p));
	const groupOf = numbersBelow(wanted.length);
	const sizeOf = new Uint32Array(wanted.length);
	for (let p = 0; p < wanted.length; p++) {
		groupOf[p] = groups.root(classes.root(p));
		sizeOf[groupOf[p]!]!++;
	}
	const equationsOf = new Map<number, Equation[]>();
	for (const equation of all) {
		addTo(equationsOf, groupOf[equation.pieces[0]!]!, equation);
	}

	const counts = new Array<Count>(wanted.length);
	const conflicts: CountConflict[] = [];
	const members = new Map<number, number[]>();
	for (const [p, g] of groupOf.entries()) {
		if (sizeOf[g] === 1 && !equationsOf.has(g)) counts[p] = alone(wanted[p]!, pinned.get(p));
		else addTo(members, g, p);
	}
	const root = (p: number): number => classes.root(p);
	for (const [g, pieces] of members) {
		const system: System = { pieces, root, pinned, wanted, equations: equationsOf.get(g) ?? [] };
		const values = settle(system);
		const leads = leaders(system);
		for (const p of pieces) {
			const pin = pinned.get(p);
			const count = values?.get(root(p)) ?? pin ?? Math.max(1, Math.round(wanted[p]!));
			const derived = leads.get(root(p)) === p && count === Math.max(1, Math.round(wanted[p]!));
			counts[p] =
				pin !== undefined ? { count: pin, source: 'pinned' } : { count: count, source: derived ? 'derived' : 'carried' };
		}
		if (values) continue;
		const members = new Set(pieces);
		const total = (walk: Walk) => walk.reduce((s, h) => s + counts[h >> 1]!.count, 0);
		const mismatches = pairs
			.filter(({ one, other }) => members.has(one[0]! >> 1) && total(one) !== total(other))
			.map(({ block, one, other }) => ({
				block,
				sides: [one, other] as [Walk, Walk],
				counts: [total(one), total(other)] as [number, number]
			}));
		conflicts.push({ pieces, mismatches, settlements: settlements(system) });
	}
	return { counts, conflicts };
}

/** The count of a piece that hangs together with no other. */
const alone = (wanted: number, pin: number | undefined): Count =>
	pin === undefined ? { count: Math.max(1, Math.round(wanted)), source: 'derived' } : { count: pin, source: 'pinned' };

/** Classes that hang together, with the equations between them. */
interface System {
	pieces: readonly number[];
	root: (piece: number) => number;
	pinned: ReadonlyMap<number, number>;
	wanted: readonly number[];
	equations: readonly Equation[];
}

/** In every class without a pin, the piece that wants the most divisions: it decides. */
function leaders({ pieces, root, pinned, wanted }: System): Map<number, number> {
	const leads = new Map<number, number>();
	const fixed = new Set(pieces.filter((p) => pinned.has(p)).map(root));
	for (const p of pieces) {
		if (fixed.has(root(p))) continue;
		const lead = leads.get(root(p));
		if (lead === undefined || wanted[p]! > wanted[lead]!) leads.set(root(p), p);
	}
	return leads;
}

/** The count of every class; undefined when the pins cannot all stand. */
function settle(system: System): Map<number, number> | undefined {
	const { pieces, root, pinned, wanted, equations } = system;
	const values = new Map<number, number>();
	for (const p of pieces) {
		const pin = pinned.get(p);
		if (pin === undefined) continue;
		if ((values.get(root(p)) ?? pin) !== pin) return undefined;
		values.set(root(p), pin);
	}
	const leads = leaders(system);
	if (equations.length === 0) {
		for (const [c, p] of leads) values.set(c, Math.max(1, Math.round(wanted[p]!)));
		return values;
	}
	// What follows from the pins alone.
	let open = equations.map((equation) => substitute(equation, values));
	for (let changed = true; changed;) {
		changed = false;
		for (const { terms, total } of open) {
			if (terms.size === 0 && total !== 0) return undefined;
			if (terms.size !== 1) continue;
			const [[c, coefficient]] = [...terms] as [[number, number]];
			const value = total / coefficient;
			if (!(Number.isInteger(value) && value >= 1)) return undefined;
			values.set(c, value);
			changed = true;
			break;
		}
		if (changed) open = open.map((equation) => substitute(equation, values));
	}
	open = open.filter(({ terms }) => terms.size > 0);
	const free = [...leads.keys()].filter((c) => !values.has(c));
	const shares = proportional(raised(new Map(free.map((c) => [c, wanted[leads.get(c)!]!])), open), open);
	const targets = free.map((c): Target => ({
		variable: c,
		value: Math.max(1, shares.get(c)!),
		weight: 1 / Math.max(1, shares.get(c)!)
	}));
	const found = nearestIntegers(free, open, targets);
	if (!found) return undefined;
	for (const [c, value] of found) values.set(c, value);
	return values;
}

/** An equation with the known values put in. */
function substitute({ terms, total }: Equation, values: ReadonlyMap<number, number>): Equation {
	const left = new Map<number, number>();
	let rest = total;
	for (const [c, coefficient] of terms) {
		const value = values.get(c);
		if (value !== undefined) rest -= coefficient * value;
		else if (coefficient !== 0) left.set(c, coefficient);
	}
	return { terms: left, total: rest };
}

/** What is wanted, raised where the other side of an equation wants more: the finer of two sides decides. */
function raised(wanted: ReadonlyMap<number, number>, equations: readonly Equation[]): Map<number, number> {
	const values = new Map(wanted);
	for (let pass = 0; pass < 30; pass++) {
		let changed = false;
		for (const { terms, total } of equations) {
			let [gains, losses] = [Math.max(0, -total), Math.max(0, total)];
			for (const [c, a] of terms)
				if (a > 0) gains += a * values.get(c)!;
				else losses -= a * values.get(c)!;
			const [sign, fixed, short, long] =
				gains < losses ? [1, Math.max(0, -total), gains, losses] : [-1, Math.max(0, total), losses, gains];
			if (!(short > fixed) || long - short < 1e-9 * long) continue;
			const scale = (long - fixed) / (short - fixed);
			if (!(scale > 1 && scale < 100)) continue;
			for (const [c, a] of terms) if (a * sign > 0) values.set(c, values.get(c)! * scale);
			changed = true;
		}
		if (!changed) break;
	}
	return values;
}

/**
 * Fractions that fulfil the equations and scale what is wanted as evenly as possible: the minimum
 * of Σ (n − w)²/w, by conjugate gradients on the normal equations A W Aᵀ λ = b − A w, n = w + W Aᵀ λ.
 */
function proportional(wanted: ReadonlyMap<number, number>, equations: readonly Equation[]): Map<number, number> {
	const up = (lambda: readonly number[]): Map<number, number> => {
		const sum = new Map<number, number>();
		equations.forEach(({ terms }, k) => {
			for (const [c, a] of terms) sum.set(c, (sum.get(c) ?? 0) + a * lambda[k]! * wanted.get(c)!);
		});
		return sum;
	};
	const down = (values: ReadonlyMap<number, number>): number[] =>
		equations.map(({ terms }) => {
			let sum = 0;
			for (const [c, a] of terms) sum += a * (values.get(c) ?? 0);
			return sum;
		});
	const lambda = equations.map(() => 0);
	let residual = down(wanted).map((v, k) => equations[k]!.total - v);
	let direction = residual.slice();
	const dot = (a: readonly number[], b: readonly number[]) => a.reduce((s, v, k) => s + v * b[k]!, 0);
	let square = dot(residual, residual);
	const enough = 1e-20 * square;
	for (let k = 0; k < 4 * equations.length + 20 && square > enough; k++) {
		const image = down(up(direction));
		const curvature = dot(direction, image);
		if (!(curvature > 0)) break;
		const step = square / curvature;
		direction.forEach((d, i) => (lambda[i]! += step * d));
		residual = residual.map((r, i) => r - step * image[i]!);
		const next = dot(residual, residual);
		direction = residual.map((r, i) => r + (next / square) * direction[i]!);
		square = next;
	}
	const shift = up(lambda);
	return new Map([...wanted].map(([c, w]) => [c, w + (shift.get(c) ?? 0)]));
}

/** The two smallest changes of pins that would settle a conflict: the second leaves alone what the first changes most. */
function settlements(system: System): Map<number, number>[] {
	const { pieces, root, pinned, wanted, equations } = system;
	const classes = [...new Set(pieces.map(root))];
	const leads = leaders(system);
	const pins = pieces.filter((p) => pinned.has(p));
	const targets = pins.map((p): Target => ({ variable: root(p), value: pinned.get(p)!, weight: 1000 }));
	for (const [c, p] of leads) targets.push({ variable: c, value: Math.max(1, wanted[p]!), weight: 1 / Math.max(1, wanted[p]!) });
	const found: Map<number, number>[] = [];
	const kept: Equation[] = [];
	for (let k = 0; k < 2; k++) {
		const values = nearestIntegers(classes, [...equations, ...kept], targets);
		if (!values) break;
		const changes = new Map(pins.filter((p) => values.get(root(p)) !== pinned.get(p)).map((p) => [p, values.get(root(p))!]));
		const [most] = [...changes.keys()].sort(
			(a, b) => Math.abs(changes.get(b)! - pinned.get(b)!) - Math.abs(changes.get(a)! - pinned.get(a)!) || a - b
		);
		if (most === undefined) break;
		found.push(changes);
		kept.push({ terms: new Map([[root(most), 1]]), total: pinned.get(most)! });
	}
	return found;
}
