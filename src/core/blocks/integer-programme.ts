import { equalTo, lessEq, solve, type Coefficients, type Constraint } from 'yalps';

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
