import { mostSingle, type Report } from '../findings/report.ts';
import type { Point } from '../geometry/curve.ts';
import { faceAt } from '../geometry/faces.ts';
import { pointInFace, type Written, writtenPointInFace } from '../geometry/inside.ts';
import type { Arrangement, Walk } from '../geometry/pieces.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import type { Work } from '../numeric/work.ts';
import type { Model, WithLine } from '../recipe/model/model.ts';
import { isA, stated } from '../recipe/language/statement.ts';
import type { Word } from '../recipe/language/syntax.ts';
import { type Across, fill, type FillKind, type FillStatement } from '../recipe/statements/fill.ts';
import { region, type RegionStatement } from '../recipe/statements/region.ts';
import { globalSizes } from '../recipe/statements/size.ts';
import { resolvePieces } from './references.ts';

/** A named face with what it is to be filled with. */
export interface Region {
	/** The name of its statement; with a number, like `water[2]`, where curves cut it into several faces. */
	name: string;
	/** The name of its statement. */
	statement: string;
	face: number;
	/** Index of its statement. */
	line: number;
	fill: FillKind;
	/** Index of the fill statement that says so; −1 when none does. */
	fillLine: number;
	/** Element size: its own, or the recipe's; undefined when neither is given. */
	size?: number;
	/** Largest ratio of neighbouring sizes. */
	growth: number;
	corners?: Point[];
	across?: Across;
	seam?: [Point, Point];
	even?: boolean;
	/** Triangles may stand where quadrilaterals would be worse. */
	mostly?: boolean;
	sweeps?: number;
	/** The quadrilaterals are cut into triangles. */
	halved?: boolean;
	/** Its blocks are found by themselves. */
	blocks?: boolean;
}

/** The growth of sizes from fine to coarse where the recipe gives none. */
export const defaultGrowth = 1.2;

/** Finds the face of every region statement and its fill; reports those that match no face, or several. */
export function* findRegions(model: Model, arrangement: Arrangement, report: Report): Work<Region[]> {
	const regions: Region[] = [];
	const taken = new Map<number, string>();
	const claims = stated(model, region).map((statement) => ({
		statement,
		faces: statement.bounds
			? facesBoundedBy(model, arrangement, statement, report.about(statement.line))
			: faceAround(arrangement, statement, report.about(statement.line))
	}));
	// The innermost outline wins, in whatever order they stand: what lies within another has fewer faces than it.
	for (const { statement, faces } of [...claims].sort((a, b) => a.faces.length - b.faces.length)) {
		if (faces.length > 0 && faces.every((face) => taken.has(face)))
			report.about(statement.line).add('region-twice', { name: statement.name, other: taken.get(faces[0]!)! });
		for (const face of faces) if (!taken.has(face)) taken.set(face, statement.name);
	}
	for (const { statement, faces } of claims) {
		const own = faces.filter((face) => taken.get(face) === statement.name);
		own.forEach((face, k) => {
			const name = own.length === 1 ? statement.name : `${statement.name}[${k + 1}]`;
			regions.push({ name, statement: statement.name, face, line: statement.line, ...fillOf(model, statement.name) });
		});
	}
	checkFillNames(model, report);
	yield* reportUnnamed(model, arrangement, taken, report);
	return regions;
}

/** Names of the region statements that found no face, though they are to be filled. */
export function missingRegions(model: Model, regions: readonly Region[]): string[] {
	const found = new Set(regions.map((r) => r.statement));
	return stated(model, region)
		.map((r) => r.name)
		.filter((name) => !found.has(name) && fillOf(model, name).fill !== 'none');
}

