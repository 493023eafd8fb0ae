import { hypot } from '../numeric/elementary.ts';
import { groupEdges, isBoundary } from '../mesh/mesh.ts';
import { moved } from '../geometry/movement.ts';
import { faceAt } from '../geometry/faces.ts';
import { pieceNames } from '../domain/references.ts';
import { placeText } from '../text/sentences.ts';
import { cellsOf, middleOf } from './along.ts';
import type { Measured, PromiseMeasure } from './measure.ts';

const labelled = [
	'unknown-curve',
	'unknown-region',
	'nothing-described',
	'group-empty',
	'group-inside',
	'wall-shut',
	'wall-outside'
] as const;

export const edges: PromiseMeasure<'edges'> = {
	unit: 'count',
	saidBy: labelled,
	measure({ promise: { pieces, group: name } }, view) {
		const group = view.mesh.groups.find((g) => isBoundary(g) && g.name === name);
		const mine = new Set(view.piecesOf(pieces));
		let asked = 0;
		for (const p of mine) asked += view.edgesOn(p).length;
		if (asked === 0) return [];
		const held = group && isBoundary(group) ? groupEdges(view.mesh, group) : [];
		const right = Array.from(held).filter((e) => mine.has(view.mesh.edgePiece[e]!)).length;
		return [{ what: `edges of group “${name}”`, asked, got: held.length, isKept: right === asked && held.length === asked }];
	}
};

export const elements: PromiseMeasure<'elements'> = {
	unit: 'count',
	saidBy: labelled,
	measure({ promise: { regions, group: name } }, view) {
		const group = view.mesh.groups.find((g) => g.members === 'elements' && g.name === name);
		let [asked, got] = [0, 0];
		for (const [r, region] of view.mesh.regions.entries()) {
			if (!regions.includes(view.statementOf(r))) continue;
			const { triangles, quads } = view.elementsOf(r);
			const isHeld =
				group?.members === 'elements' &&
				(group.regions.includes(r) || group.regions.some((g) => view.regions[g]?.name === region));
			asked += triangles + quads;
			if (isHeld) got += triangles + quads;
		}
		return asked === 0 ? [] : [{ what: `elements of group “${name}”`, asked, got, isKept: got === asked }];
	}
};

export const node: PromiseMeasure<'node'> = {
	unit: 'length',
	saidBy: ['lost-node', 'point-no-node'],
	measure({ promise: { at } }, view) {
		const face = faceAt(view.arrangement, at);
		// Nothing is meshed around it, or it lies on a curve, which then has a junction there.
		if (face >= 0 && !view.regions.some((r) => r.face === face && r.fill !== 'none')) return [];
		const { x, y } = view.mesh;
		if (x.length === 0) return [];
		let least = Infinity;
		for (let n = 0; n < x.length; n++) least = Math.min(least, (x[n]! - at.x) ** 2 + (y[n]! - at.y) ** 2);
		const got = Math.sqrt(least);
		const isKept = got <= 8 * view.arrangement.tolerance;
		return [{ what: `distance of the nearest node from ${placeText(at)}`, asked: 0, got: isKept ? 0 : got, isKept, at }];
	}
};

export const twoSides: PromiseMeasure<'two sides'> = {
	unit: 'count',
	saidBy: labelled,
	measure({ promise }, view) {
		const names = pieceNames(view.arrangement);
		return view.piecesOf(promise.pieces).flatMap((p): Measured[] => {
			const all = view.edgesOn(p);
			const asked = all.filter((e) => view.mesh.edgeSide[e] === 0).length;
			if (all.length === 0) return [];
			const [cells] = cellsOf(view, [p]);
			return [
				{
					what: `edges on the other side of “${names[p]!}”`,
					asked,
					got: all.length - asked,
					isKept: 2 * asked === all.length,
					at: middleOf(view, cells!),
					pieces: [p]
				}
			];
		});
	}
};

export const periodic: PromiseMeasure<'periodic'> = {
	unit: 'count',
	saidBy: ['periodic', 'periodic-count', 'unknown-curve', 'count-conflict'],
	measure({ promise }, view) {
		const nodesOn = (list: readonly number[]) => new Set(list.flatMap((p) => [...(view.nodesAlong(p)?.nodes ?? [])])).size;
		const [from, to] = [view.piecesOf(promise.from), view.piecesOf(promise.to)];
		const [asked, other] = [nodesOn(from), nodesOn(to)];
		if (asked === 0 || other === 0) return [];
		const { x, y } = view.mesh;
		const near = 1e-9 * view.arrangement.diagonal;
		let got = 0;
		let at: Measured['at'];
		for (const { movement, from: here, to: there } of view.mesh.periodic ?? [])
			for (let k = 0; k < here.length; k++) {
				const p = moved(movement, { x: x[here[k]!]!, y: y[here[k]!]! });
				if (hypot(p.x - x[there[k]!]!, p.y - y[there[k]!]!) <= near) got++;
				else at = { x: x[there[k]!]!, y: y[there[k]!]! };
			}
		const names = pieceNames(view.arrangement);
		return [
			{
				what: `paired nodes of “${names[from[0]!]!}” and “${names[to[0]!]!}”`,
				asked: Math.max(asked, other),
				got: Math.min(got, asked),
				isKept: asked === other && got >= asked && at === undefined,
				...(at ? { at } : {}),
				pieces: [...from, ...to]
			}
		];
	}
};

export const shape: PromiseMeasure<'shape'> = {
	unit: 'count',
	saidBy: ['triangles-left', 'not-quads'],
	measure({ promise: { region, shape: wanted } }, view) {
		let [asked, got] = [0, 0];
		let at: Measured['at'];
		for (let r = 0; r < view.mesh.regions.length; r++) {
			if (view.statementOf(r) !== region) continue;
			const { triangles, quads, firstTriangle, firstQuad } = view.elementsOf(r);
			asked += triangles + quads;
			got += wanted === 'triangles' ? triangles : quads;
			const other = wanted === 'triangles' ? firstQuad : firstTriangle;
			if (other >= 0) at ??= view.middleOf(other);
		}
		return asked === 0 ? [] : [{ what: `${wanted} of “${region}”`, asked, got, isKept: asked === got, ...(at ? { at } : {}) }];
	}
};
