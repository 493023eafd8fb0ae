import { untrack } from 'svelte';
import { extent, type Curve } from '../../core/geometry/curve.ts';
import type { DrawingScene } from './drawing-scene.svelte.ts';
import { closeUp, fitted, isInSight, newCurves, type View } from './view.ts';

/** What part of the drawing is seen: all of it, what was just made, what a finding shows, and back. */
export class Sight {
	/** Where what was last shown lies. */
	mark = $state.raw<{ x: number; y: number } | undefined>();
	/** The view as it was fitted last; another one was chosen by hand. */
	private asFitted: View | undefined;
	/** The view before something was shown. */
	private before: View | undefined;
	/** The curves when new ones were last looked for. */
	private curves: readonly Curve[] = [];
	private hasFitted = false;

	/** @param toolsHeight the height that the tools take at the top, in pixels */
	constructor(
		private readonly scene: DrawingScene,
		private readonly toolsHeight: () => number
	) {}

	/** Brings all of the drawing into sight. */
	readonly fit = (): void => {
		const { scene } = this;
		const { result } = scene.desk;
		scene.view = fitted(scene.view, result && extent(result.model.curves), this.toolsHeight());
		this.asFitted = scene.view;
	};

	/** Fits the drawing with the first result that has a frame to stand in. */
	fitOnce(): void {
		const { desk, view } = this.scene;
		// These are read first, so that an effect runs again with the next result even when the drawing was fitted before.
		if (!desk.result || view.width === 0 || this.hasFitted) return;
		this.hasFitted = true;
		untrack(this.fit);
	}

	/** The next result is fitted, as a file brings curves anywhere. */
	fitNext(): void {
		this.hasFitted = false;
	}

	/** Takes another size of the frame, in pixels: what was in sight stays so. */
	resize(width: number, height: number): void {
		const { scene } = this;
		const before = scene.view;
		scene.view = { ...before, width, height };
		if (!this.hasFitted || before === this.asFitted) this.fit();
		else if (before.width > 0)
			scene.view = { ...scene.view, scale: before.scale * Math.min(1, width / before.width, height / before.height) };
	}

	/** Fits the drawing where less than half of the curves that are new is in sight. */
	follow(curves: readonly Curve[], isHeld: boolean): void {
		const fresh = newCurves(curves, this.curves);
		this.curves = curves;
		if (this.hasFitted && !isHeld && fresh.length > 0 && !isInSight(fresh, this.scene.view)) this.fit();
	}

	/** Brings a place into the middle, and as close as its reach asks. */
	show(place: { x: number; y: number; reach?: number }): void {
		const { scene } = this;
		const { x, y, reach } = place;
		this.before = scene.view;
		scene.view = { ...scene.view, x, y, scale: reach ? closeUp(reach, scene.view) : scene.view.scale };
		this.mark = { x, y };
	}

	/** Goes back to the view before the last place shown, and there again. */
	back(): void {
		const { scene, before } = this;
		if (!before) return;
		const { width, height } = scene.view;
		[this.before, scene.view] = [scene.view, { ...before, width, height }];
	}
}
