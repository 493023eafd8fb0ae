import { checkPromises } from '../src/core/promises/check.ts';
import * as v from 'valibot';
import { DeckOptions } from '../src/formats/deck-options.ts';
import { writeDeck } from '../src/formats/deck.ts';
import { TableOptions } from '../src/formats/table-options.ts';
import { writeTables } from '../src/formats/tables.ts';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fillStructured } from '../src/core/fill/structured/fill-structured.ts';
import { gridOf } from '../src/core/mesh/grid.ts';
import { finish } from '../src/core/numeric/work.ts';
import { Pipeline, type Result } from '../src/core/pipeline.ts';
import { measures, Quality } from '../src/core/quality/quality.ts';
import { writeCgns } from '../src/formats/cgns.ts';
import { writeVtu } from '../src/formats/vtu.ts';
import { pairs, summarised, time, type Ratio } from './ratio.ts';

/** A million structured quadrilaterals with a curved side, and four named ones. */
const recipe = (kind: string) => `recipe 1
arc low = (0, 0) to (1, 0) radius 2
line right = (1, 0) to (1, 1)
line top = (1, 1) to (0, 1)
line left = (0, 1) to (0, 0)
region r bounded by low, right, top, left
divide low, right into 1000 bias 20 toward both
fill r structured
group low = low as ${kind}
group right = right as outflow
group top = top as symmetry
group left = left as inflow
`;

let cached: Result | undefined;
const million = (): Result => (cached ??= finish(new Pipeline(() => 0).run({ text: recipe('wall'), files: {} })));

/** A changed label on a million elements against the first run. */
export function labelAgainstFirstRun(): Ratio {
	const ratios = Array.from({ length: 7 }, (_, k) => {
		const pipeline = new Pipeline(() => 0);
		const first = time(() => finish(pipeline.run({ text: recipe('wall'), files: {} })));
		// The first edit of all warms nothing but itself; what counts is the edits that follow.
		finish(pipeline.run({ text: recipe('inflow'), files: {} }));
		return time(() => finish(pipeline.run({ text: recipe(k % 2 ? 'no_slip_wall' : 'symmetry'), files: {} }))) / first;
	}).sort((a, b) => a - b);
	return {
		what: 'an edit of a label on 1 000 000 structured quads',
		against: 'the first run',
		median: ratios[3]!,
		low: ratios[0]!,
		high: ratios[6]!,
		wanted: '≤ 0.02'
	};
}

/** 3 600 round holes in a plate, one of them moved a little. */
function holes(moved: number): string {
	const side = 60;
	const circles = Array.from({ length: side * side }, (_, k) => {
		const [i, j] = [k % side, Math.floor(k / side)];
		const x = i + 0.5 + (k === (side * side) / 2 + side / 2 ? moved : 0);
		return `circle c${k} = around (${x}, ${j + 0.5}) radius ${0.2 + ((7 * i + 3 * j) % 5) / 50}`;
	});
	return [
		'recipe 1',
		`rectangle box = (0, 0) to (${side}, ${side})`,
		...circles,
		'region plate at (0.05, 0.05)',
		'size 0.5',
		'fill plate triangles'
	].join('\n');
}

/** What comes before the fill, for one of 3 600 circles moved, against the first run's; both when all code has run before. */
export function movedCircleAgainstFirstRun(): Ratio {
	const before = (pipeline: Pipeline, moved: number): number => {
		const { timings } = finish(pipeline.run({ text: holes(moved), files: {} }));
		return timings.recipe! + timings.shape! + timings.divide!;
	};
	const clock = () => performance.now();
	before(new Pipeline(clock), 0);
	const ratios = Array.from({ length: 3 }, () => {
		const pipeline = new Pipeline(clock);
		const first = before(pipeline, 0);
		return [0.01, 0.02, 0.03].map((moved) => before(pipeline, moved) / first);
	});
	return {
		what: 'moving one of 3 600 circles: recipe, shape and divide stages',
		against: 'those of the first run',
		...summarised(ratios.flat()),
		wanted: '≤ 0.1'
	};
}

/** A plate with 900 round holes, its recipe without the header. */
export const plateWithHoles = [
	'rectangle a = (0, 0) to (60, 60)',
	...Array.from(
		{ length: 900 },
		(_, k) => `circle c${k} = around (${1 + 2 * (k % 30)}, ${1 + 2 * Math.floor(k / 30)}) radius 0.5`
	),
	'region r at (0.05, 0.05)\nsize 0.12\nfill r triangles'
].join('\n');

/** The divide stage, most of which is sizes along pieces and the gaps beside them, against the fill of the same. */
export function divisionsAgainstFill(): Ratio {
	const text = `recipe 1\n${plateWithHoles}`;
	const ratio = (): number => {
		const { timings } = finish(new Pipeline(() => performance.now()).run({ text, files: {} }));
		return timings.divide! / timings.fill!;
	};
	for (let k = 0; k < 3; k++) ratio();
	return {
		what: 'divisions of a plate with 900 holes: sizes along 904 pieces and gaps',
		against: 'its fill with triangles',
		...summarised(Array.from({ length: 5 }, ratio)),
		wanted: '≤ 0.1'
	};
}

