import { mapped } from '../text/typed.ts';
import type { GlobalFill } from '../assembly/assemble.ts';
import type { Division } from '../divide/division.ts';
import { spacingFigures } from '../divide/spacing.ts';
import type { Domain } from '../domain/domain.ts';
import { type BoundaryNumbering, gatherBoundary } from '../fill/boundary.ts';
import type { Fill } from '../fill/method.ts';
import { halveQuads } from '../fill/structured/halve.ts';
import { partPoint } from '../geometry/parts.ts';
import { monotoneCubic } from '../numeric/monotone.ts';
import { pow } from '../numeric/elementary.ts';
import type { DividedDomain, RegionPlan } from './divide-stage.ts';

/**
 * Divisions with every cell parted into `by`: the old nodes stay, the new ones lie on the monotone cubic through them by their
 * numbers, on the true curves. So a level of a study holds all nodes of the one before, whatever the law of the spacing.
 */
export function refinedDivisions({ arrangement }: Domain, divided: DividedDomain, by: number): DividedDomain {
	const pieces = divided.divisions.pieces.map((division, p): Division => {
		const piece = arrangement.pieces[p]!;
		const n = division.count;
		const place = monotoneCubic(
			Float64Array.from(division.at, (_, k) => k),
			division.at
		);
		const at = new Float64Array(n * by + 1);
		const [x, y] = [new Float64Array(at.length), new Float64Array(at.length)];
		for (let k = 0; k <= n * by; k++) {
			const old = k % by === 0;
			at[k] = old ? division.at[k / by]! : place(k / by);
			const q = old ? { x: division.x[k / by]!, y: division.y[k / by]! } : partPoint(piece, at[k]!, piece.length);
			x[k] = q.x;
			y[k] = q.y;
		}
		return { ...division, count: n * by, at, x, y, figures: spacingFigures(at, piece.length) };
	});
	const { field } = divided;
	return {
		...divided,
		field: {
			...field,
			at: (px, py) => field.at(px, py) / by,
			slope: field.slope / by,
			plateaus: field.plateaus.map(({ size, box }) => ({ size: size / by, box })),
			numbers: Float64Array.from([...field.numbers, by])
		},
		divisions: { ...divided.divisions, pieces },
		plans: divided.plans.map((plan) => ({ ...plan, own: plan.innerCounts.map((count) => count * by) }))
	};
}

/** A domain whose sizes are so many times finer, and grow as much finer; layers keep their thickness, each cell parted. */
export function refinedDomain(domain: Domain, by: number): Domain {
	const slower = (growth: number) => 1 + (growth - 1) / by;
	return {
		...domain,
		fallbackSize: domain.fallbackSize / by,
		regions: domain.regions.map((region) => ({
			...region,
			growth: slower(region.growth),
			...(region.size === undefined ? {} : { size: region.size / by })
		})),
		layers: {
			...domain.layers,
			statements: domain.layers.statements.map((wall) => {
				const { growth, share } = parted(wall.growth, by);
				return { ...wall, first: wall.first * share, growth, count: wall.count * by };
			}),
			firsts: new Map(
				[...domain.layers.firsts].map(([half, firsts]) => {
					const { share } = parted(domain.layers.statements[domain.layers.of.get(half)!]!.growth, by);
					return [half, { ...firsts, first: firsts.first.map((h) => h * share) }];
				})
			)
		}
	};
}

/** The growth of a stack whose cells are parted so that its heights stay among the new ones, and the first cell over the old first. */
function parted(old: number, by: number): { growth: number; share: number } {
	const growth = pow(old, 1 / by);
	return { growth, share: Math.abs(growth - 1) < 1e-12 ? 1 / by : (growth - 1) / (old - 1) };
}

/**
 * A region of rows with every quadrilateral parted into by × by: its nodes stay, edges are parted on the cubic through the nodes of
 * their grid line (on the outline as the divisions say), and what lies inside a quadrilateral is blended from its four sides (S. A.
 * Coons, 1967).
 */
