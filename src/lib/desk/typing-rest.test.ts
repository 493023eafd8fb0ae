import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { TypingRest } from './typing-rest.ts';

describe('what is typed', () => {
	const saved: string[] = [];
	let typing: TypingRest;

	beforeEach(() => {
		vi.useFakeTimers();
		saved.length = 0;
		typing = new TypingRest((label) => saved.push(label));
	});
	afterEach(() => void vi.useRealTimers());

	it('is one revision when it rests, however many keys there were', () => {
		for (let k = 0; k < 20; k++) {
			typing.touch(false);
			vi.advanceTimersByTime(200);
		}
		expect(saved).toEqual([]);
		vi.advanceTimersByTime(500);
		expect(saved).toEqual(['Edit the recipe']);
		vi.advanceTimersByTime(5000);
		expect(saved).toHaveLength(1);
	});

	it('is saved at once by what ends it, under its label, and not again', () => {
		typing.touch(true);
		vi.advanceTimersByTime(5000);
		expect(typing.waits).toBe(true);
		typing.finish('Move p');
		vi.advanceTimersByTime(100_000);
		expect(saved).toEqual(['Move p']);
		typing.finish('nothing waits');
		expect(saved).toHaveLength(1);
	});

	it('is saved all the same where a drag stands still for long', () => {
		typing.touch(true);
		vi.advanceTimersByTime(60_000);
		expect(saved).toEqual(['Edit the recipe']);
	});
});
