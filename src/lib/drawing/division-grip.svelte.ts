import type { DeskResult } from '../desk/snapshot.ts';
import type { Recipe } from '../../core/recipe/language/recipe.ts';
import type { Desk } from '../desk/desk.svelte.ts';
import { dragHandle, handlesOf, type Handle } from './handles.ts';
import type { PieceLines } from './outlines.ts';
import type { View } from './view.ts';

/** Takes hold of the count or an end cell of the piece that is selected in Divide; the mesh follows. */
export class DivisionGrip {
	/** What was there when the hold began, where it was taken, and what the recipe says now. */
	private held: { handle: Handle; result: DeskResult; recipe: Recipe; px: number; py: number; label: string } | undefined;

	constructor(
		private readonly desk: Desk,
		private readonly lines: PieceLines
	) {}

	handles(view: View): Handle[] {
		const { desk } = this;
		const chosen = desk.selected('piece');
		if (desk.station !== 'divide' || desk.tool !== 'select' || chosen.length !== 1 || !desk.result) return [];
		const piece = desk.names.indexOf(chosen[0]!);
		return piece < 0 ? [] : handlesOf(desk.result, piece, view);
	}

	take(view: View, px: number, py: number): boolean {
		const { desk } = this;
		const handle = this.handles(view).findLast((h) => Math.hypot(h.px - px, h.py - py) < 9);
		this.held = handle && desk.result && { handle, result: desk.result, recipe: desk.recipe, px, py, label: '' };
		return this.held !== undefined;
	}

	move(view: View, px: number, py: number): void {
		const { held, desk, lines } = this;
		if (!held) return;
		const { handle, result, recipe } = held;
		lines.use(result.arrangement, view.scale);
		const { text, label } = dragHandle(handle, result, recipe, desk.names, view, held, { px, py }, lines.of(handle.piece));
		held.label = label;
		desk.notice = label;
		desk.typeText(text, true);
	}

	drop(): void {
		if (this.held?.label) this.desk.finishTyping(this.held.label);
		this.held = undefined;
		this.desk.notice = '';
	}

	/** Leaves everything as it was; returns whether anything was held. */
	cancel(): boolean {
		if (!this.held) return false;
		this.desk.typeText(this.held.recipe.text, true);
		this.held = undefined;
		return true;
	}
}
