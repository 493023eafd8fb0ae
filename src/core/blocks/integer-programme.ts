import FlatQueue from 'flatqueue';
import { equalTo, lessEq, solve, type Coefficients, type Constraint } from 'yalps';
import { addTo } from '../numeric/lists.ts';

/** An equation between whole numbers: the sum of `coefficient · value[variable]` is `total`. */
export interface Equation {
	terms: ReadonlyMap<number, number>;
	total: number;
}

/** What a variable should come to, and what a unit of deviation costs. */
export interface Target {
	variable: number;
	value: number;
	weight: number;
}

/**
 * Whole numbers of at least 1 that fulfil all equations and deviate from their targets as little as
 * possible, the deviations weighted and summed. Undefined when no whole numbers fulfil the
 * equations: the lattice of solutions is tested first by integer elimination, as 2a − 2b = 1 has
 * fractions without end but no whole numbers; then branch and bound decides.
 */
export function nearestIntegers(
	variables: readonly number[],
	equations: readonly Equation[],
	targets: readonly Target[]
): Map<number, number> | undefined {
	if (equations.length > fewEquations) {
		const even = nearestByParity(variables, equations, targets);
		if (even) return even;
	}
	if (!hasIntegerSolution(equations)) return undefined;
	const constraints = new Map<string, Constraint>();
	const columns = new Map<string, Map<string, number>>();
	const column = (name: string) => {
		let entries = columns.get(name);
		if (!entries) columns.set(name, (entries = new Map<string, number>()));
		return entries;
	};
	// A value is 1 + v with v ≥ 0.
	equations.forEach(({ terms, total }, k) => {
		let rest = total;
		for (const [variable, coefficient] of terms) {
			rest -= coefficient;
			column(`v${variable}`).set(`e${k}`, coefficient);
		}
		constraints.set(`e${k}`, equalTo(rest));
	});
	targets.forEach(({ variable, value, weight }, k) => {
		// The deviation as it is at whole numbers, straight between them: 1 + v = below − under + step + over, with a step
		// of at most 1 from the whole number below the target to the one above. Counts of blocks, whose equations are those
		// of a network, then come out whole from the linear programme itself (Hochbaum & Shanthikumar 1990).
		const below = Math.floor(value);
		const stepCost = weight * (below + 1 - value - (value - below));
		column(`v${variable}`).set(`t${k}`, 1);
		column(`under${k}`).set(`t${k}`, 1).set('cost', weight);
		column(`over${k}`).set(`t${k}`, -1).set('cost', weight);
		constraints.set(`t${k}`, equalTo(below - 1));
		if (value === below) return;
		column(`step${k}`).set(`t${k}`, -1).set('cost', stepCost).set(`s${k}`, 1);
		constraints.set(`s${k}`, lessEq(1));
	});
	const integers = new Set(variables.map((v) => `v${v}`));
	for (const name of integers) column(name);
	const solution = solve(
		{
			direction: 'minimize',
			objective: 'cost',
			constraints,
			variables: columns as Map<string, Coefficients>,
			integers
		},
		{ includeZeroVariables: true, maxIterations: 20_000, timeout: Infinity }
	);
	if (solution.status !== 'optimal' && solution.status !== 'timedout') return undefined;
	const values = new Map(solution.variables);
	const found = new Map(variables.map((v) => [v, 1 + Math.round(values.get(`v${v}`) ?? 0)]));
	return fulfils(found, equations) ? found : undefined;
}

/** More equations than this are settled by {@link nearestByParity} where they ask for even sums alone. */
const fewEquations = 12;

/** A count that one or two even sums hold: what it costs to make it odd where it is even, and what it becomes. */
interface Flip {
	variable: number;
	/** The equations that it is in; the second is that outside, past the last, where it is in one. */
	ends: [number, number];
	now: number;
	other: number;
	cost: number;
}

/**
 * Numbers near their targets, where every equation asks for an even sum: it has one variable of its own, with an even
 * coefficient. Numbers that make a sum odd are moved by one along paths from sum to sum, the cheapest first: a T-join of the
 * graph whose nodes are the sums, and whose edges are the numbers that two of them share (Edmonds & Johnson 1973), found path
 * by path. Undefined where the equations are others, or no such numbers fulfil them.
 */
