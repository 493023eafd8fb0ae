import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { AfterPaint } from './after-paint.ts';

let frames: (() => void)[];
beforeEach(() => {
	vi.useFakeTimers();
	frames = [];
	vi.stubGlobal('requestAnimationFrame', (run: () => void) => frames.push(run));
	vi.stubGlobal('cancelAnimationFrame', (id: number) => (frames[id - 1] = () => {}));
});
afterEach(() => {
	vi.useRealTimers();
	vi.unstubAllGlobals();
});

const paint = () => {
	for (const frame of frames.splice(0)) frame();
	vi.runAllTimers();
};

it('is done once after the picture, however many keys came before it', () => {
	let done = 0;
	const deed = new AfterPaint(() => done++);
	deed.soon();
	deed.soon();
	expect([done, deed.waits]).toEqual([0, true]);
	paint();
	expect([done, deed.waits]).toEqual([1, false]);
	paint();
	expect(done).toBe(1);
});

it('is done at once when there will be no picture any more, and not again', () => {
	let done = 0;
	const deed = new AfterPaint(() => done++);
	deed.now();
	expect(done).toBe(0);
	deed.soon();
	deed.now();
	paint();
	expect(done).toBe(1);
});