function* reportUnnamed(model: Model, arrangement: Arrangement, taken: ReadonlyMap<number, string>, report: Report): Work<void> {
	const names = new Set(stated(model, region).map((r) => r.name));
	let number = 1;
	const next = (): string => {
		while (names.has(`region_${number}`)) number++;
		names.add(`region_${number}`);
		return `region_${number}`;
	};
	const pieces = (f: number) => arrangement.faces[f]!.outer.map((h) => h >> 1);
	/** The unnamed faces in which a place can be written, and the places. */
	const found: number[] = [];
	const places: Written[] = [];
	const { length } = arrangement.faces;
	for (let f = 0; f < length; f++) {
		if ((f & 0x3f) === 0x3f) yield f / length;
		if (taken.has(f)) continue;
		const place = writtenPointInFace(arrangement, f);
		if (!place) continue;
		found.push(f);
		places.push(place);
	}
	if (places.length > mostSingle) {
		const source = places.slice(0, 2000).map(({ text }) => `region ${next()} at ${text}`);
		const list = places.map(({ at }, k) => report.finding('unnamed-face', { at }, { at, pieces: pieces(found[k]!) }));
		list[0]!.mend = { label: 'Make each a region', edits: addStatement(model.recipe, source.join('\n')) };
		return report.addAll(list);
	}
	const name = next();
	for (const [k, { at, text }] of places.entries())
		report.add(
			'unnamed-face',
			{ at },
			{
				at,
				pieces: pieces(found[k]!),
				mend: addStatement(model.recipe, `region ${name} at ${text}`),
				otherMends: [{ label: 'It is a hole', edits: addStatement(model.recipe, `region ${name} at ${text}\nfill ${name} none`) }]
			}
		);
}

const short = (value: number) => Number(value.toPrecision(5));

function fillOf(
	model: Model,
	name: string
): Pick<
	Region,
	'fill' | 'fillLine' | 'size' | 'growth' | 'corners' | 'across' | 'seam' | 'even' | 'mostly' | 'sweeps' | 'halved' | 'blocks'
> {
	const statement: WithLine<FillStatement> | undefined = stated(model, fill)
		.filter((f) => f.regions.includes(name))
		.at(-1);
	const size = statement?.size ?? globalSizes(model).at(-1)?.size;
	return {
		fill: statement?.fill ?? 'none',
		fillLine: statement?.line ?? -1,
		growth:
			globalSizes(model)
				.filter((s) => s.growth !== undefined)
				.at(-1)?.growth ?? defaultGrowth,
		...(size === undefined ? {} : { size }),
		...(statement?.corners ? { corners: statement.corners } : {}),
		...(statement?.halved ? { halved: true } : {}),
		...(statement?.blocks ? { blocks: true } : {}),
		...(statement?.seam ? { seam: statement.seam } : {}),
		...(statement?.even ? { even: true } : {}),
		...(statement?.mostly ? { mostly: true } : {}),
		...(statement?.across ? { across: statement.across } : {}),
		...(statement?.sweeps === undefined ? {} : { sweeps: statement.sweeps })
	};
}

/** Where a fill names a region, in its statement. */
function wordOf({ recipe }: Model, line: number, k: number): Word | undefined {
	const { statement } = recipe.lines[line]!;
	return isA(fill, statement) ? statement.regions[k] : undefined;
}

function checkFillNames(model: Model, report: Report): void {
	const names = stated(model, region).map((r) => r.name);
	for (const { regions, line } of stated(model, fill))
		for (const [k, name] of regions.entries())
			if (!names.includes(name) && !model.failed.has(name))
				report.about(line).add('unknown-region', { name, names }, { within: wordOf(model, line, k) });
}

function faceAround(arrangement: Arrangement, { name, at }: RegionStatement, report: Report): number[] {
	const face = faceAt(arrangement, at!);
	if (face >= 0) return [face];
	const { x, y } = at!;
	report.add(
		'region-open',
		{ message: `no closed outline lies around (${x}, ${y}), so “${name}” is no region` },
		{ at: { x, y } }
	);
	return [];
}

/**
 * The face whose outer walk uses only the curves named, and that has a piece of each of them. Where other
 * curves cut that outline's inside into several faces, all of them: a region stays whole when it is cut.
 */
