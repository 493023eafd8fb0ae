import { describe, expect, it } from 'vitest';
import { numbers } from '../fill/domains.test-support.ts';
import { finish } from '../numeric/work.ts';
import { Pipeline } from '../pipeline.ts';
import { applyEdits } from '../text/edit.ts';

/** A survey line with a little noise; lines of its file are counted from 2. */
function survey(count: number, seed: number, noise = 0.1) {
	const random = numbers(seed);
	return Array.from({ length: count }, (_, k) => {
		const x = k + 0.3 * noise * random.next();
		return [x, 12 * Math.sin(k / 25) + 5 * Math.sin(k / 7) + noise * random.next()] as [number, number];
	});
}
const filesOf = (rows: readonly [number, number][]) => ({
	'line.csv': {
		outlines: [
			{
				x: Float64Array.from(rows, (r) => r[0]),
				y: Float64Array.from(rows, (r) => r[1]),
				lines: Uint32Array.from(rows, (_, k) => k + 2)
			}
		]
	}
});
const run = (text: string, rows: readonly [number, number][]) =>
	finish(new Pipeline(() => 0).run({ text, files: filesOf(rows) }));
const slips = (result: ReturnType<typeof run>) =>
	result.findings.filter((f) => ['self-crossing', 'zigzag', 'spur'].includes(f.code));
const order = (result: ReturnType<typeof run>) => [...result.model.fileLines.get('coast')!];

describe.each(['polyline', 'spline'])('rows of a %s that stand in the wrong order', (kind) => {
	const text = `recipe 1\n${kind} coast = from "line.csv"`;

	it('are found, and exchanged by the mend, wherever they stand', () => {
		const random = numbers(3);
		let [found, exchanged] = [0, 0];
		const rounds = kind === 'spline' ? 8 : 30;
		for (let n = 0; n < rounds; n++) {
			const rows = survey(120, n + 1);
			const a = 10 + random.below(95);
			const b = a + 1 + random.below(4);
			[rows[a], rows[b]] = [rows[b]!, rows[a]!];
			const first = run(text, rows);
			const [finding] = slips(first);
			if (!finding?.mend) continue;
			found++;
			expect(finding.message).toMatch(/lines \d+/);
			const after = run(applyEdits(text, finding.mend.edits), rows);
			expect(slips(after), `${a} and ${b} of ${n}`).toEqual([]);
			// The rows that were wrong are the ones that are exchanged, or left out.
			const named = [...finding.mend.label.matchAll(/\d+/g)].map(Number);
			expect(
				named.every((line) => line >= a + 2 && line <= b + 2),
				finding.mend.label
			).toBe(true);
			if (finding.mend.label.startsWith('Exchange')) exchanged++;
		}
		expect(found).toBe(rounds);
		expect(exchanged).toBeGreaterThan(0.85 * rounds);
	});

	it('of which two are three apart are told as they are', () => {
		const rows = survey(200, 8);
		[rows[101], rows[104]] = [rows[104]!, rows[101]!];
		const [finding] = slips(run(text, rows));
		expect(finding!.mend!.label).toBe('Exchange lines 103 and 106 of the file');
		const mended = applyEdits(text, finding!.mend!.edits);
		expect(mended).toContain('swapping 103 with 106');
		expect(order(run(mended, rows)).slice(100, 106)).toEqual([102, 106, 104, 105, 103, 107]);
	});

	it('or are wrong altogether are left out, and none besides', () => {
		const rows = survey(200, 9);
		rows[60] = [rows[57]![0] - 0.4, rows[57]![1] + 0.05];
		const [finding] = slips(run(text, rows));
		expect(finding!.mend!.label).toMatch(/^Leave out line 62 of the file$/);
	});

	// A spline through such points crosses itself indeed.
	it.skipIf(kind === 'spline')('is not what a line is that turns back on purpose', () => {
		const comb = Array.from({ length: 120 }, (_, k): [number, number] => [
			Math.floor(k / 2) + 0.3 * (k % 2),
			8 * (((k + 1) >> 1) % 2)
		]);
		expect(slips(run(text, comb))).toEqual([]);
	});
});

