import { describe, expect, it } from 'vitest';
import { gridOf } from '../core/mesh/grid.ts';
import { groupEdges, isBoundary } from '../core/mesh/mesh.ts';
import { nodeSets } from '../core/mesh/node-sets.ts';
import { finish } from '../core/numeric/work.ts';
import { Pipeline } from '../core/pipeline.ts';
import { deliver, deliverParts, formatByEnding, readOptions } from './delivery.ts';
import type { Part } from './parts.ts';
import { unzipSync } from 'fflate';

const text = `recipe 1
title "Two materials"
let w = 40
rectangle box = (0, 0) to (w, 20)
line wall = (20, 0) to (20, 20)
circle pin = around (30, 10) radius 3
region r at (1, 1)
region s at (39, 1)
region hole at pin.centre
size 3
divide box.left into 6
fill r structured
fill s triangles
fill hole none
group inlet = box.left as inflow
group pins = pin as wall
group rest = outer facing up, outer facing down, outer facing right as wall
group "odd" = region r`;
const source = text.replace('pin.centre', '(30, 10)').replace('group "odd"', 'group water');
const result = finish(new Pipeline(() => 0).run({ text: `${source}\nperiodic box.bottom with box.top`, files: {} }));
const tables = formatByEnding('tables')!;
const made = (options: Record<string, string> = {}) => deliverParts(result, tables, options, { stem: 'two' });

interface Field {
	name: string;
	type: string;
	decimalChar?: string;
}
interface Resource {
	name: string;
	path: string;
	dialect: { delimiter: string; header: boolean };
	schema: { fields: Field[]; primaryKey?: string[] };
}

/** Reads a package by its own description, as a reader that knows only the standard would; every value is checked against its type. */
function read(parts: readonly Part[]): Record<string, Record<string, unknown>[]> {
	const content = (name: string) => new TextDecoder().decode(parts.find((p) => p.name === name)!.bytes);
	const description = JSON.parse(content('datapackage.json')) as { profile: string; name: string; resources: Resource[] };
	expect(description.profile).toBe('tabular-data-package');
	expect(description.name).toMatch(/^[a-z0-9._-]+$/);
	expect(parts.map((p) => p.name).sort()).toEqual([...description.resources.map((r) => r.path), 'datapackage.json'].sort());
	return Object.fromEntries(
		description.resources.map(({ name, path, dialect, schema }) => {
			const lines = content(path).trimEnd().split('\n');
			const names = schema.fields.map((f) => f.name);
			if (dialect.header) expect(lines.shift()!.split(dialect.delimiter), path).toEqual(names);
			const rows = lines.map((line) => {
				const cells = line.split(dialect.delimiter);
				expect(cells.length, `${path}: ${line}`).toBe(names.length);
				return Object.fromEntries(schema.fields.map((field, k) => [field.name, valueOf(cells[k]!, field)]));
			});
			if (schema.primaryKey) {
				const keys = rows.map((row) => schema.primaryKey!.map((key) => row[key]).join('\0'));
				expect(new Set(keys).size, path).toBe(keys.length);
			}
			return [name, rows];
		})
	);
}

function valueOf(cell: string, { type, decimalChar = '.' }: Field): unknown {
	if (cell === '') return null;
	if (type === 'integer') {
		expect(cell).toMatch(/^-?\d+$/);
		return Number(cell);
	}
	if (type === 'number') {
		const value = Number(cell.replace(decimalChar, '.'));
		expect(Number.isFinite(value), cell).toBe(true);
		return value;
	}
	if (type === 'boolean') {
		expect(cell).toMatch(/^(true|false)$/);
		return cell === 'true';
	}
	return cell;
}

