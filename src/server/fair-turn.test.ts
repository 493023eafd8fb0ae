import { expect, it } from 'vitest';
import { fairest } from './fair-turn.ts';

it('somebody’s tenth job waits for the first of another', () => {
	const waiting = [
		...Array.from({ length: 10 }, (_, k) => ({ owner: 'a', order: k })),
		{ owner: 'b', order: 10 },
		{ owner: 'c', order: 11 }
	];
	const lastTurn = new Map<string, number>();
	const order: string[] = [];
	for (let turn = 1; waiting.length > 0; turn++) {
		const next = fairest(waiting, {
			running: () => 0,
			lastTurn: ({ owner }) => lastTurn.get(owner) ?? 0,
			order: (one) => one.order
		})!;
		waiting.splice(waiting.indexOf(next), 1);
		lastTurn.set(next.owner, turn);
		order.push(`${next.owner}${next.order}`);
	}
	expect(order.slice(0, 4)).toEqual(['a0', 'b10', 'c11', 'a1']);
	expect(order).toHaveLength(12);
});

it('who has least at work comes first', () => {
	const running = { a: 2, b: 1 };
	const one = fairest([{ owner: 'a' as const }, { owner: 'b' as const }], {
		running: ({ owner }) => running[owner],
		lastTurn: () => 0,
		order: () => 0
	});
	expect(one).toEqual({ owner: 'b' });
	expect(fairest([], { running: () => 0, lastTurn: () => 0, order: () => 0 })).toBeUndefined();
});
