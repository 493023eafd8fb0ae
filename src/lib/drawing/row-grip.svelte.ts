import { language } from '../../core/recipe/language/language.ts';
import { fetchFile } from '../api/client.ts';
import type { Desk } from '../desk/desk.svelte.ts';
import { filePoints, moveFilePoint, whyHeld, type FilePoint } from './file-points.ts';
import type { Handle } from './handles.ts';
import type { Point } from '../../core/geometry/curve.ts';
import { screenX, screenY, type View } from './view.ts';
import { sentenceOf, UserError } from '../../core/text/user-error.ts';

/** Takes hold of the points of the selected outline that came from a file; a drop keeps a changed copy of the file. */
export class RowGrip {
	/** The point that is held, and where it is now. */
	held = $state.raw<{ point: FilePoint; to: Point } | undefined>();

	constructor(private readonly desk: Desk) {}

	/** The points to take hold of. */
	points(view: View): FilePoint[] {
		const { desk } = this;
		const [curve, ...others] = desk.selected('piece').map((p) => p.replace(/\[\d+\]$/, ''));
		if (desk.station !== 'shape' || desk.tool !== 'select' || curve === undefined || !desk.result) return [];
		return others.every((other) => other === curve) ? filePoints(desk.result, curve, view) : [];
	}

	/** The points as squares for the ink, the held one where it is now. */
	marks(view: View): Handle[] {
		const square = ({ x, y }: Point): Handle => ({ kind: 'grip', piece: -1, px: screenX(view, x), py: screenY(view, y) });
		const { held } = this;
		return this.points(view).map((p) => (held && p.line === held.point.line ? square(held.to) : square(p)));
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

	async drop(): Promise<void> {
		const { desk, held } = this;
		const { result } = desk;
		this.held = undefined;
		if (!held || !result || (held.to.x === held.point.x && held.to.y === held.point.y)) return;
		const line = result.recipe.lines[result.model.curveLines[result.model.curvesByName.get(held.point.curve)![0]!]!]!;
		const { statement } = line;
		const file = statement && language().recordOf(statement).file?.(statement)?.text;
		if (file === undefined) return;
		try {
			const changed = moveFilePoint(result, held.point, held.to, await fetchFile(desk.files[file]!));
			const added = await desk.addFile(changed.bytes);
			if ('error' in added) throw new UserError(added.error);
			desk.edit(changed.text, `Move line ${held.point.line} of ${held.point.curve}`, {
				...desk.files,
				[changed.name]: added.hash
			});
		} catch (error) {
			desk.notice = sentenceOf(error, 'this step');
		}
	}
}
