import type { LayerFigures } from '../core/stages/layer-figures.ts';
import { groupFigures } from '../core/figures/group-figures.ts';
import type { Movement } from '../core/geometry/movement.ts';
import { quadCount, regionAreas, triangleCount } from '../core/mesh/mesh.ts';
import { irregularNodes } from '../core/quality/irregular.ts';
import type { PromiseCheck } from '../core/promises/check.ts';
import type { Result } from '../core/pipeline.ts';
import type { RegionWallFigures } from '../core/stages/wall-stage.ts';
import { type Finding, mendsOf } from '../core/text/finding.ts';
import { type DeliveredCounts, deliveredCounts } from './grid-for.ts';
import { placesIn } from '../core/recipe/language/parse.ts';

/** What `--json` prints, and what the API gives: the figures of a result. */
export interface Report {
	nodes: number;
	elements: number;
	triangles: number;
	quads: number;
	/** What is delivered where that is not the plane mesh itself: a solid, or elements of second order. */
	delivered: DeliveredCounts | null;
	regions: { name: string; fill: string; elements: number; area: number }[];
	groups: { name: string; kind: string; pieces: number; edges: number; nodes: number; owned: number; length: number }[];
	/** Periodic pairs: how many nodes are paired, and the movement that takes the first to the second. */
	periodic: { pairs: number; movement: Movement }[];
	/** Cells along walls with a first height: their heights over what is asked, the lean of their lines in degrees, the largest growth of cells. */
	walls: RegionWallFigures[];
	/** Layers by statement: heights of the cells at the wall, thickness, the share of wall length with all cells, the smallest angle in degrees. */
	layers: Omit<LayerFigures, 'line' | 'profiles'>[];
	/**
	 * What the statements ask, and what came: lengths in recipe units, each where it is missed most. `more` says at how many other
	 * places it is missed.
	 */
	promises: {
		statement: number;
		asks: string;
		what: string;
		asked: number;
		got: number;
		unit: string;
		kept: boolean;
		at: { x: number; y: number } | null;
		more: number;
	}[];
	/** Regions that ought to hold elements and do not. */
	unfilled: string[];
	/** Nodes inside, among quadrilaterals alone, at which other than four of them meet, and how many such nodes inside there are. */
	irregular: { nodes: number; inner: number };
	/** Blocks that regions found by themselves, and at which try. */
	blocks: { region: string; blocks: number; tries: number }[];
	quality: Record<string, { min: number; mean: number; max: number }>;
	timings: Record<string, number>;
	findings: {
		severity: string;
		code: string;
		message: string;
		at: { x: number; y: number } | null;
		/** What would settle it, in words. */
		mends: string[];
		statement: { line: number; column: number; text: string } | null;
	}[];
}

/** What is delivered, in words: `1 800 hexahedra, 2 094 nodes`. */
export const deliveredText = ({ as, nodes, elements }: DeliveredCounts): string =>
	`${as}: ${nodes.toLocaleString('en')} nodes, ${Object.entries(elements)
		.map(([shape, n]) => `${n.toLocaleString('en')} ${shapeTitles[shape] ?? shape}`)
		.join(', ')}`;

/** Elements of many, by their shape; those of second order as those of first. */
const shapeTitles: Record<string, string> = Object.fromEntries(
	Object.entries({
		triangle: 'triangles',
		quadrilateral: 'quadrilaterals',
		tetrahedron: 'tetrahedra',
		pyramid: 'pyramids',
		prism: 'prisms',
		hexahedron: 'hexahedra'
	}).flatMap(([shape, title]) => ['', 6, 8, 9, 10, 13, 15, 20].map((n) => [`${shape}${n}`, title]))
);

/**
 * The figures of a result, ready to be printed as JSON.
 *
 * @param more findings besides those of the run
 */
export function report(result: Result, more: readonly Finding[] = []): Report {
	const { mesh, regions, recipe } = result;
	// In the order of the text; what is about no statement comes last.
	const findings = [...result.findings, ...more].sort((a, b) => placeOf(a) - placeOf(b));
	const areas = regionAreas(mesh);
	const elements = new Array<number>(mesh.regions.length).fill(0);
	for (const r of mesh.triangleRegion) elements[r]!++;
	for (const r of mesh.quadRegion) elements[r]!++;
	const irregular = irregularNodes(mesh);
	const place = placesIn(recipe.text);
	return {
		nodes: mesh.x.length,
		elements: triangleCount(mesh) + quadCount(mesh),
		triangles: triangleCount(mesh),
		quads: quadCount(mesh),
		// A study that compares cases never looks at it, and a solid is large.
		get delivered() {
			return deliveredCounts(result) ?? null;
		},
		regions: regions.map(({ name, fill }, r) => ({ name, fill, elements: elements[r]!, area: areas[r]! })),
		groups: groupFigures(mesh).map(({ group, edges, nodes, owned, length }) => ({
			name: group.name,
			kind: group.members === 'elements' ? 'region' : group.kind,
			pieces: group.members === 'edges' ? group.pieces.length : 0,
			edges: edges.length,
			nodes,
			owned,
			length
		})),
		periodic: (mesh.periodic ?? []).map(({ from, movement }) => ({ pairs: from.length, movement })),
		walls: result.walls,
		layers: result.layerFigures.map(({ walls, cells, first, thickness, complete, angle, spread }) => ({
			...{ walls, cells, first, thickness, complete, angle },
			...(spread ? { spread } : {})
		})),
		promises: promiseRows(result.promises, (line) => place(recipe.lines[line]!.from).line),
		unfilled: result.unfilled,
		irregular: { nodes: irregular.nodes.length, inner: irregular.inner },
		blocks: result.blocks.map(({ region, count, tries }) => ({ region, blocks: count, tries })),
		quality: Object.fromEntries(
			Object.entries(result.quality.all()).map(([key, { min, mean, max }]) => [key, { min, mean, max }])
		),
		timings: result.timings,
		findings: findings.map((finding) => {
			const { severity, code, message, at, span } = finding;
			const line = span && statementAt(recipe.lines, span.from);
			return {
				severity,
				code,
				message,
				at: at ? { x: at.x, y: at.y } : null,
				mends: mendsOf(finding).map(({ label }) => label),
				statement: span ? { ...place(span.from), text: line ? recipe.text.slice(line.from, line.to) : '' } : null
			};
		})
	};
}

const placeOf = ({ span }: Finding) => span?.from ?? Number.MAX_SAFE_INTEGER;

/** Promises as rows: the statement by its line in the text. */
export const promiseRows = (promises: readonly PromiseCheck[], lineOf: (statement: number) => number): Report['promises'] =>
	promises.map(({ line, asks, what, asked, got, unit, isKept, at, more = 0 }) => ({
		...{ statement: lineOf(line), asks, what, asked, got, unit, kept: isKept },
		at: at ? { x: at.x, y: at.y } : null,
		more
	}));

/** The statement, of those in their order, in which an offset lies. */
function statementAt<S extends { from: number; to: number }>(statements: readonly S[], offset: number): S | undefined {
	let [low, high] = [0, statements.length];
	while (high - low > 1) {
		const middle = (low + high) >> 1;
		if (statements[middle]!.from <= offset) low = middle;
		else high = middle;
	}
	const statement = statements[low];
	return statement && statement.from <= offset && offset <= statement.to ? statement : undefined;
}