function facesBoundedBy(model: Model, arrangement: Arrangement, statement: RegionStatement, report: Report): number[] {
	const before = report.findings.length;
	const perReference = statement.bounds!.map((reference) =>
		resolvePieces(model, arrangement, [reference], report).map((p) => p.piece)
	);
	if (report.findings.length > before) return [];
	const allowed = new Set(perReference.flat());
	const complete = (pieces: ReadonlySet<number>) => perReference.every((list) => list.some((p) => pieces.has(p)));
	const candidates: number[][] = [];
	arrangement.faces.forEach((face, f) => {
		if (!face.outer.every((h) => allowed.has(h >> 1))) return;
		if (complete(new Set([...face.outer, ...face.inner.flat()].map((h) => h >> 1)))) candidates.push([f]);
	});
	if (candidates.length === 0)
		for (const faces of facesWithin(arrangement, allowed)) {
			const pieces = new Set(
				faces.flatMap((f) => [...arrangement.faces[f]!.outer, ...arrangement.faces[f]!.inner.flat()].map((h) => h >> 1))
			);
			if (complete(pieces)) candidates.push(faces);
		}
	if (candidates.length === 1) {
		const places = new Map(candidates[0]!.map((f) => [f, pointInFace(arrangement, f)]));
		return candidates[0]!.sort((f, g) => places.get(f)!.x - places.get(g)!.x || places.get(f)!.y - places.get(g)!.y);
	}
	const names = statement.bounds!.map((r) => r.name).join(', ');
	if (candidates.length > 1) {
		const at = pointInFace(arrangement, candidates[0]![0]!);
		report.add('region-ambiguous', { name: statement.name, curves: names, count: candidates.length }, { at });
		return [];
	}
	const end = looseEnd(arrangement, allowed);
	const where = end
		? `; the outline is open at (${short(end.x)}, ${short(end.y)})`
		: '; a curve on its outline is missing from the list, or one listed is not on it';
	report.add('region-open', { message: `${names} do not close around a region${where}` }, end ? { at: end } : {});
	return [];
}

/** Sets of faces that only pieces outside `outline` part from one another, and only pieces of it from all others. */
function facesWithin({ faces, sides }: Arrangement, outline: ReadonlySet<number>): number[][] {
	const component = new Int32Array(faces.length).fill(-1);
	const sets: number[][] = [];
	faces.forEach((_, first) => {
		if (component[first] !== -1) return;
		const set = [first];
		component[first] = first;
		let open = false;
		for (let k = 0; k < set.length; k++)
			for (const h of faces[set[k]!]!.outer) {
				if (outline.has(h >> 1)) continue;
				const other = sides[h ^ 1]!;
				// A hole is another thing; what lies beside it in the same outline is a part of this one.
				if (other < 0 || !faces[other]!.outer.includes(h ^ 1)) open = true;
				else if (component[other] === -1) {
					component[other] = first;
					set.push(other);
				}
			}
		if (!open) sets.push(set);
	});
	return sets.filter((set) => set.length > 1);
}

/** A junction at which only one of the pieces ends: where an outline of them is open. */
function looseEnd(arrangement: Arrangement, pieces: Set<number>): Point | undefined {
	const ends = new Map<number, number>();
	for (const p of pieces)
		for (const j of [arrangement.pieces[p]!.start, arrangement.pieces[p]!.end]) ends.set(j, (ends.get(j) ?? 0) + 1);
	for (const [j, count] of ends) if (count === 1) return { x: arrangement.x[j]!, y: arrangement.y[j]! };
	return undefined;
}

/** The walks around a region: its outline first, then its holes and loose pieces. */
export function walksOf(arrangement: Arrangement, region: Region): Walk[] {
	const face = arrangement.faces[region.face]!;
	return [face.outer, ...face.inner];
}
