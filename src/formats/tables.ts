import { cellCount, nodesOfShape, sideCount, type DeliveryGrid } from '../core/mesh/grid.ts';
import { boundaryKinds } from '../core/recipe/language/boundary-kinds.ts';
import { pieceNames } from '../core/domain/references.ts';
import { metres } from '../core/recipe/language/units.ts';
import type { Result } from '../core/pipeline.ts';
import { placesIn } from '../core/recipe/language/parse.ts';
import { inUnits } from './grid-options.ts';
import { type Part, TextSink } from './parts.ts';
import { safeCell } from './safe-cell.ts';
import type { Dimension } from '../core/recipe/model/values.ts';
import type { TableOptions } from './table-options.ts';
import { UserError } from '../core/text/user-error.ts';

type FieldType = 'integer' | 'number' | 'string' | 'boolean';
interface Table {
	name: string;
	about: string;
	fields: [name: string, type: FieldType, about?: string][];
	/** Columns that tell one row from another. */
	key?: string[];
	rows: (add: (line: string) => void) => void;
}

/**
 * A mesh as tables of comma-separated values with a Frictionless Data Package (specification 1.0: `datapackage.json` with a
 * Table Schema to each) that describes them: nodes, elements, edges (sides of a solid), groups, the nodes of groups, parameters, pairs of
 * periodic nodes, pieces and their divisions, the piece and side of every edge on one, and what the recipe asks with what came.
 *
 * @throws Error with a sentence where the options do not go together
 */
