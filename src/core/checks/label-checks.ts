import type { Domain } from '../domain/domain.ts';
import { pieceNames } from '../domain/references.ts';
import { partPoint } from '../geometry/parts.ts';
import { type BoundaryGroup, groupEdges, isBoundary, type Mesh, type NodeGroup } from '../mesh/mesh.ts';
import { nodesAt, placeTolerance, sharedNodes } from '../mesh/node-sets.ts';
import { hypot } from '../numeric/elementary.ts';
import { addStatement } from '../recipe/edits/edits.ts';
import type { Report } from '../findings/report.ts';

/** A labelled mesh, and what is reported about its labels. */
interface LabelCheck {
	domain: Domain;
	mesh: Mesh;
	report: Report;
}

/** What a solver would not see, or would see otherwise than is meant: each with its place, and a mend where there is one. */
export function checkLabels(check: LabelCheck): void {
	if (check.mesh.triangles.length + check.mesh.quads.length === 0) return;
	for (const group of check.mesh.groups) {
		if (group.members === 'nodes') checkPoints(group, check);
		else if (isBoundary(group)) checkBoundary(group, check);
	}
	checkMaterials(check);
	checkOwners(check);
}

function checkBoundary(group: BoundaryGroup, { domain: { model, arrangement, regions }, mesh, report }: LabelCheck): void {
	const groupReport = report.about(group.line);
	const { sides, pieces } = arrangement;
	const edges = groupEdges(mesh, group);
	if (edges.length === 0 && group.pieces.length > 0) {
		groupReport.add('group-empty', { group: group.name });
		return;
	}
	const filled = new Set(regions.filter((r) => r.fill !== 'none').map((r) => r.face));
	const middle = (p: number) => partPoint(pieces[p]!, 0.5, pieces[p]!.length);
	const isInside = (p: number) => filled.has(sides[2 * p]!) && filled.has(sides[2 * p + 1]!);
	const names = pieceNames(arrangement);
	if (group.baffle !== undefined) {
		const both = new Set([...edges].map((e) => `${mesh.edges[2 * e]!} ${mesh.edges[2 * e + 1]!}`));
		const shut =
			group.side === undefined ? [...edges].find((e) => both.has(`${mesh.edges[2 * e + 1]!} ${mesh.edges[2 * e]!}`)) : undefined;
		if (shut !== undefined) {
			const p = mesh.edgePiece[shut]!;
			groupReport.add('wall-shut', { piece: names[p]!, wall: group.baffle }, { at: middle(p), pieces: [p] });
		}
		const bare = group.pieces.find((p) => !isInside(p));
		if (bare !== undefined && group.side !== 1)
			groupReport.add('wall-outside', { piece: names[bare]!, wall: group.baffle }, { at: middle(bare), pieces: [bare] });
	} else {
		// Between two regions it may be an interface; inside one nothing parts the elements.
		const inside = group.pieces.filter((p) => isInside(p) && sides[2 * p] === sides[2 * p + 1]);
		if (inside.length > 0) {
			const { from } = model.recipe.lines[group.line]!;
			const all = inside.length === group.pieces.length;
			groupReport.add(
				'group-inside',
				{ group: group.name, piece: names[inside[0]!]!, more: inside.length - 1 },
				{
					at: middle(inside[0]!),
					pieces: inside,
					...(all ? { mend: [{ from, to: from + 'group'.length, insert: 'baffle' }] } : {})
				}
			);
		}
	}
	if (group.kind === 'axis') checkAxisKind(group, edges, { mesh, model, groupReport });
	if (group.kind === 'symmetry') checkStraight(group, edges, mesh, groupReport);
}

function checkAxisKind(
	group: BoundaryGroup,
	edges: Uint32Array,
	{ mesh, model: { frame }, groupReport }: { mesh: Mesh; model: Domain['model']; groupReport: Report }
): void {
	if (frame.kind !== 'axisymmetric') {
		groupReport.add('axis-planar', { group: group.name });
		return;
	}
	const away = frame.axis === 'x' ? mesh.y : mesh.x;
	const tolerance = placeTolerance(mesh);
	for (const e of edges)
		for (const node of [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!]) {
			if (Math.abs(away[node]!) <= tolerance) continue;
			const at = { x: mesh.x[node]!, y: mesh.y[node]! };
			groupReport.add('axis-off', { group: group.name, at, axis: frame.axis }, { at });
			return;
		}
}

/** A plane of symmetry is a plane: its edges lie on one straight line. */
function checkStraight(group: BoundaryGroup, edges: Uint32Array, mesh: Mesh, groupReport: Report): void {
	const { x, y } = mesh;
	if (edges.length === 0) return;
	const [a, b] = [mesh.edges[2 * edges[0]!]!, mesh.edges[2 * edges[0]! + 1]!];
	const [dx, dy] = [x[b]! - x[a]!, y[b]! - y[a]!];
	const length = hypot(dx, dy);
	for (const e of edges)
		for (const node of [mesh.edges[2 * e]!, mesh.edges[2 * e + 1]!]) {
			const [px, py] = [x[node]! - x[a]!, y[node]! - y[a]!];
			const off = Math.abs(dx * py - dy * px) / length;
			// What is straight but for rounding may be off by the slope of a short first edge.
			if (off <= 1e-6 * Math.max(hypot(px, py), length)) continue;
			const at = { x: x[node]!, y: y[node]! };
			groupReport.add('symmetry-bent', { group: group.name, at }, { at });
			return;
		}
}

function checkPoints(group: NodeGroup, { domain: { model }, mesh, report }: LabelCheck): void {
	const tolerance = placeTolerance(mesh);
	for (const { source, ...at } of group.points) {
		if (nodesAt(mesh, at, tolerance).length > 0) continue;
		report
			.about(group.line)
			.add('point-no-node', { group: group.name, source }, { at, mend: addStatement(model.recipe, `node ${source}`) });
	}
}

/** Where materials are given at all, every region with elements has one. */
function checkMaterials({ domain: { regions }, mesh, report }: LabelCheck): void {
	const materials = mesh.groups.flatMap((g) => (g.members === 'elements' ? [g] : []));
	if (materials.length === 0) return;
	const labelled = new Set(materials.flatMap((g) => g.regions));
	regions.forEach((region, r) => {
		if (region.fill === 'none' || labelled.has(r)) return;
		report.about(region.line).add('no-material', { region: region.name, statement: region.statement });
	});
}

function checkOwners({ mesh, report }: LabelCheck): void {
	const owners = mesh.owners ?? [];
	if (owners.length === 0) return;
	const tolerance = placeTolerance(mesh);
	const shared = sharedNodes(mesh);
	const names = mesh.groups.filter((g) => g.members !== 'elements').map((g) => g.name);
	for (const { at, group, line } of owners) {
		const lineReport = report.about(line);
		if (!names.includes(group)) {
			lineReport.add('unknown-group', { name: group, names }, { at });
			continue;
		}
		const nodes = nodesAt(mesh, at, tolerance);
		const here = shared.filter(({ node }) => nodes.includes(node));
		if (here.some(({ groups }) => groups.some((g) => mesh.groups[g]!.name === group))) continue;
		const meeting = [...new Set(here.flatMap(({ groups }) => groups.map((g) => mesh.groups[g]!.name)))];
		lineReport.add('owner-nowhere', { group, at, meeting }, { at });
	}
}
