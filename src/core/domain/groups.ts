import type { Finding } from '../text/finding.ts';
import type { Model } from '../recipe/model.ts';
import { didYouMean } from '../text/nearest.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { partPoint } from '../geometry/parts.ts';
import { pieceNames, resolvePieces } from './references.ts';
import type { Region } from './regions.ts';
import { groupColours, type GroupColour } from '../recipe/boundary-kinds.ts';
import type { MeshGroup } from '../mesh/mesh.ts';

/** Resolves the `group` statements; a group without a colour takes the next of the set. */
export function resolveGroups(
	model: Model,
	arrangement: Arrangement,
	regions: readonly Region[],
	findings: Finding[]
): MeshGroup[] {
	const palette = Object.keys(groupColours) as GroupColour[];
	const names = model.regions.map((r) => r.name);
	return model.groups.map((group, k) => {
		const pieces = resolvePieces(model, arrangement, group.line, group.pieces ?? [], findings).map((p) => p.piece);
		const members: number[] = [];
		for (const name of group.regions ?? []) {
			const own = regions.flatMap((r, index) => (r.statement === name ? [index] : []));
			if (own.length > 0) members.push(...own);
			else if (!names.includes(name)) {
				const { from, to } = model.recipe.lines[group.line]!;
				findings.push({
					severity: 'error',
					code: 'unknown-region',
					message: `no region is named \`${name}\`${didYouMean(name, names)}`,
					span: { from, to }
				});
			}
		}
		return {
			name: group.name,
			kind: group.kind,
			colour: group.colour ?? palette[k % palette.length]!,
			pieces: [...new Set(pieces)].sort((a, b) => a - b),
			regions: members
		};
	});
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
	findings: Finding[]
): void {
	const names = pieceNames(arrangement);
	const place = (p: number) => partPoint(arrangement.pieces[p]!, 0.5, arrangement.pieces[p]!.length);
	const groupsOf = new Map<number, string[]>();
	for (const group of groups) for (const p of group.pieces) groupsOf.set(p, [...(groupsOf.get(p) ?? []), group.name]);
	for (const p of unlabelledPieces(arrangement, regions, groups))
		findings.push({
			severity: 'warning',
			code: 'unlabelled',
			message: `the boundary piece \`${names[p]}\` is in no group, so a solver gets no condition there`,
			at: place(p),
			pieces: [p]
		});
	for (const [p, list] of groupsOf)
		if (list.length > 1)
			findings.push({
				severity: 'warning',
				code: 'two-groups',
				message: `the piece \`${names[p]}\` is in the groups ${list.map((n) => `\`${n}\``).join(' and ')}; an edge belongs to one`,
				at: place(p),
				pieces: [p]
			});
}
