import type { Domain } from '../domain/domain.ts';
import type { Shape } from '../domain/lasting.ts';
import { findWalls } from '../domain/walls.ts';
import { findPeriodic } from '../domain/periodic.ts';
import { findRegions } from '../domain/regions.ts';
import { checkShape } from '../checks/shape-checks.ts';
import { arranging } from '../geometry/arrangement.ts';
import type { Curve } from '../geometry/curve.ts';
import type { Arrangement } from '../geometry/pieces.ts';
import { log } from '../numeric/elementary.ts';
import { sameNumbers } from '../numeric/same.ts';
import { part, type Work } from '../numeric/work.ts';
import type { Model } from '../recipe/model/model.ts';
import type { Report } from '../findings/report.ts';

/** From a recipe's curves to its domain: pieces, faces, named regions. The plane is cut up again only when a curve or node changes. */
export class ShapeStage {
	private last: { arrangement: Arrangement; nodeKey: string } | undefined;

	*run(model: Model, report: Report): Work<Domain> {
		const { arrangement } = yield* part(this.shape(model), 0, 0.7);
		yield 0.7;
		const regions = yield* part(findRegions(model, arrangement, report), 0.7, 0.8);
		yield 0.8;
		checkShape(model, arrangement, regions, report);
		yield 0.9;
		const layers = findWalls(model, arrangement, regions, report);
		const periodic = findPeriodic(model, arrangement, regions, report);
		return { model, arrangement, regions, layers, periodic, fallbackSize: roundSize(arrangement.diagonal / 40) };
	}

	/** The drawing alone. */
	*shape(model: Model): Work<Shape> {
		const { curves, nodes } = model;
		const nodeKey = nodes.map((p) => `${p.x} ${p.y}`).join(',');
		const previous = this.last?.arrangement;
		const isSame = previous?.curves.length === curves.length && curves.every((c, i) => sameCurve(c, previous.curves[i]!));
		if (!previous || !isSame || nodeKey !== this.last!.nodeKey) {
			// What has not changed stays the same object, so that what was made of it need not be made again.
			const before = new Map(previous?.curves.map((curve) => [curve.name, curve]));
			const lasting = curves.map((curve) => {
				const old = before.get(curve.name);
				return old && sameCurve(curve, old) ? old : curve;
			});
			this.last = { arrangement: yield* arranging(lasting, nodes, previous), nodeKey };
		}
		return { model, arrangement: this.last!.arrangement };
	}
}

function sameCurve(a: Curve, b: Curve): boolean {
	if (a === b) return true;
	return (
		a.name === b.name &&
		a.closed === b.closed &&
		sameNumbers(a.kinds, b.kinds) &&
		sameNumbers(a.data, b.data) &&
		sameNumbers(a.control, b.control) &&
		sameNumbers(a.corners, b.corners)
	);
}

/** 1, 2 or 5 times a power of ten, at most `value`. */
function roundSize(value: number): number {
	if (!(value > 0)) return 1;
	const power = Number(`1e${Math.floor(log(value) / Math.LN10)}`);
	const lead = value / power;
	return (lead >= 5 ? 5 : lead >= 2 ? 2 : 1) * power;
}
