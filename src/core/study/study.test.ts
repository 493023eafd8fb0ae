import { describe, expect, it } from 'vitest';
import { finish } from '../numeric/work.ts';
import { Pipeline, type Result } from '../pipeline.ts';
import { studiesOf } from '../recipe/statements/study.ts';
import { casesOf } from './cases.ts';

const run = (text: string, refine = 1): Result =>
	finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}`, files: {}, refine }));
const head = 'let beta = 0.5\nlet rows = 8\nlet lean = 30 deg\n';
const cases = (study: string) => {
	const { model, findings } = run(`${head}${study}`);
	const errors = findings.filter((f) => f.severity === 'error').map((f) => f.message);
	expect(errors).toEqual([]);
	return casesOf(studiesOf(model)[0]!, ['beta', 'rows', 'lean']);
};
const wrong = (study: string) => run(`${head}${study}`).findings.find((f) => f.severity === 'error')?.message;

describe('the cases of a study', () => {
	it('are all combinations, in order, or paired', () => {
		const all = cases('study s = beta from 0.4 to 0.7 in 4, rows in 16, 24, 36');
		expect(all).toHaveLength(12);
		expect(all[0]).toEqual({ number: 1, name: 'beta_0.4_rows_16', settings: { beta: '0.4', rows: '16' }, refine: 1 });
		expect(all.map((c) => c.settings.beta)).toEqual(['0.4', '0.5', '0.6', '0.7'].flatMap((b) => [b, b, b]));
		expect(cases('study s = rows in 16, 2*rows, 36, beta in 0.1, 0.2, 0.3 paired').map((c) => c.name)).toEqual(
			['rows_16_beta_0.1', 'rows_16_beta_0.2', 'rows_36_beta_0.3'].map((n) => n)
		);
	});

	it('are levels of a refinement, or samples that are the same everywhere and fall in every stratum once', () => {
		expect(cases('study s = refine 4 levels by 2').map((c) => c.refine)).toEqual([1, 2, 4, 8]);
		const samples = cases('study s = random 20 seed 7 beta from 0 to 1, rows from 10 to 30');
		expect(samples).toEqual(cases('study s = random 20 seed 7 beta from 0 to 1, rows from 10 to 30'));
		expect(samples).not.toEqual(cases('study s = random 20 seed 8 beta from 0 to 1, rows from 10 to 30'));
		for (const [name, low, width] of [
			['beta', 0, 1],
			['rows', 10, 20]
		] as const) {
			const strata = samples.map(({ settings }) => Math.floor((20 * (Number(settings[name]) - low)) / width));
			expect(new Set(strata).size).toBe(20);
		}
	});

	it('draw whole numbers for a parameter that is a count', () => {
		const samples = cases(
			'rectangle b = (0, 0) to (1, 1)\ndivide b.bottom into rows\nstudy s = random 40 seed 3 rows from 8 to 11'
		);
		const drawn = samples.map(({ settings }) => Number(settings.rows));
		expect(new Set(drawn)).toEqual(new Set([8, 9, 10, 11]));
	});

	it('are refused in a sentence where they cannot be', () => {
		expect(wrong('study s = bet from 0.4 to 0.7 in 4')).toContain('no parameter is named “bet”; did you mean “beta”?');
		expect(wrong('study s = beta from 0.7 to 0.4 in 4')).toContain('which is not below its end');
		expect(wrong('study s = beta from 0.4 to 0.7')).toContain('say how many values “beta” takes');
		expect(wrong('study s = beta in 1, 2, rows in 1, 2, 3 paired')).toContain('paired parameters have as many');
		expect(wrong('study s = beta in 1, 2, beta in 3, 4')).toContain('varied twice');
		expect(wrong('study s = beta from 0 to 1 in 1000, rows from 1 to 2 in 1000')).toContain('a study takes up to 100,000');
		expect(wrong('study s = refine 1.5 levels by 2')).toContain('a whole number from 1 to 12');
		expect(wrong('study s = from "none.csv"')).toContain('there is no file “none.csv”');
	});
});

describe('levels of a refinement', () => {
	const rows = `arc inner = (5, 0) to (0, 5) around (0, 0)
