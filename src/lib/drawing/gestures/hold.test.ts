import { describe, expect, it } from 'vitest';
import type { Gesture, Press } from './gesture.ts';
import { Hold } from './hold.svelte.ts';

const view = { x: 0, y: 0, scale: 1, width: 100, height: 100 };
const at = (px: number, py: number) => ({ px, py, snapping: true, adding: false });
const press = (px: number, py: number): Press => ({ ...at(px, py), pans: false, view });

/** A gesture that takes presses left of a place, and tells what happens to it. */
function recorder(name: string, left: number, log: string[]): Gesture {
	return {
		press: ({ px }) => px < left,
		move: ({ px }, _, moved) => void log.push(`${name} ${moved ? 'drag' : 'move'} ${px}`),
		release: (_, __, moved) => void log.push(`${name} ${moved ? 'drop' : 'click'}`),
		cancel: () => void log.push(`${name} cancel`)
	};
}

describe('the hold of a gesture', () => {
	it('belongs to the first that takes the press, until its release', () => {
		const log: string[] = [];
		const hold = new Hold([recorder('a', 10, log), recorder('b', 50, log)]);
		expect(hold.press(press(20, 0))).toBe(true);
		hold.move(at(22, 0));
		hold.move(at(30, 0));
		hold.move(at(5, 0));
		hold.release(at(5, 0));
		expect(log).toEqual(['b move 22', 'b drag 30', 'b drag 5', 'b drop']);
		expect([hold.active, hold.move(at(6, 0)), hold.press(press(90, 0))]).toEqual([false, false, false]);
	});

	it('is a click where nothing moved', () => {
		const log: string[] = [];
		const hold = new Hold([recorder('a', 10, log)]);
		hold.press(press(1, 1));
		hold.release(at(2, 2));
		expect(log).toEqual(['a click']);
	});

	it('ends with a cancel when the pointer is gone, or another press comes', () => {
		const log: string[] = [];
		const hold = new Hold([recorder('a', 10, log)]);
		hold.press(press(1, 1));
		expect(hold.cancel()).toBe(true);
		expect(hold.cancel()).toBe(false);
		hold.press(press(1, 1));
		hold.press(press(2, 2));
		hold.release(at(2, 2));
		expect(log).toEqual(['a cancel', 'a cancel', 'a click']);
	});
});
