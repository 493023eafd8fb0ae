import type { Finding } from '../findings/finding.ts';
import { addStatement } from '../recipe/edits.ts';
import type { FillStatement, Model, RegionStatement } from '../recipe/model.ts';
import { didYouMean } from '../recipe/nearest.ts';
import type { FillKind } from '../recipe/syntax.ts';
import { type Arrangement, type Face } from './arrangement.ts';
import { faceAt, pointInFace } from './faces.ts';
import type { Point } from './curve.ts';
import { resolvePieces } from './references.ts';

/** A named face with what it is to be filled with. */
export interface Region {
	name: string;
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
}

/** The growth of sizes from fine to coarse where the recipe gives none. */
export const defaultGrowth = 1.2;

/** Finds the face of every region statement and its fill; reports those that match no face, or several. */
export function findRegions(model: Model, arrangement: Arrangement, findings: Finding[]): Region[] {
	const regions: Region[] = [];
	const taken = new Map<number, string>();
	for (const statement of model.regions) {
		const face = statement.bounds
			? faceBoundedBy(model, arrangement, statement, findings)
			: faceAround(model, arrangement, statement, findings);
		if (face === undefined) continue;
		const other = taken.get(face);
		if (other !== undefined) {
			report(
				model,
				statement.line,
				findings,
				'region-twice',
				`\`${statement.name}\` is the same part of the domain as region \`${other}\``
			);
			continue;
		}
		taken.set(face, statement.name);
		regions.push({ name: statement.name, face, line: statement.line, ...fillOf(model, statement.name) });
	}
	checkFillNames(model, findings);
	arrangement.faces.forEach((face, f) => {
		if (!taken.has(f)) findings.push(unnamedFace(model, arrangement, face, f));
	});
	return regions;
}

function unnamedFace(model: Model, arrangement: Arrangement, face: Face, f: number): Finding {
	const at = pointInFace(arrangement, f);
	let number = 1;
	while (model.regions.some((r) => r.name === `region_${number}`)) number++;
	return {
		severity: 'note',
		code: 'unnamed-face',
		message: `a closed outline around (${short(at.x)}, ${short(at.y)}) belongs to no region, so it gets no mesh`,
		at,
		pieces: face.outer.map((h) => h >> 1),
		mend: {
			label: 'Make it a region',
			edits: addStatement(model.recipe, `region region_${number} at (${short(at.x)}, ${short(at.y)})`)
		}
	};
}

const short = (value: number) => Number(value.toPrecision(5));

function fillOf(model: Model, name: string): Pick<Region, 'fill' | 'fillLine' | 'size' | 'growth' | 'corners'> {
	const statement: FillStatement | undefined = model.fills.filter((f) => f.regions.includes(name)).at(-1);
	const size = statement?.size ?? model.sizes.at(-1)?.size;
	return {
		fill: statement?.fill ?? 'none',
		fillLine: statement?.line ?? -1,
		growth: model.sizes.filter((s) => s.growth !== undefined).at(-1)?.growth ?? defaultGrowth,
		...(size === undefined ? {} : { size }),
		...(statement?.corners ? { corners: statement.corners } : {})
	};
}

function checkFillNames(model: Model, findings: Finding[]): void {
	const names = model.regions.map((r) => r.name);
	for (const fill of model.fills)
		for (const name of fill.regions)
			if (!names.includes(name))
				report(model, fill.line, findings, 'unknown-region', `no region is named \`${name}\`${didYouMean(name, names)}`);
}

function faceAround(model: Model, arrangement: Arrangement, statement: RegionStatement, findings: Finding[]): number | undefined {
	const face = faceAt(arrangement, statement.at!);
	if (face >= 0) return face;
	const { x, y } = statement.at!;
	report(
		model,
		statement.line,
		findings,
		'region-open',
		`no closed outline lies around (${x}, ${y}), so \`${statement.name}\` is no region`,
		statement.at
	);
	return undefined;
}

/** The face whose outer walk uses only the curves named, and that has a piece of each of them. */
function faceBoundedBy(
	model: Model,
	arrangement: Arrangement,
	statement: RegionStatement,
	findings: Finding[]
): number | undefined {
	const before = findings.length;
	const perReference = statement.bounds!.map((reference) =>
		resolvePieces(model, arrangement, statement.line, [reference], findings).map((p) => p.piece)
	);
	if (findings.length > before) return undefined;
	const allowed = new Set(perReference.flat());
	const candidates: number[] = [];
	arrangement.faces.forEach((face, f) => {
		if (!face.outer.every((h) => allowed.has(h >> 1))) return;
		const pieces = new Set([...face.outer, ...face.inner.flat()].map((h) => h >> 1));
		if (perReference.every((list) => list.some((p) => pieces.has(p)))) candidates.push(f);
	});
	if (candidates.length === 1) return candidates[0];
	const names = statement.bounds!.map((r) => r.name).join(', ');
	if (candidates.length > 1) {
		const at = pointInFace(arrangement, candidates[0]!);
		report(
			model,
			statement.line,
			findings,
			'region-ambiguous',
			`${names} bound ${candidates.length} separate faces; say which with \`region ${statement.name} at (x, y)\``,
			at
		);
		return undefined;
	}
	const end = looseEnd(arrangement, allowed);
	const where = end
		? `; the outline is open at (${short(end.x)}, ${short(end.y)})`
		: '; a curve on its outline is missing from the list, or one listed is not on it';
	report(model, statement.line, findings, 'region-open', `${names} do not close around a region${where}`, end);
	return undefined;
}

/** A junction at which only one of the pieces ends: where an outline of them is open. */
function looseEnd(arrangement: Arrangement, pieces: Set<number>): Point | undefined {
	const ends = new Map<number, number>();
	for (const p of pieces)
		for (const j of [arrangement.pieces[p]!.start, arrangement.pieces[p]!.end]) ends.set(j, (ends.get(j) ?? 0) + 1);
	for (const [j, count] of ends) if (count === 1) return { x: arrangement.x[j]!, y: arrangement.y[j]! };
	return undefined;
}

function report(model: Model, line: number, findings: Finding[], code: string, message: string, at?: Point): void {
	const { from, to } = model.recipe.lines[line]!;
	findings.push({ severity: 'error', code, message, span: { from, to }, ...(at ? { at } : {}) });
}
