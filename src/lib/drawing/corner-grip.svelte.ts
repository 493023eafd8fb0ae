import type { Desk } from '../desk/desk.svelte.ts';
import {
	cornerMarks,
	cornerScene,
	junctionUnder,
	movedCorner,
	toggledCorner,
	writeCorners,
	type CornerMarks,
	type CornerScene
} from './corners.ts';
import type { DeskResult } from '../desk/snapshot.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import type { View } from './view.ts';

/**
 * Takes hold of the corners of the structured region that is selected in Fill. A corner is dragged
 * from junction to junction, and the mesh follows; a click makes a junction a corner, or no longer one.
 */
export class CornerGrip {
	/** What was there when the hold began: every step starts from it. */
	private held: { result: DeskResult; recipe: Recipe; scene: CornerScene; place: number; to: number; label: string } | undefined;

	constructor(private readonly desk: Desk) {}

	private scene(): CornerScene | undefined {
		const { desk } = this;
		const [name, ...more] = desk.selected('region');
		const isOpen = desk.station === 'fill' && desk.tool === 'select' && name !== undefined && more.length === 0;
		return isOpen && desk.result ? cornerScene(desk.result, name) : undefined;
	}

	marks(view: View): CornerMarks | undefined {
		const scene = this.scene();
		return scene && cornerMarks(this.desk.result!, scene, view);
	}

	take(view: View, px: number, py: number): boolean {
		const { desk } = this;
		const scene = desk.isCurrent ? this.scene() : undefined;
		const place = scene ? junctionUnder(desk.result!, scene, view, px, py) : -1;
		this.held =
			scene && place >= 0 ? { result: desk.result!, recipe: desk.recipe, scene, place, to: place, label: '' } : undefined;
		return this.held !== undefined;
	}

	move(view: View, px: number, py: number): void {
		const { held } = this;
		const corner = held ? held.scene.corners.indexOf(held.place) : -1;
		if (!held || corner < 0) return;
		const to = junctionUnder(held.result, held.scene, view, px, py, 40);
		if (to < 0 || to === held.to) return;
		const corners = movedCorner(held.scene, corner, to);
		if (!corners) return;
		held.to = to;
		this.write(held, corners);
	}

	/** Ends the hold: one revision; a press without a movement makes the junction a corner or takes it away. */
	drop(moved: boolean): void {
		const { desk, held } = this;
		this.held = undefined;
		if (!held) return;
		if (!moved) {
			const corners = toggledCorner(held.scene, held.place);
			if (corners) this.write(held, corners);
			else desk.notice = 'a structured region has at least three corners; make another junction a corner first';
		}
		if (held.label) desk.finishTyping(held.label);
	}

	/** Leaves everything as it was; returns whether anything was held. */
	cancel(): boolean {
		if (!this.held) return false;
		this.desk.typeText(this.held.recipe.text, true);
		this.held = undefined;
		return true;
	}

	private write(held: NonNullable<CornerGrip['held']>, corners: readonly number[]): void {
		const { text, label } = writeCorners(held.result, held.recipe, held.scene, corners);
		held.label = label;
		this.desk.notice = label;
		this.desk.typeText(text, true);
	}
}
