import { describe, expect, it } from 'vitest';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import type { Arrangement } from '../core/geometry/pieces.ts';
import { readGeometryFile } from './geometry-file.ts';
import { recipeOfFiles } from './recipe-of-files.ts';

/** Park & Miller's minimal generator: the same outlines every time. */
function numbers(seed: number) {
	let state = seed;
	const next = () => (state = (state * 16807) % 2147483647) / 2147483647;
	return { next, below: (n: number) => Math.floor(next() * n) };
}
type Random = ReturnType<typeof numbers>;

const ring = (n: number, point: (k: number, angle: number) => [number, number]) =>
	Array.from({ length: n + 1 }, (_, k) => point(k % n, (2 * Math.PI * (k % n)) / n).join(','));

/** Outlines such as careless drawings and surveys hold, by what is nasty about them. */
const kinds: Record<string, (random: Random) => string> = {
	'random polygons': ({ next, below }) =>
		Array.from({ length: 3 + below(40) }, () => `${(10 * next()).toFixed(below(4))},${(10 * next()).toFixed(below(4))}`).join(
			'\n'
		),
	'stars that run over themselves': ({ below }) => {
		const n = 3 + below(40);
		return ring(n, (k) => {
			const a = (2 * Math.PI * k * (2 + below(2))) / n;
			return [10 * Math.cos(a), 10 * Math.sin(a)];
		}).join('\n');
	},
	'coincident points of a grid': ({ below }) => Array.from({ length: 3 + below(40) }, () => `${below(5)},${below(5)}`).join('\n'),
	spirals: ({ below }) =>
		Array.from({ length: 5 * (3 + below(40)) }, (_, k) => `${(k / 10) * Math.cos(k / 10)},${(k / 10) * Math.sin(k / 10)}`).join(
			'\n'
		),
	'outlines a millionth apart': ({ below }) => {
		const n = 3 + below(40);
		return [0, 1, 2]
			.map((j) => ring(n, (_, a) => [(10 + j * 1e-6) * Math.cos(a), (10 + j * 1e-6) * Math.sin(a)]).join('\n'))
			.join('\n\n');
	},
	coastlines: ({ next, below }) => {
		let radius = 10;
		return ring(20 * (3 + below(40)), (_, a) => {
			radius = Math.max(3, radius + 0.8 * (next() - 0.5));
			return [radius * Math.cos(a), radius * Math.sin(a)];
		}).join('\n');
	},
	'doubled outlines with spurs': ({ below }) =>
		[0, below(2)]
			.map((up) =>
				['0,0', '4,0', '4,4', '2,4', '2,6', '2,4', '0,4', '0,0']
					.map((p) => p.replace(/\d$/, (y) => String(Number(y) + up)))
					.join('\n')
			)
			.join('\n\n'),
	'combs and slivers': ({ below }) => {
		const teeth = 3 + below(30);
		const gap = [0.2, 1e-3, 1e-6][below(3)]!;
		const points = Array.from({ length: teeth }, (_, k) => `${k},0\n${k + gap},0\n${k + gap},5\n${k + 1},5`);
		return `${points.join('\n')}\n${teeth},-1\n0,-1\n0,0`;
	},
	'wedges of a degree': ({ next }) => {
		const a = (Math.PI / 180) * (0.2 + next());
		return `0,0\n100,0\n${100 * Math.cos(a)},${100 * Math.sin(a)}\n0,0`;
	},
	icons: ({ next, below }) => {
		const n = () => (24 * next()).toFixed(below(3));
		const command: (() => string)[] = [
			() => `M${n()} ${n()}`,
			() => `l${n()} -${n()}`,
			() => `H${n()}`,
			() => `v${n()}`,
			() => `C${n()} ${n()} ${n()} ${n()} ${n()} ${n()}`,
			() => `s-${n()} ${n()} ${n()} ${n()}`,
			() => `q${n()} -${n()} ${n()} ${n()}`,
			() => `T${n()} ${n()}`,
			() => `A${n()} ${n()} ${below(90)} ${below(2)} ${below(2)} ${n()} ${n()}`,
			() => 'Z'
		];
		const path = () =>
			`<path d="M${n()} ${n()}${Array.from({ length: below(12) }, () => command[below(command.length)]!()).join('')}"/>`;
		const shapes = Array.from(
			{ length: 1 + below(5) },
			() => `${path()}<circle cx="${below(24)}" cy="${below(24)}" r="${below(8)}"/>`
		);
		return `<svg viewBox="0 0 24 24">${shapes.join('')}</svg>`;
	}
};

/** V − E + F − C for a plane graph without its outer face: zero. */
function euler(a: Arrangement): number {
	const parent = new Map<number, number>();
	const root = (j: number): number => {
		while (parent.get(j) !== j) j = parent.get(j)!;
		return j;
	};
	for (const p of a.pieces) for (const j of [p.start, p.end]) if (!parent.has(j)) parent.set(j, j);
	for (const p of a.pieces) parent.set(root(p.start), root(p.end));
	const components = [...parent.keys()].filter((j) => parent.get(j) === j).length;
	return parent.size - a.pieces.length + a.faces.length - components;
}

describe.each(Object.entries(kinds))('%s', (_, make) => {
	it('are imported, arranged and meshed, or a finding says why not', () => {
		const random = numbers(4711);
		for (let k = 0; k < 16; k++) {
			const file = readGeometryFile(new TextEncoder().encode(make(random)));
			if ('error' in file) {
				expect(file.error).toMatch(/\w+ \w+/);
				continue;
			}
			const files = { f: file };
			const result = finish(new Pipeline(() => 0).run({ text: recipeOfFiles(files), files }));
			expect(euler(result.arrangement)).toBe(0);
			expect(result.regions.length + result.findings.length).toBeGreaterThan(0);
			expect([...result.quality.of('scaledJacobian').values].filter((value) => !(value > 0))).toEqual([]);
			// A filled region has its mesh, or an error that names it.
			const filled = result.regions.filter((r) => r.fill === 'triangles');
			const has = new Set(result.mesh.triangleRegion);
			for (const region of filled)
				expect(
					has.has(result.regions.indexOf(region)) ||
						result.findings.some((f) => f.severity === 'error' && f.message.includes(`“${region.name}”`))
				).toBe(true);
		}
	}, 240_000);
});
