import type { Desk } from '../desk/desk.svelte.ts';
import { filePoints, moveFilePoint, rowKey, whyHeld, type FilePoint } from './file-points.ts';
import type { Handle } from './handles.ts';
import type { Point } from '../../core/geometry/curve.ts';
import { screenX, screenY, type View } from './view.ts';

/** Takes hold of the points of the selected outline that came from a file; a drop keeps a correction in the recipe. */
export class RowGrip {
	/** The point that is held, and where it is now. */
	held = $state.raw<{ point: FilePoint; to: Point } | undefined>();

	constructor(private readonly desk: Desk) {}

	/** The points to take hold of. */
	points(view: View): FilePoint[] {
		const { desk } = this;
		const [curve, ...others] = desk.selected('piece').map((p) => p.replace(/\[\d+\]$/, ''));
		if (desk.station !== 'shape' || !['select', 'lasso'].includes(desk.tool) || curve === undefined || !desk.result) return [];
		return others.every((other) => other === curve) ? filePoints(desk.result, curve, view) : [];
	}

	/** The points as squares for the ink, the held one where it is now, selected ones filled. */
	marks(view: View): Handle[] {
		const { held, desk } = this;
		return this.points(view).map((p) => {
			const { x, y } = held && p.line === held.point.line ? held.to : p;
			const isSelected = desk.selection.has(rowKey(p));
			return { kind: 'grip', piece: -1, px: screenX(view, x), py: screenY(view, y), ...(isSelected ? { isSelected } : {}) };
		});
	}

	take(view: View, px: number, py: number): boolean {
		const point = this.points(view).find((p) => Math.hypot(screenX(view, p.x) - px, screenY(view, p.y) - py) < 8);
		this.held = point && { point, to: { x: point.x, y: point.y } };
		return point !== undefined;
	}

	move(to: Point): void {
		if (!this.held || !this.desk.result) return;
		const why = whyHeld(this.desk.result, this.held.point);
		if (why) this.desk.notice = why;
		else this.held = { ...this.held, to: { x: to.x, y: to.y } };
	}

	/** Selects the point that is held, beside its curve. */
	select(adding: boolean): void {
		const { desk, held } = this;
		this.held = undefined;
		if (!held) return;
		if (!adding) for (const key of [...desk.selection].filter((k) => k.startsWith('row '))) desk.selection.delete(key);
		desk.select([rowKey(held.point)], true);
	}

	drop(): void {
		const { desk, held } = this;
		this.held = undefined;
		if (!held || !desk.result || (held.to.x === held.point.x && held.to.y === held.point.y)) return;
		const moved = desk.isCurrent ? moveFilePoint(desk.result, held.point, held.to) : undefined;
		if (moved) desk.edit(moved.text, moved.label);
		else desk.notice = 'the drawing was changed meanwhile; drag the point again';
	}
}
