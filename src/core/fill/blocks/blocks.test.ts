import { describe, expect, it } from 'vitest';
import { cos, sin } from '../../numeric/elementary.ts';
import { finish } from '../../numeric/work.ts';
import { Pipeline, type Result } from '../../pipeline.ts';
import { numbers, type Random } from '../domains.test-support.ts';
import { directionsIn } from './directions.ts';
import { outlineOf } from './outline.ts';

const run = (text: string): Result => finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}\n`, files: {} }));
const place = (x: number, y: number) => `(${x.toFixed(3)}, ${y.toFixed(3)})`;

/** Drawings of one region r, by their kind. */
const drawings: Record<string, (random: Random) => string> = {
	polygons({ next, below }) {
		const n = 5 + below(30);
		const points = Array.from({ length: n }, (_, k) => {
			const [a, radius] = [(2 * Math.PI * k) / n, 12 + 14 * next()];
			return place(radius * cos(a), radius * sin(a));
		});
		return `polyline b = ${points.join(' to ')} closed\nregion r bounded by b`;
	},
	'plates with holes'({ next, below }) {
		const holes: [number, number, number][] = [];
		const wanted = 1 + below(8);
		for (let k = 0; k < 200 && holes.length < wanted; k++) {
			const radius = 2 + 4 * next();
			const [x, y] = [radius + 3 + (54 - 2 * radius) * next(), radius + 3 + (34 - 2 * radius) * next()];
			if (holes.every(([hx, hy, r]) => (hx - x) ** 2 + (hy - y) ** 2 > (r + radius + 2.5) ** 2)) holes.push([x, y, radius]);
		}
		const curves = holes.map(([x, y, radius], k) =>
			k % 2 === 0
				? `circle c${k} = around ${place(x, y)} radius ${radius.toFixed(3)}`
				: `polygon c${k} = around ${place(x, y)} sides ${3 + below(4)} radius ${radius.toFixed(3)}`
		);
		return ['rectangle b = (0, 0) to (60, 40)', ...curves, 'region r at (0.5, 0.5)'].join('\n');
	},
	blobs({ next, below }) {
		const n = 5 + below(6);
		const points = Array.from({ length: n }, (_, k) => {
			const [a, radius] = [(2 * Math.PI * k) / n, 14 + 8 * next()];
			return place(radius * cos(a), radius * sin(a));
		});
		return `spline b = ${points.join(' to ')} closed\nregion r bounded by b`;
	}
};

/** What is wrong with quadrilaterals as a mesh: folds, triangles, edges that do not fit. */
function faults({ mesh, quality }: Result): string[] {
	const uses = new Map<string, number>();
	for (let q = 0; q < mesh.quads.length; q += 4)
		for (let k = 0; k < 4; k++) {
			const key = `${mesh.quads[q + k]} ${mesh.quads[q + ((k + 1) % 4)]}`;
			uses.set(key, (uses.get(key) ?? 0) + 1);
		}
	const boundary = new Set(
		Array.from({ length: mesh.edges.length / 2 }, (_, e) => `${mesh.edges[2 * e]} ${mesh.edges[2 * e + 1]}`)
	);
	const alone = [...uses.keys()].filter((key) => !uses.has(key.split(' ').reverse().join(' ')));
	return [
		...(mesh.triangles.length > 0 ? ['triangles'] : []),
		...([...uses.values()].some((n) => n > 1) ? ['an edge twice in one direction'] : []),
		...(alone.some((key) => !boundary.has(key)) ? ['an edge with a gap beside it'] : []),
		...(quality.of('scaledJacobian')!.min > 0 ? [] : ['a fold'])
	];
}

describe.each(Object.entries(drawings))('blocks in %s', (_, draw) => {
	it('are found, fit together and hold their sizes', () => {
		const random = numbers(11);
		let [found, first, cells, even] = [0, 0, 0, 0];
		const many = 14;
		for (let k = 0; k < many; k++) {
			const text = `${draw(random)}\nfill r structured blocks\nsize 1.4`;
			const result = run(text);
			expect(result.findings.filter(({ severity }) => severity === 'error')).toEqual([]);
			expect(faults(result), text).toEqual([]);
			const [made] = result.blocks;
			if (!made) continue;
			found++;
			if (made.tries === 1) first++;
			cells += result.mesh.quads.length / 4;
			even += (result.quality.of('scaledJacobian')!.mean * result.mesh.quads.length) / 4;
		}
		expect(found).toBeGreaterThanOrEqual(many - 1);
		expect(first).toBeGreaterThanOrEqual(many - 3);
		expect(even / cells).toBeGreaterThan(0.95);
	});

	it('stand on directions whose turns come to what the outlines ask', () => {
		const random = numbers(23);
		for (let k = 0; k < 12; k++) {
			const { arrangement, regions } = run(`${draw(random)}\nfill r triangles\nsize 5`);
			const outline = outlineOf(arrangement, regions[0]!, 1, { turned: 0 });
			if ('reason' in outline) throw new Error(outline.reason);
			const directions = finish(directionsIn(outline));
			if ('reason' in directions) continue;
			// Poincaré and Hopf: four for every outline but the holes, less what corners take.
			const corners = outline.quadrants.reduce((sum, q) => sum + (q === 0 ? 0 : 2 - q), 0);
			const turns = directions.singular.reduce((sum, { turn }) => sum + turn, 0);
			expect(turns).toBe(4 * (2 - outline.loops.length) - corners);
		}
	});
});

describe('counts around blocks', () => {
	const plate = 'rectangle b = (0, 0) to (60, 30)\ncircle c = around (20, 15) radius 6\nregion r at (1, 1)';
	const countOf = (result: Result, name: string) =>
		result.divisions.pieces[result.arrangement.byCurve[result.model.curvesByName.get(name)![0]!]![0]!.piece]!.count;

	it('hold where they are typed', () => {
		const result = run(`${plate}\nfill r structured blocks\nsize 1.5\ndivide b.bottom into 47\ndivide c into 36`);
		expect(result.findings.filter(({ code }) => ['no-blocks', 'count-conflict'].includes(code))).toEqual([]);
		expect([countOf(result, 'b.bottom'), countOf(result, 'c')]).toEqual([47, 36]);
		expect(faults(result)).toEqual([]);
	});

	it('are one on the borders of regions that find theirs together', () => {
		const result = run(
			`${plate}\nline m = (40, 0) to (40, 30)\nregion s at (59, 1)\nregion t at (20, 15)\nfill r, s structured blocks\nfill t structured blocks size 1\nsize 1.5`
		);
		expect(result.blocks.map(({ region }) => region).sort()).toEqual(['r', 's', 't']);
		expect(faults(result)).toEqual([]);
	});

	it('that no blocks can have lead to rows, and a finding says why', () => {
		const result = run(`${plate}\nline loose = (45, 10) to (50, 15)\nfill r structured blocks\nsize 1.5`);
		expect(result.findings.find(({ code }) => code === 'no-blocks')?.message).toMatch(/a curve hangs or lies loose inside it/);
		expect(result.unfilled).toEqual([]);
		expect(result.mesh.quads.length).toBeGreaterThan(0);
	});

	it('are the same each time, and finer levels part them', () => {
		const text = `${plate}\nfill r structured blocks\nsize 1.5`;
		const one = run(text);
		expect([...run(text).mesh.x]).toEqual([...one.mesh.x]);
		const fine = finish(new Pipeline(() => 0).run({ text: `recipe 1\n${text}\n`, files: {}, refine: 2 }));
		expect(fine.mesh.quads.length).toBe(4 * one.mesh.quads.length);
	});

	it('take no layout beside them', () => {
		const [error] = run(`${plate}\nfill r structured blocks into 4\nsize 1`).findings;
		expect(error!.message).toMatch(/blocks that are found by themselves take a size alone/);
		expect(run(`${plate}\nfill r structured size 2`).findings[0]!.message).toMatch(/“structured blocks” takes a size/);
	});
});