arc outer = (12, 0) to (0, 12) around (0, 0)
line a = (5, 0) to (12, 0)
line b = (0, 5) to (0, 12)
rectangle c = (12, 0) to (20, -6)
region r at (6, 6)
region s at (15, -3)
divide a into 6 bias 8 toward inner
divide outer into 9
divide c.right into 5 first 0.3 at c.top
size 1.5
fill r structured smooth
fill s structured`;

	it('hold every node of the level before, to the last digits, in rows of any spacing', () => {
		const levels = [1, 2, 4].map((by) => run(rows, by));
		for (let k = 0; k + 1 < levels.length; k++) {
			const [coarse, fine] = [levels[k]!.mesh, levels[k + 1]!.mesh];
			expect(fine.quadRegion.length).toBe(4 * coarse.quadRegion.length);
			const cells = new Map<string, [number, number][]>();
			const key = (x: number, y: number) => `${Math.round(x * 1e6)} ${Math.round(y * 1e6)}`;
			fine.x.forEach((x, i) => {
				const cell = key(x, fine.y[i]!);
				cells.set(cell, [...(cells.get(cell) ?? []), [x, fine.y[i]!]]);
			});
			let worst = 0;
			coarse.x.forEach((x, i) => {
				const near = [-1, 0, 1].flatMap((u) =>
					[-1, 0, 1].flatMap((v) => cells.get(key(x + u * 1e-6, coarse.y[i]! + v * 1e-6)) ?? [])
				);
				worst = Math.max(worst, Math.min(...near.map(([px, py]) => Math.hypot(px - x, py - coarse.y[i]!))));
			});
			expect(worst).toBeLessThan(1e-12);
			expect(levels[k + 1]!.quality.of('scaledJacobian').min).toBeGreaterThan(0.9 * levels[k]!.quality.of('scaledJacobian').min);
			// Conforming: every inner edge has two elements.
			const beside = new Map<string, number>();
			for (let q = 0; q < fine.quads.length; q += 4)
				for (let i = 0; i < 4; i++) {
					const [a, b] = [fine.quads[q + i]!, fine.quads[q + ((i + 1) % 4)]!];
					const edge = a < b ? `${a} ${b}` : `${b} ${a}`;
					beside.set(edge, (beside.get(edge) ?? 0) + 1);
				}
			expect([...beside.values()].filter((n) => n === 1)).toHaveLength(
				[...fine.edgePiece].length - 2 * sharedEdges(levels[k + 1]!)
			);
		}
	});

	/** Edges on pieces between two filled regions, which stand twice. */
	const sharedEdges = ({ mesh, arrangement, regions }: Result) => {
		const faces = new Set(regions.map((r) => r.face));
		return [...mesh.edgePiece].filter(
			(p, e) => faces.has(arrangement.sides[2 * p]!) && faces.has(arrangement.sides[2 * p + 1]!) && mesh.edgeSide[e] === 0
		).length;
	};

	it('keep the grading of triangles: sizes over wanted sizes are spread alike', () => {
		const graded = `rectangle o = (0, 0) to (40, 30)
circle h = around (15, 14) radius 2
region r at (1, 1)
region q at (15, 14)
size 2 growth 1.2
size 0.3 near h
fill r triangles
fill q none`;
		const shares = [1, 2].map((by) => {
			const { mesh } = run(graded, by);
			const ratios: number[] = [];
			for (let t = 0; t < mesh.triangles.length; t += 3) {
				const [a, b, c] = [0, 1, 2].map((k) => mesh.triangles[t + k]!) as [number, number, number];
				const { x, y } = mesh;
				const area = ((x[b]! - x[a]!) * (y[c]! - y[a]!) - (x[c]! - x[a]!) * (y[b]! - y[a]!)) / 2;
				const [px, py] = [(x[a]! + x[b]! + x[c]!) / 3, (y[a]! + y[b]! + y[c]!) / 3];
				const wanted = Math.min(2, 0.3 + 0.2 * Math.max(0, Math.hypot(px - 15, py - 14) - 2)) / by;
				ratios.push(Math.sqrt((4 * area) / Math.sqrt(3)) / wanted);
			}
			ratios.sort((p, q) => p - q);
			return [0.1, 0.5, 0.9].map((f) => ratios[Math.floor(f * ratios.length)]!);
		});
		shares[0]!.forEach((value, k) => expect(Math.abs(shares[1]![k]! / value - 1)).toBeLessThan(0.06));
	});
});