describe('tables', () => {
	it('list how each piece is divided, which piece each edge lies on, and what came of each number', async () => {
		const { nodes, pieces, edges_on_pieces, as_asked } = read(await made());
		expect(pieces!.find(({ piece }) => piece === 'box.left')).toMatchObject({ divisions: 6, source: 'typed', length: 20 });
		for (const { piece, divisions, first, last } of pieces!) {
			const mine = edges_on_pieces!.filter((row) => row.piece === piece);
			// A piece between two regions has its edges twice, once for each side.
			const sides = new Set(mine.map(({ side }) => side)).size;
			expect(mine).toHaveLength(sides * (divisions as number));
			expect((first as number) > 0 && (last as number) > 0).toBe(true);
		}
		const [edge] = edges_on_pieces!.filter(({ piece, side, from }) => piece === 'box.bottom[1]' && side === 'left' && from === 0);
		const [a, b] = [nodes![(edge!.node_1 as number) - 1]!, nodes![(edge!.node_2 as number) - 1]!];
		expect(Math.hypot((b.x as number) - (a.x as number), (b.y as number) - (a.y as number))).toBeCloseTo(
			20 * (edge!.to as number),
			9
		);
		expect(as_asked!.map(({ line, what, asked, came, kept }) => [line, what, asked, came, kept])).toContainEqual([
			...[11, 'divisions of “box.left”', 6, 6, true]
		]);
	});

	it('hold every number of the mesh exactly, by their own description', async () => {
		const { nodes, elements, edges, groups, node_groups, parameters, periodic } = read(await made());
		const { mesh } = result;
		expect(nodes!.map((row) => [row.x, row.y])).toEqual([...mesh.x.keys()].map((k) => [mesh.x[k], mesh.y[k]]));
		expect(nodes![0]!.node).toBe(1);
		const grid = gridOf(mesh, result.model);
		const listed = grid.sections.flatMap(({ shape, nodes: list, region }) => {
			const size = shape === 'triangle' ? 3 : 4;
			return Array.from({ length: list.length / size }, (_, k) => [
				shape,
				mesh.regions[region],
				...[0, 1, 2, 3].map((i) => (i < size ? list[size * k + i]! + 1 : null))
			]);
		});
		expect(
			elements!.map(({ shape, region, node_1, node_2, node_3, node_4 }) => [shape, region, node_1, node_2, node_3, node_4])
		).toEqual(listed);
		for (const group of mesh.groups.filter(isBoundary))
			expect(edges!.filter((row) => row.group === group.name)).toHaveLength(groupEdges(mesh, group).length);
		// Exclusive corners: every labelled node is owned once.
		const owned = node_groups!.filter((row) => row.owned).map((row) => row.node);
		expect(new Set(owned).size).toBe(owned.length);
		expect(new Set(owned)).toEqual(new Set(node_groups!.map((row) => row.node)));
		expect(groups!.map((row) => [row.group, row.kind, row.nodes])).toEqual([
			...nodeSets(mesh).map(({ group, all }) => [
				mesh.groups[group]!.name,
				{ inlet: 'BCInflow' }[mesh.groups[group]!.name] ?? 'BCWall',
				all.length
			]),
			['water', null, null]
		]);
		expect(parameters).toEqual([{ parameter: 'w', value: 40, dimension: 'number' }]);
		expect(periodic).toHaveLength(mesh.periodic![0]!.from.length);
	});

	it('come with other ids, separators, signs, headers and digits', async () => {
		const options = { ids: '0', separator: ';', decimal: ',', header: 'none', digits: '4' };
		const { nodes, elements } = read(await made(options));
		expect(nodes![0]!.node).toBe(0);
		expect(Math.min(...elements!.map((row) => row.node_1 as number))).toBeGreaterThanOrEqual(0);
		expect(nodes!.every((row, k) => Math.abs((row.x as number) - result.mesh.x[k]!) <= 0.5e-4)).toBe(true);
		const first = new TextDecoder().decode((await made(options))[0]!.bytes).split('\n')[0];
		expect(first).toMatch(/^0;-?\d+,\d{4};-?\d+,\d{4}$/);
	});

	it('refuse what does not go together, with a sentence', async () => {
		await expect(made({ decimal: ',' })).rejects.toThrow(/a comma cannot be both the separator and the decimal sign/);
		expect(() => readOptions(tables, { ids: '2' })).toThrow(/“ids” count from 0 or 1/);
		expect(() => readOptions(tables, { digits: '40' })).toThrow(/“digits” are “shortest”, or a number from 0 to 17/);
		expect(() => readOptions(tables, { colour: 'red' })).toThrow(/Tables has no option “colour”/);
	});

	it('are one archive, the same bytes every time', async () => {
		const bytes = await deliver(result, tables);
		expect(Buffer.compare(bytes, await deliver(result, tables))).toBe(0);
		expect(Object.keys(unzipSync(bytes)).sort()).toEqual((await made()).map((p) => p.name).sort());
	});
});