export function refinedRows(
	domain: Domain,
	plan: RegionPlan,
	{ fill, coarse, fine }: { fill: Fill; coarse: RefinedFill; fine: RefinedFill },
	by: number
): GlobalFill {
	const region = domain.regions[plan.region]!;
	const [before, after] = mapped([coarse, fine], ({ divisions, numbering }) =>
		gatherBoundary(region, domain.arrangement, divisions, numbering)
	);
	const { quads } = fill;
	const given = before.input.x.length;
	const at = (values: 'x' | 'y', node: number) => (node < given ? before.input[values][node]! : fill[values][node - given]!);

	// Phase 1: the number of every old node among the new ones: given ones first.
	const number = new Map<number, number>();
	/** The nodes along each edge of the outline, by its old nodes. */
	const along = new Map<string, number[]>();
	for (const [half, nodes] of before.along) {
		const finer = after.along.get(half)!;
		for (let k = 0; k < nodes.length; k++) number.set(nodes[k]!, finer[k * by]!);
		for (let k = 0; k + 1 < nodes.length; k++) {
			const nodesBetween = Array.from({ length: by + 1 }, (_, i) => finer[k * by + i]!);
			along.set(`${nodes[k]} ${nodes[k + 1]}`, nodesBetween);
			along.set(`${nodes[k + 1]} ${nodes[k]}`, [...nodesBetween].reverse());
		}
	}
	const x: number[] = [];
	const y: number[] = [];
	const base = after.input.x.length;
	const add = (px: number, py: number) => {
		x.push(px);
		y.push(py);
		return base + x.length - 1;
	};
	const numberOf = (node: number) => {
		let copy = number.get(node);
		if (copy === undefined) number.set(node, (copy = add(at('x', node), at('y', node))));
		return copy;
	};

	// Phase 2: edges, parted where they run on into others across a node with four quadrilaterals.
	const beside = new Map<string, number>();
	for (let q = 0; q < quads.length; q += 4)
		for (let k = 0; k < 4; k++) beside.set(`${quads[q + k]} ${quads[q + ((k + 1) % 4)]}`, q / 4);
	/** The node to which a grid line goes on from a to b beyond b; −1 where it ends. */
	const beyond = (a: number, b: number): number => {
		const left = beside.get(`${a} ${b}`);
		const right = beside.get(`${b} ${a}`);
		if (left === undefined || right === undefined) return -1;
		const after = (q: number, node: number, step: number) => {
			const place = [0, 1, 2, 3].findIndex((k) => quads[4 * q + k] === node);
			return quads[4 * q + ((place + step) % 4)]!;
		};
		// Left of a–b, b leads on to c; the quadrilateral across b–c leads on once more.
		const c = after(left, b, 1);
		const next = beside.get(`${c} ${b}`);
		if (next === undefined) return -1;
		const d = after(next, b, 1);
		const e = after(right, b, 3);
		const other = beside.get(`${b} ${e}`);
		return other !== undefined && after(other, b, 3) === d ? d : -1;
	};
	const edge = (a: number, b: number): number[] => {
		const earlier = along.get(`${a} ${b}`);
		if (earlier) return earlier;
		const [before, behind] = [beyond(b, a), beyond(a, b)];
		const line = [...(before < 0 ? [] : [before]), a, b, ...(behind < 0 ? [] : [behind])];
		const start = before < 0 ? 0 : 1;
		const nodes = [numberOf(a)];
		for (let i = 1; i < by; i++)
			nodes.push(
				add(
					...mapped(['x', 'y'], (v) =>
						lagrange(
							line.map((n) => at(v as 'x' | 'y', n)),
							start + i / by
						)
					)
				)
			);
		nodes.push(numberOf(b));
		along.set(`${a} ${b}`, nodes);
		along.set(`${b} ${a}`, [...nodes].reverse());
		return nodes;
	};

	// Phase 3: what lies inside.
	const made: number[] = [];
	const coordinate = (node: number): [number, number] =>
		node < base ? [after.input.x[node]!, after.input.y[node]!] : [x[node - base]!, y[node - base]!];
	for (let q = 0; q < quads.length; q += 4) {
		const [a, b, c, d] = mapped([0, 1, 2, 3], (k) => quads[q + k]!);
		const [south, east, north, west] = [edge(a, b), edge(b, c), edge(d, c), edge(a, d)];
		const grid = Array.from({ length: by + 1 }, (_, j) =>
			Array.from({ length: by + 1 }, (_, i) => {
				if (j === 0) return south[i]!;
				if (j === by) return north[i]!;
				if (i === 0) return west[j]!;
				if (i === by) return east[j]!;
				const [u, v] = [i / by, j / by];
				const blend = mapped([0, 1], (axis) => {
					const of = (node: number) => coordinate(node)[axis]!;
					return (
						(1 - v) * of(south[i]!) +
						v * of(north[i]!) +
						(1 - u) * of(west[j]!) +
						u * of(east[j]!) -
						((1 - u) * (1 - v) * of(south[0]!) +
							u * (1 - v) * of(south[by]!) +
							u * v * of(north[by]!) +
							(1 - u) * v * of(north[0]!))
					);
				});
				return add(...blend);
			})
		);
		for (let j = 0; j < by; j++)
			for (let i = 0; i < by; i++) made.push(grid[j]![i]!, grid[j]![i + 1]!, grid[j + 1]![i + 1]!, grid[j + 1]![i]!);
	}
	const refined: Fill = {
		x: Float64Array.from(x),
		y: Float64Array.from(y),
		triangles: new Uint32Array(0),
		quads: Uint32Array.from(made)
	};
	return { fill: region.halved ? halveQuads(after.input, refined) : refined, global: after.global };
}

/** Divisions with the numbers of their nodes. */
export interface RefinedFill {
	divisions: readonly Division[];
	numbering: BoundaryNumbering;
}

/** The polynomial through values at 0, 1, 2, … (Lagrange), at a place between. */
function lagrange(values: readonly number[], t: number): number {
	let sum = 0;
	for (let k = 0; k < values.length; k++) {
		let weight = values[k]!;
		for (let i = 0; i < values.length; i++) if (i !== k) weight *= (t - i) / (k - i);
		sum += weight;
	}
	return sum;
}
