import type { PointerPlace } from '../pointer-place.ts';
import type { Gesture, Press } from './gesture.ts';

/** Which gesture has the pointer, and since when. */
export class Hold {
	private now = $state.raw<{ gesture: Gesture; press: Press; at: PointerPlace; moved: boolean } | undefined>();

	/** @param gestures in the order in which they are asked */
	constructor(private readonly gestures: readonly Gesture[]) {}

	get active(): boolean {
		return this.now !== undefined;
	}

	/** What is drawn of the gesture that goes on. */
	get box() {
		const { now } = this;
		return now?.gesture.box?.(now.at, now.press, now.moved);
	}

	/** The line that is drawn around something, flat x, y pairs in pixels. */
	get lasso(): readonly number[] {
		return this.now?.gesture.lasso?.() ?? none;
	}

	/** A press; returns whether a gesture took it. */
	press(press: Press): boolean {
		this.cancel();
		const gesture = this.gestures.find((g) => g.press(press));
		if (gesture) this.now = { gesture, press, at: press, moved: false };
		return gesture !== undefined;
	}

	/** A movement; returns whether a gesture has it. */
	move(at: PointerPlace): boolean {
		const { now } = this;
		if (!now) return false;
		const moved = now.moved || Math.hypot(at.px - now.press.px, at.py - now.press.py) > clickReach;
		this.now = { ...now, at, moved };
		now.gesture.move(at, now.press, moved);
		return true;
	}

	release(at: PointerPlace): void {
		const { now } = this;
		this.now = undefined;
		now?.gesture.release(at, now.press, now.moved);
	}

	/** The pointer is gone, or Escape: everything is as it was. Returns whether there was anything. */
	cancel(): boolean {
		const { now } = this;
		this.now = undefined;
		now?.gesture.cancel();
		return now !== undefined;
	}
}

const none: readonly number[] = [];

/** A press that moves less than this, in pixels, is a click. */
const clickReach = 4;