function nearestByParity(
	variables: readonly number[],
	equations: readonly Equation[],
	targets: readonly Target[]
): Map<number, number> | undefined {
	const uses = new Map<number, number[]>();
	equations.forEach(({ terms }, e) => {
		for (const [v, c] of terms) if (c !== 0) addTo(uses, v, e);
	});
	const halves = equations.map(({ terms }) => [...terms].find(([v, c]) => Math.abs(c) === 2 && uses.get(v)!.length === 1)?.[0]);
	if (halves.some((half) => half === undefined)) return undefined;
	const isHalf = new Set(halves);
	const targetOf = new Map(targets.map((target) => [target.variable, target]));
	const values = new Map<number, number>();
	const flips: Flip[] = [];
	for (const variable of variables) {
		if (isHalf.has(variable)) continue;
		const { value, weight } = targetOf.get(variable) ?? { value: 1, weight: 0 };
		const now = Math.max(1, Math.round(value));
		const other = now > 1 && value < now ? now - 1 : now + 1;
		values.set(variable, now);
		const odd = (uses.get(variable) ?? []).filter((e) => equations[e]!.terms.get(variable)! % 2 !== 0);
		if (odd.length > 2) return undefined;
		if (odd.length === 0) continue;
		const cost = weight * (Math.abs(other - value) - Math.abs(now - value));
		flips.push({ variable, ends: [odd[0]!, odd[1] ?? equations.length], now, other, cost: Math.max(0, cost) });
	}
	const isOdd = (e: number) => {
		const { terms, total } = equations[e]!;
		let sum = -total;
		for (const [v, c] of terms) if (v !== halves[e]) sum += c * values.get(v)!;
		return sum % 2 !== 0;
	};
	const around: Flip[][] = Array.from({ length: equations.length + 1 }, () => []);
	for (const flip of flips) for (const end of flip.ends) around[end]!.push(flip);
	const odd = new Set([...equations.keys()].filter(isOdd));
	for (const start of [...odd]) {
		if (!odd.has(start)) continue;
		const path = cheapestPath(start, (e) => e === equations.length || (e !== start && odd.has(e)), around);
		if (!path) return undefined;
		for (const flip of path.flips) {
			values.set(flip.variable, flip.other);
			[flip.now, flip.other, flip.cost] = [flip.other, flip.now, -flip.cost];
		}
		odd.delete(start);
		odd.delete(path.end);
	}
	equations.forEach(({ terms, total }, e) => {
		let sum = total;
		for (const [v, c] of terms) if (v !== halves[e]) sum -= c * values.get(v)!;
		values.set(halves[e]!, sum / terms.get(halves[e]!)!);
	});
	for (const v of variables) if (!values.has(v)) values.set(v, 1);
	return fulfils(values, equations) ? values : undefined;
}

/** The cheapest way from an even sum to another that is wanted, or outside (Dijkstra 1959); undefined where there is none. */
function cheapestPath(
	start: number,
	isWanted: (end: number) => boolean,
	around: readonly (readonly Flip[])[]
): { end: number; flips: Flip[] } | undefined {
	const costs = new Map([[start, 0]]);
	const by = new Map<number, { flip: Flip; from: number }>();
	const done = new Set<number>();
	const waiting = new FlatQueue();
	waiting.push(start, 0);
	for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
		if (done.has(at)) continue;
		done.add(at);
		if (isWanted(at)) {
			const flips: Flip[] = [];
			for (let e = at; e !== start; e = by.get(e)!.from) flips.push(by.get(e)!.flip);
			return { end: at, flips };
		}
		for (const flip of around[at]!) {
			const next = flip.ends[0] === at ? flip.ends[1] : flip.ends[0];
			// What was moved before is taken back for nothing: a cheaper way there is no more than a cheaper start.
			const cost = costs.get(at)! + Math.max(0, flip.cost);
			if (done.has(next) || cost >= (costs.get(next) ?? Infinity)) continue;
			costs.set(next, cost);
			by.set(next, { flip, from: at });
			waiting.push(next, cost);
		}
	}
	return undefined;
}

/** Whether whole numbers of at least 1 fulfil all equations exactly. */
export function fulfils(values: ReadonlyMap<number, number>, equations: readonly Equation[]): boolean {
	for (const value of values.values()) if (!(value >= 1)) return false;
	return equations.every(({ terms, total }) => {
		let sum = 0;
		for (const [variable, coefficient] of terms) sum += coefficient * values.get(variable)!;
		return sum === total;
	});
}

/**
 * Whether any whole numbers, negative ones too, fulfil the equations: the columns are combined by
 * Euclid's algorithm until every equation holds one coefficient, which must divide what is left
 * (Schrijver 1986, § 5.3).
 */
function hasIntegerSolution(equations: readonly Equation[]): boolean {
	const rows = equations.map(({ terms, total }) => ({ terms: new Map(terms), total }));
	for (let r = 0; r < rows.length; r++) {
		const { terms, total } = rows[r]!;
		for (const [v, c] of terms) if (c === 0) terms.delete(v);
		// Subtract multiples of the smallest column from the others until one is left.
		while (terms.size > 1) {
			const [pivot, least] = [...terms].reduce((a, b) => (Math.abs(b[1]) < Math.abs(a[1]) ? b : a));
			for (const [v, c] of [...terms]) {
				if (v === pivot) continue;
				const times = Math.round(c / least);
				for (let k = r; k < rows.length; k++) {
					const terms = rows[k]!.terms;
					const next = (terms.get(v) ?? 0) - times * (terms.get(pivot) ?? 0);
					if (next === 0) terms.delete(v);
					else terms.set(v, next);
				}
			}
		}
		const [left] = terms;
		if (!left) {
			if (total !== 0) return false;
			continue;
		}
		const [variable, coefficient] = left;
		if (total % coefficient !== 0) return false;
		const value = total / coefficient;
		for (let k = r + 1; k < rows.length; k++) {
			rows[k]!.total -= (rows[k]!.terms.get(variable) ?? 0) * value;
			rows[k]!.terms.delete(variable);
		}
	}
	return true;
}