export function writeTables(whole: DeliveryGrid, options: TableOptions, made: Result): Part[] {
	const { parameters } = made.model;
	const { decimal, digits } = options;
	const between = options.separator === 'tab' ? '\t' : options.separator;
	if (between === decimal)
		throw new UserError('a comma cannot be both the separator and the decimal sign; write “separator ";"”');
	const grid = inUnits(whole, options);
	const first = Number(options.ids);
	const id = (node: number) => node + first;
	const exact = digits === 'shortest' ? String : (value: number) => value.toFixed(Number(digits));
	const number = decimal === '.' ? exact : (value: number) => exact(value).replace('.', ',');
	const word = (name: string) => {
		const text = safeCell(name);
		return text.includes('"') || text.includes(between) || /[\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
	};
	const { coordinates, sections, patches, points, regions, materials, periodic } = grid;
	const axes = ['x', 'y', 'z'].slice(0, coordinates.length);
	const widest = sections.reduce((most, { shape }) => Math.max(most, nodesOfShape[shape]), 0);
	const widestSide = patches.reduce((most, { sides }) => Math.max(most, ...sides.map(({ shape }) => nodesOfShape[shape])), 2);
	const nodeFields = (count: number) =>
		Array.from({ length: count }, (_, k): [string, FieldType] => [`node_${k + 1}`, 'integer']);
	const solid = coordinates.length === 3;
	/** The nodes of a cell, and empty columns up to the widest. */
	const cells = (nodes: Uint32Array, from: number, size: number, width: number) => {
		let line = '';
		for (let k = 0; k < width; k++) line += between + (k < size ? nodes[from + k]! + first : '');
		return line;
	};

	const tables: Table[] = [
		{
			name: 'nodes',
			about: `places of the nodes, in ${grid.units}`,
			fields: [['node', 'integer'], ...axes.map((axis): [string, FieldType] => [axis, 'number'])],
			key: ['node'],
			rows(add) {
				const [x, y, z] = coordinates;
				for (let k = 0; k < x.length; k++)
					add(`${id(k)}${between}${number(x[k]!)}${between}${number(y[k]!)}${z ? between + number(z[k]!) : ''}`);
			}
		},
		{
			name: 'elements',
			about: 'elements by their nodes, in the order of the CGNS SIDS, with their region',
			fields: [['element', 'integer'], ['shape', 'string'], ['region', 'string'], ...nodeFields(widest)],
			key: ['element'],
			rows(add) {
				let element = first;
				for (const { shape, nodes, region } of sections) {
					const [size, name] = [nodesOfShape[shape], word(regions[region]!)];
					for (let k = 0; k < nodes.length; k += size)
						add(`${element++}${between}${shape}${between}${name}${cells(nodes, k, size, widest)}`);
				}
			}
		},
		{
			name: solid ? 'sides' : 'edges',
			about: solid
				? 'sides of the boundary by their nodes, outward, with their group'
				: 'edges of the boundary by their nodes, the mesh on their left, with their group',
			fields: [['group', 'string'], ...nodeFields(widestSide)],
			rows(add) {
				for (const { name, sides } of patches)
					for (const { shape, nodes } of sides) {
						const size = nodesOfShape[shape];
						for (let k = 0; k < nodes.length; k += size) add(`${word(name)}${cells(nodes, k, size, widestSide)}`);
					}
			}
		},
		{
			name: 'groups',
			about: 'groups: of edges with their kind, of points, of regions (materials)',
			fields: [
				['group', 'string'],
				['of', 'string'],
				['kind', 'string', 'type of a boundary condition by the CGNS SIDS'],
				['count', 'integer', 'edges or sides, points, or elements'],
				['nodes', 'integer'],
				['owned', 'integer', 'nodes that belong to no group that stands before']
			],
			key: ['group'],
			rows(add) {
				const sets = new Map(grid.nodeSets().map((set) => [set.name, set]));
				const counts = (name: string) => `${sets.get(name)?.all.length ?? 0}${between}${sets.get(name)?.owned.length ?? 0}`;
				for (const patch of patches)
					add(
						[
							word(patch.name),
							solid ? 'sides' : 'edges',
							boundaryKinds[patch.kind].cgns,
							sideCount(patch),
							counts(patch.name)
						].join(between)
					);
				for (const { name, kind, nodes } of points)
					add([word(name), 'points', boundaryKinds[kind].cgns, nodes.length, counts(name)].join(between));
				for (const { name, regions: members } of materials) {
					const elements = sections.filter((s) => members.includes(s.region)).reduce((sum, s) => sum + cellCount(s), 0);
					add([word(name), 'regions', '', elements, '', ''].join(between));
				}
			}
		},
		{
			name: 'node_groups',
			about: 'the nodes of every group, and whether it owns them: a node that several groups share is owned by one',
			fields: [
				['group', 'string'],
				['node', 'integer'],
				['owned', 'boolean']
			],
			rows(add) {
				for (const { name, all, owned } of grid.nodeSets()) {
					const ownedNodes = new Set(owned);
					const lead = word(name) + between;
					for (const node of all) add(`${lead}${id(node)}${between}${ownedNodes.has(node)}`);
				}
			}
		},
		{
			name: 'parameters',
			about: 'parameters of the recipe: lengths in its units, angles in radians',
			fields: [
				['parameter', 'string'],
				['value', 'number'],
				['dimension', 'string']
			],
			key: ['parameter'],
			rows(add) {
				for (const { name, value, dimension } of parameters) add([word(name), number(value), kindOf(dimension)].join(between));
			}
		},
		...(periodic.length > 0
			? [
					{
						name: 'periodic',
						about: 'pairs of periodic nodes: the second is the first moved, or turned',
						fields: [
							['pair', 'integer'],
							['node', 'integer'],
							['other', 'integer']
						] as [string, FieldType][],
						rows(add: (line: string) => void) {
							periodic.forEach(({ from, to }, k) => from.forEach((node, i) => add([k + 1, id(node), id(to[i]!)].join(between))));
						}
					}
				]
			: [])
	];
	tables.push(
		...checkTables(made, grid.coordinates.length === 2, {
			id,
			number,
			word,
			between,
			scale: grid.units === whole.units ? 1 : metres(whole.units)
		})
	);
	const encoder = new TextEncoder();
	const parts = tables.map(({ name, fields, rows }): Part => {
		const sink = new TextSink();
		if (options.header === 'yes') sink.add(`${fields.map(([field]) => field).join(between)}\n`);
		rows((line) => sink.add(`${line}\n`));
		return { name: `${name}.csv`, bytes: sink.bytes() };
	});
	return [...parts, { name: 'datapackage.json', bytes: encoder.encode(`${JSON.stringify(packageOf(), null, '\t')}\n`) }];

	/** The description of the tables, as the standard has it. */
	function packageOf(): object {
		return {
			profile: 'tabular-data-package',
			name: slug(grid.title),
			title: grid.title === '' ? 'mesh' : grid.title,
			resources: tables.map(({ name, about, fields, key }) => ({
				profile: 'tabular-data-resource',
				name,
				path: `${name}.csv`,
				description: about,
				encoding: 'utf-8',
				format: 'csv',
				mediatype: 'text/csv',
				dialect: {
					delimiter: between,
					header: options.header === 'yes',
					lineTerminator: '\n',
					quoteChar: '"',
					doubleQuote: true
				},
				schema: {
					fields: fields.map(([field, type, description]) => ({
						name: field,
						type,
						...(type === 'number' && decimal === ',' ? { decimalChar: ',', bareNumber: true } : {}),
						...(description ? { description } : {})
					})),
					missingValues: [''],
					...(key ? { primaryKey: key } : {})
				}
			}))
		};
	}
}

/** What a parameter is: `length`, `angle`, `number`, or a product of powers, like `length^2`. */
function kindOf(dimension: Dimension): string {
	const powers = Object.entries(dimension ?? {}).filter(([, power]) => power !== 0);
	return powers.length === 0 ? 'number' : powers.map(([name, power]) => (power === 1 ? name : `${name}^${power}`)).join(' ');
}

/** A name as the standard wants it: lower case letters, digits, `.`, `_` and `-`. */
const slug = (title: string): string =>
	title
		.toLowerCase()
		.replace(/[^a-z0-9._-]+/g, '-')
		.replace(/^-+|-+$/g, '') || 'mesh';

/** How the cells of a table are written. */
interface Cells {
	id: (node: number) => number;
	number: (value: number) => string;
	word: (name: string) => string;
	between: string;
	/** From recipe units to those of the delivery. */
	scale: number;
}

/** Where the count of a piece comes from, in a word. */
const sourceWords = { pinned: 'typed', carried: 'carried', derived: 'derived' } as const;

/** What a check of the mesh needs besides it: pieces and their divisions, which edge lies on which, and what was asked. */
function checkTables(
	{ arrangement, divisions, mesh, promises, recipe }: Result,
	isPlane: boolean,
	{ id, number, word, between, scale }: Cells
): Table[] {
	const names = pieceNames(arrangement);
	const place = placesIn(recipe.text);
	const pieces: Table = {
		name: 'pieces',
		about:
			'pieces of the drawing and their divisions: lengths of the first and the last cell along the piece, the largest ratio of neighbours, and where the count comes from',
		fields: [
			['piece', 'string'],
			['length', 'number'],
			['divisions', 'integer'],
			['first', 'number'],
			['last', 'number'],
			['ratio', 'number'],
			['source', 'string']
		],
		key: ['piece'],
		rows(add) {
			for (const [p, { count, source, figures }] of divisions.pieces.entries()) {
				const lengths = [arrangement.pieces[p]!.length * scale, figures.first * scale, figures.last * scale].map(number);
				add(
					[word(names[p]!), lengths[0], count, lengths[1], lengths[2], number(figures.ratio), sourceWords[source]].join(between)
				);
			}
		}
	};
	const edges: Table = {
		name: 'edges_on_pieces',
		about:
			'edges on pieces: what is meshed lies to the left from the first node to the second; on which side of the piece that is, and the stretch of the piece that the edge covers, as shares of its length',
		fields: [
			['node_1', 'integer'],
			['node_2', 'integer'],
			['piece', 'string'],
			['side', 'string'],
			['from', 'number'],
			['to', 'number']
		],
		rows(add) {
			const { edges: nodes, edgePiece, edgeSide, edgeStretch } = mesh;
			for (let e = 0; e < edgePiece.length; e++)
				add(
					[
						...[id(nodes[2 * e]!), id(nodes[2 * e + 1]!), word(names[edgePiece[e]!]!), edgeSide[e] === 0 ? 'left' : 'right'],
						...[number(edgeStretch[2 * e]!), number(edgeStretch[2 * e + 1]!)]
					].join(between)
				);
		}
	};
	const asked: Table = {
		name: 'as_asked',
		about: 'what the statements of the recipe ask, by their line, and what came, in recipe units',
		fields: [
			['line', 'integer'],
			['what', 'string'],
			['asked', 'number'],
			['came', 'number'],
			['kept', 'boolean']
		],
		rows(add) {
			for (const { line, what, asked: wanted, got, isKept } of promises)
				add([place(recipe.lines[line]!.from).line, word(what), number(wanted), number(got), isKept].join(between));
		}
	};
	return [pieces, ...(isPlane ? [edges] : []), asked];
}