/** The check of what a recipe asks against the run that it belongs to. */
export function promisesAgainstRun(): Ratio {
	const text = `recipe 1
rectangle box = (0, 0) to (400, 300)
circle hole = around (120, 150) radius 40
region plate bounded by box
region inside bounded by hole
size 1 growth 1.2
size 0.4 near hole within 12
divide box.left into 200 bias 4 toward both
layers on box.bottom, hole first 0.05 growth 1.2 count 8
group rest = box as wall
fill inside none
fill plate triangles
`;
	const result = finish(new Pipeline(() => performance.now()).run({ text, files: {} }));
	const elements = result.mesh.triangles.length / 3 + result.mesh.quads.length / 4;
	return {
		what: `${result.promises.length} promises held against a mesh of ${elements.toLocaleString('en')} elements, and nothing known of it before`,
		against: 'the whole run that made it',
		...pairs(
			5,
			() => checkPromises(result),
			() => finish(new Pipeline(() => performance.now()).run({ text, files: {} }))
		),
		wanted: '≤ 0.05'
	};
}

/** All measures of a million quads against filling them. */
export function qualityAgainstFill(): Ratio {
	const { mesh, plans, divisions } = million();
	const { layout } = plans[0]!;
	if (layout?.kind !== 'block') throw new Error('the square is no block');
	// The sides of the block with nodes of its own, as the fill gets them.
	const [x, y]: [number[], number[]] = [[], []];
	const sides = layout.sides.map(([h]) => {
		const { x: px, y: py, count } = divisions.pieces[h! >> 1]!;
		return Uint32Array.from({ length: count + 1 }, (_, k) => {
			const at = h! & 1 ? count - k : k;
			x.push(px[at]!);
			y.push(py[at]!);
			return x.length - 1;
		});
	}) as [Uint32Array, Uint32Array, Uint32Array, Uint32Array];
	const [gx, gy] = [Float64Array.from(x), Float64Array.from(y)];
	const part = { triangles: [0, 0], quads: [0, mesh.quadRegion.length], madeFrom: [] } as const;
	return {
		what: `all ${measures.length} measures of quality of 1 000 000 quads`,
		against: 'the structured fill that makes them',
		...pairs(
			7,
			() => new Quality(mesh, [part], [{ madeFrom: [], results: new Map() }]).all(),
			() =>
				finish(
					fillStructured(
						{ x: gx, y: gy, edges: new Uint32Array(0) },
						{ kind: 'block', sides, walls: [false, false, false, false] }
					)
				)
		),
		wanted: '≤ 1'
	};
}

/** A file of a million quads against a plain write of the same bytes to disk. */
export async function filesAgainstPlainWrites(): Promise<Ratio[]> {
	const result = million();
	const folder = mkdtempSync(join(tmpdir(), 'bench-'));
	const grid = gridOf(result.mesh, result.model);
	const rows: Ratio[] = [];
	for (const [name, write] of [
		['CGNS', writeCgns],
		['VTU', async (g: typeof grid, o: { units: 'drawn'; plane: 'no'; partial: 'no' }) => writeVtu(g, o)]
	] as const) {
		const bytes = await write(grid, { units: 'drawn', plane: 'no', partial: 'no' });
		const ratios: number[] = [];
		for (let k = 0; k < 7; k++) {
			const start = performance.now();
			writeFileSync(join(folder, 'made'), await write(grid, { units: 'drawn', plane: 'no', partial: 'no' }));
			const made = performance.now() - start;
			ratios.push(made / time(() => writeFileSync(join(folder, 'plain'), bytes)));
		}
		ratios.sort((a, b) => a - b);
		rows.push({
			what: `${name} of 1 000 000 quads, to disk`,
			against: `a plain write of the same ${Math.round(bytes.length / 1e6)} MB`,
			median: ratios[3]!,
			low: ratios[0]!,
			high: ratios[6]!,
			wanted: '≤ 3'
		});
	}
	rmSync(folder, { recursive: true });
	return rows;
}

/** Tables of a million quads against joining the same numbers to lines in a plain loop; and a deck of them against the tables. */
export async function textAgainstTables(): Promise<Ratio[]> {
	const result = million();
	const grid = gridOf(result.mesh, result.model);
	const { x, y, quads } = result.mesh;
	const options = v.getDefaults(TableOptions) as TableOptions;
	const plain = () => {
		const encoder = new TextEncoder();
		const nodes: string[] = [];
		for (let k = 0; k < x.length; k++) nodes.push(`${k + 1},${x[k]!},${y[k]!}`);
		const elements: string[] = [];
		for (let k = 0; k < quads.length; k += 4)
			elements.push(
				`${k / 4 + 1},quadrilateral,r,${quads[k]! + 1},${quads[k + 1]! + 1},${quads[k + 2]! + 1},${quads[k + 3]! + 1}`
			);
		return encoder.encode(nodes.join('\n')).length + encoder.encode(elements.join('\n')).length;
	};
	const tables = () => writeTables(grid, options, result);
	const template = {
		name: 'own.liquid',
		text: '{% each n in nodes %}{{ n.id }} {{ n.x }} {{ n.y }}\n{% endeach %}{% each e in elements %}{{ e.id }} {{ e.nodes[0] }} {{ e.nodes[1] }} {{ e.nodes[2] }} {{ e.nodes[3] }}\n{% endeach %}'
	};
	const deck = () => writeDeck(grid, v.getDefaults(DeckOptions) as DeckOptions, result, template, 'deck.txt');
	return [
		{
			what: 'tables of 1 000 000 quads',
			against: 'joining the same numbers to lines in a plain loop',
			...pairs(3, tables, plain),
			wanted: '≤ 4'
		},
		{
			what: 'a deck of 1 000 000 quads by a template',
			against: 'the tables of the same',
			...pairs(3, deck, tables),
			wanted: '≤ 6'
		}
	];
}
