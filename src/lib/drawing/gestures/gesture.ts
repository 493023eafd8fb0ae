import type { DrawingScene } from '../drawing-scene.svelte.ts';
import type { CornerMarks } from '../corners.ts';
import type { Handle } from '../handles.ts';
import type { PointerPlace } from '../pointer-place.ts';
import type { View } from '../view.ts';

/** A press of the pointer, from which a gesture starts. */
export interface Press extends PointerPlace {
	/** The middle button, or the first with Alt. */
	pans: boolean;
	/** The view when it began. */
	view: View;
}

/**
 * A drag or click of one kind. The first gesture of the table that takes a press has it until it ends: with a release,
 * or with a cancel, which leaves everything as it was.
 */
export interface Gesture {
	/** Takes a press, or leaves it to the next. */
	press(press: Press): boolean;
	/** The pointer moved while it is held; `moved` once it is far enough to be a drag. */
	move(at: PointerPlace, press: Press, moved: boolean): void;
	release(at: PointerPlace, press: Press, moved: boolean): void;
	cancel(): void;
	/** What the ink shows of what can be taken hold of. */
	handles?(view: View): Handle[];
	corners?(view: View): CornerMarks | undefined;
	/** What the ink shows while it is held: a line, flat x, y pairs in pixels, and a box. */
	lasso?(): readonly number[];
	box?(at: PointerPlace, press: Press, moved: boolean): { x0: number; y0: number; x1: number; y1: number } | undefined;
}

/** A kind of gesture: its file makes one for a drawing. */
export type GestureKind = (scene: DrawingScene) => Gesture;
