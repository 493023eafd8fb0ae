import { expect } from 'vitest';
import type { Arrangement } from './pieces.ts';

/** V − E + F = 1 + C with the outer face counted: zero for every plane graph. */
export function euler(a: Arrangement): number {
	const used = new Set(a.pieces.flatMap((p) => [p.start, p.end]));
	const parent = new Map([...used].map((j) => [j, j]));
	const root = (j: number): number => (parent.get(j) === j ? j : root(parent.get(j)!));
	for (const p of a.pieces) parent.set(root(p.start), root(p.end));
	return used.size - a.pieces.length + a.faces.length - new Set([...used].map(root)).size;
}

/** Every face has each half-piece once, and holes only in the face around them. */
export function expectSound(a: Arrangement): void {
	expect(euler(a)).toBe(0);
	const seen = new Set<number>();
	a.faces.forEach((face, f) => {
		for (const h of [...face.outer, ...face.inner.flat()]) {
			expect(seen.has(h)).toBe(false);
			seen.add(h);
			expect(a.sides[h]).toBe(f);
		}
		expect(face.area).toBeGreaterThan(0);
	});
}