describe('a line with more points than it needs', () => {
	it('is thinned within a distance, and what that leaves is told', () => {
		const rows = survey(1000, 4, 0.3);
		const result = run('recipe 1\npolyline coast = from "line.csv" thinned within 0.5 corners above 60 deg', rows);
		const note = result.findings.find((f) => f.code === 'thinned')!;
		const [, before, after, off] = /^(\d+) points of “coast” became (\d+); the points left out lie ([\d.]+)/.exec(note.message)!;
		expect([Number(before), Number(off) <= 0.5]).toEqual([1000, true]);
		expect(Number(after)).toBeLessThan(400);
		expect(result.model.curves[0]!.kinds.length).toBe(Number(after) - 1);
		// By hand: how far every point lies from the line.
		const { data } = result.model.curves[0]!;
		const stride = data.length / result.model.curves[0]!.kinds.length;
		let most = 0;
		for (const [x, y] of rows) {
			let nearest = Infinity;
			for (let s = 0; s < data.length; s += stride) {
				const [ax, ay, bx, by] = [data[s]!, data[s + 1]!, data[s + 2]!, data[s + 3]!];
				const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / ((bx - ax) ** 2 + (by - ay) ** 2)));
				nearest = Math.min(nearest, Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y));
			}
			most = Math.max(most, nearest);
		}
		expect(most).toBeLessThanOrEqual(Number(off) * 1.005);
	});

	it('is one piece where its corners turn by more than it does anywhere', () => {
		const rows = survey(300, 5, 1);
		const pieces = (corners: string) =>
			run(`recipe 1\npolyline coast = from "line.csv"${corners}`, rows).arrangement.pieces.length;
		expect(pieces('')).toBeGreaterThan(100);
		expect(pieces(' corners above 100 deg')).toBe(1);
		expect(
			run('recipe 1\npolyline coast = from "line.csv" corners above 0 deg', rows)
				.findings.map((f) => f.message)
				.join()
		).toMatch(/the turn of a corner is above zero/);
	});

	it('may be closed: it is cut where it is widest, and both halves are thinned', () => {
		const ring = Array.from({ length: 400 }, (_, k): [number, number] => {
			const a = (2 * Math.PI * k) / 400;
			return [30 * Math.cos(a), 20 * Math.sin(a)];
		});
		const result = run('recipe 1\npolyline coast = from "line.csv" thinned within 0.2 closed', ring);
		expect(result.findings.find((f) => f.code === 'thinned')!.message).toMatch(/became (1\d|2\d|3\d);/);
	});
});

describe.each(['polyline', 'spline'])('loops of a %s', (kind) => {
	const text = `recipe 1\n${kind} coast = from "line.csv"`;

	/** A survey whose rows from a on run around in a loop, one and a half times, so that it crosses itself and the line. */
	function looped(seed: number, a: number, points: number) {
		const rows = survey(200, seed);
		const [x, y] = rows[a]!;
		const random = numbers(seed);
		const loop = Array.from({ length: points }, (_, k): [number, number] => {
			const turn = (3 * Math.PI * k) / (points - 1);
			const radius = 3 + 1.5 * Math.sin(2.3 * turn) + 0.1 * random.next();
			return [x + radius * Math.sin(turn) + 0.05 * k, y + radius * (1 - Math.cos(turn))];
		});
		rows.splice(a + 1, 0, ...loop);
		return rows;
	}

	it('with crossings of their own are left out with one click, and little else', () => {
		let clicks = 0;
		for (let seed = 1; seed <= 12; seed++) {
			const rows = looped(seed, 20 + 12 * seed, 12);
			const first = run(text, rows);
			expect(slips(first).length, `${seed}`).toBeGreaterThan(0);
			let [mended, result] = [text, first];
			for (; slips(result).length > 0 && clicks < 100; clicks++) {
				const mend = slips(result).find((f) => f.mend)?.mend;
				expect(mend, `${seed}`).toBeDefined();
				mended = applyEdits(mended, mend!.edits);
				result = run(mended, rows);
			}
			expect(order(result).length, `${seed}`).toBeGreaterThan(180);
		}
		expect(clicks).toBeLessThanOrEqual(16);
	});

	it('that are most of a curve are not offered to be left out', () => {
		const rows = Array.from({ length: 40 }, (_, k): [number, number] => {
			const turn = (2.2 * Math.PI * k) / 39;
			return [20 * Math.sin(turn) + 0.3 * k, 20 * (1 - Math.cos(turn)) + 0.2 * k];
		});
		const found = slips(run(text, rows));
		expect(found.length).toBeGreaterThan(0);
		expect(found.every(({ mend }) => mend === undefined)).toBe(true);
	});
});
