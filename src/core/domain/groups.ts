import { keysOf } from '../text/typed.ts';
import { addTo } from '../numeric/lists.ts';
import type { Report } from '../findings/report.ts';
import { partPoint } from '../geometry/parts.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { type BoundaryGroup, isBoundary, type MeshGroup, type NodeGroup, type RegionGroup } from '../mesh/mesh.ts';
import { groupColours } from '../recipe/language/boundary-kinds.ts';
import type { Model } from '../recipe/model/model.ts';
import { isA, stated } from '../recipe/language/statement.ts';
import { baffle } from '../recipe/statements/baffle.ts';
import { group } from '../recipe/statements/group.ts';
import { region } from '../recipe/statements/region.ts';
import type { CurveReference } from '../recipe/language/syntax.ts';
import { pieceNames, resolvePieces } from './references.ts';
import type { Region } from './regions.ts';

type Uncoloured = Omit<BoundaryGroup, 'colour'> | Omit<RegionGroup, 'colour'> | Omit<NodeGroup, 'colour'>;

/** Resolves the statements of groups and two-sided walls, in their order; a group without a colour takes the next of the set. */
export function resolveGroups(model: Model, arrangement: Arrangement, regions: readonly Region[], report: Report): MeshGroup[] {
	const palette = keysOf(groupColours);
	const names = stated(model, region).map((r) => r.name);
	const piecesOf = (pieces: readonly CurveReference[], pieceReport: Report) => {
		const found = resolvePieces(model, arrangement, pieces, pieceReport, regions).map((p) => p.piece);
		return [...new Set(found)].sort((a, b) => a - b);
	};
	const groups = stated(model, group).map(({ name, kind, colour, line, pieces = [], regions: ofRegions, points }) => {
		const groupReport = report.about(line);
		const { statement } = model.recipe.lines[line]!;
		for (const [k, member] of (ofRegions ?? []).entries())
			if (!names.includes(member) && !model.failed.has(member))
				groupReport.add(
					'unknown-region',
					{ name: member, names },
					{ within: isA(group, statement) ? statement.regions?.[k] : undefined }
				);
		const shared = { name, kind, line };
		const found: Uncoloured = points
			? { ...shared, members: 'nodes', points: points.map(({ at, source }) => ({ x: at.x, y: at.y, source })) }
			: ofRegions
				? {
						...shared,
						members: 'elements',
						regions: ofRegions.flatMap((member) => regions.flatMap((r, index) => (r.statement === member ? [index] : [])))
					}
				: { ...shared, members: 'edges', pieces: piecesOf(pieces, groupReport) };
		return { line, colour, made: [found] };
	});
	const walls = stated(model, baffle).map(({ name, kind, colour, line, pieces, sides }) => {
		const shared = { members: 'edges' as const, kind, line, baffle: name, pieces: piecesOf(pieces, report.about(line)) };
		const made: Uncoloured[] = sides
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
	const labelled = new Set(groups.filter(isBoundary).flatMap((g) => g.pieces));
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
	for (const group of groups.filter(isBoundary))
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
