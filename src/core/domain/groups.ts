import { addTo } from '../numeric/lists.ts';
import type { Report } from '../findings/report.ts';
import { partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import type { MeshGroup } from '../mesh/mesh.ts';
import { type GroupColour, groupColours } from '../recipe/language/boundary-kinds.ts';
import type { Model } from '../recipe/model/model.ts';
import { stated } from '../recipe/language/statement.ts';
import { baffle } from '../recipe/statements/baffle.ts';
import { group } from '../recipe/statements/group.ts';
import { region } from '../recipe/statements/region.ts';
import type { CurveReference } from '../recipe/language/syntax.ts';
import { pieceNames, resolvePieces } from './references.ts';
import type { Region } from './regions.ts';

/** Resolves the statements of groups and two-sided walls, in their order; a group without a colour takes the next of the set. */
export function resolveGroups(model: Model, arrangement: Arrangement, regions: readonly Region[], report: Report): MeshGroup[] {
	const palette = Object.keys(groupColours) as GroupColour[];
	const names = stated(model, region).map((r) => r.name);
	const piecesOf = (pieces: readonly CurveReference[], pieceReport: Report) => {
		const found = resolvePieces(model, arrangement, pieces, pieceReport, regions).map((p) => p.piece);
		return [...new Set(found)].sort((a, b) => a - b);
	};
	const groups = stated(model, group).map(({ name, kind, colour, line, pieces = [], regions: members = [], points }) => {
		const groupReport = report.about(line);
		for (const member of members) if (!names.includes(member)) groupReport.add('unknown-region', { name: member, names });
		const found: Omit<MeshGroup, 'colour'> = {
			name,
			kind,
			line,
			pieces: piecesOf(pieces, groupReport),
			regions: members.flatMap((member) => regions.flatMap((r, index) => (r.statement === member ? [index] : []))),
			...(points ? { points: points.map(({ at, source }) => ({ x: at.x, y: at.y, source })) } : {})
		};
		return { line, colour, made: [found] };
	});
	const walls = stated(model, baffle).map(({ name, kind, colour, line, pieces, sides }) => {
		const shared = { kind, line, baffle: name, pieces: piecesOf(pieces, report.about(line)), regions: [] };
		const made: Omit<MeshGroup, 'colour'>[] = sides
			? sides.map((side, k) => ({ ...shared, name: side, side: k as 0 | 1 }))
			: [{ ...shared, name }];
		return { line, colour, made };
	});
	return [...groups, ...walls]
		.sort((a, b) => a.line - b.line)
		.flatMap(({ colour, made }) => made.map((group) => ({ group, colour })))
		.map(({ group, colour }, k): MeshGroup => ({ ...group, colour: colour ?? palette[k % palette.length]! }));
}

/** Pieces with a filled region on one side only. */
function outerPieces(arrangement: Arrangement, regions: readonly Region[]): number[] {
	const filled = new Set(regions.filter((r) => r.fill !== 'none').map((r) => r.face));
	const list: number[] = [];
	arrangement.pieces.forEach((_, p) => {
		if (filled.has(arrangement.sides[2 * p]!) !== filled.has(arrangement.sides[2 * p + 1]!)) list.push(p);
	});
	return list;
}

/** Outer pieces that are in no group. */
export function unlabelledPieces(arrangement: Arrangement, regions: readonly Region[], groups: readonly MeshGroup[]): number[] {
	const labelled = new Set(groups.flatMap((g) => g.pieces));
	return outerPieces(arrangement, regions).filter((p) => !labelled.has(p));
}

/** Reports outer pieces in no group, and pieces in two. */
export function checkGroups(
	arrangement: Arrangement,
	regions: readonly Region[],
	groups: readonly MeshGroup[],
	report: Report
): void {
	const names = pieceNames(arrangement);
	const place = (p: number) => partPoint(arrangement.pieces[p]!, 0.5, arrangement.pieces[p]!.length);
	const groupsOf = new Map<number, string[]>();
	for (const group of groups)
		for (const p of group.pieces)
			for (const side of group.side === undefined ? [0, 1] : [group.side]) addTo(groupsOf, 2 * p + side, group.name);
	for (const p of unlabelledPieces(arrangement, regions, groups))
		report.add('unlabelled', { piece: names[p]! }, { at: place(p), pieces: [p] });
	const found = new Set<number>();
	for (const [half, list] of groupsOf) {
		const p = half >> 1;
		if (list.length < 2 || found.has(p)) continue;
		found.add(p);
		report.add('two-groups', { piece: names[p]!, groups: list }, { at: place(p), pieces: [p] });
	}
}
