import type { CellsAlong } from '../../core/divide/along-chain.ts';
import type { LayerFigures } from '../../core/stages/layer-figures.ts';
import type { LayerProfile } from '../../core/fill/method.ts';

/** A figure along one stretch: where it begins in the plot, and one entry to a place in every list. */
export interface Along {
	from: number;
	along: ArrayLike<number> & { at(k: number): number | undefined; forEach(visit: (value: number, k: number) => void): void };
	value: ArrayLike<number> & Iterable<number>;
	x: ArrayLike<number>;
	y: ArrayLike<number>;
	isFaint?: boolean;
}

/** The place of stretches that is nearest to one of the drawing; undefined where that is farther off than its neighbour. */
export function nearestOf(runs: readonly Along[], { x, y }: { x: number; y: number }): { run: Along; k: number } | undefined {
	let best: { run: Along; k: number } | undefined;
	let nearest = Infinity;
	for (const run of runs)
		for (let k = 0; k < run.x.length; k++) {
			const away = (run.x[k]! - x) ** 2 + (run.y[k]! - y) ** 2;
			if (away < nearest) [nearest, best] = [away, { run, k }];
		}
	if (!best) return undefined;
	const { run, k } = best;
	// Several stacks may stand at one corner.
	const spacing = Math.max(
		...[k - 1, k + 1].map((j) => (run.x[j] === undefined ? 0 : (run.x[j]! - run.x[k]!) ** 2 + (run.y[j]! - run.y[k]!) ** 2))
	);
	return nearest <= spacing ? best : undefined;
}

/** What is plotted of layers. */
export const layerPlots = [
	['first', 'first height'],
	['thickness', 'thickness'],
	['count', 'number of cells'],
	['complete', 'cells, of those asked'],
	['growth', 'growth'],
	['lean', 'lean of the first cell'],
	['room', 'room, of the thickness asked'],
	['ratio', 'element behind over last cell']
] as const;
export type LayerPlot = (typeof layerPlots)[number][0] | 'y+';

/**
 * A figure of layers along their walls, stretch after stretch.
 *
 * @param yPlus the y⁺ of a cell as high as a unit of length, where the flow is known
 */
export function alongLayers({ profiles }: LayerFigures, plot: LayerPlot, yPlus = NaN): Along[] {
	const list: Along[] = [];
	let from = 0;
	for (const profile of profiles) {
		const ends = [...profile.runs.slice(1), profile.x.length];
		profile.runs.forEach((start, r) => {
			const end = ends[r]!;
			const along = profile.along.subarray(start, end);
			list.push({
				from,
				along,
				value: valuesOf(profile, plot, yPlus).subarray(start, end),
				x: profile.x.subarray(start, end),
				y: profile.y.subarray(start, end)
			});
			from += along.at(-1) ?? 0;
		});
	}
	return list;
}

/** What is plotted, a value to each stack. */
export function valuesOf(profile: LayerProfile, plot: LayerPlot, yPlus: number): Float64Array {
	const { first, thickness, count, behind, last, wanted, growth, lean, room, asked } = profile;
	if (plot === 'count') return Float64Array.from(count);
	if (plot === 'ratio') return behind.map((height, k) => (height > 0 ? height / last[k]! : NaN));
	if (plot === 'y+') return first.map((height) => height * yPlus);
	if (plot === 'complete') return Float64Array.from(count, (n, k) => n / (wanted[k]! || 1));
	if (plot === 'growth') return growth;
	if (plot === 'lean') return lean;
	if (plot === 'room') return room.map((height, k) => Math.min(1, height / asked[k]!));
	return plot === 'first' ? first : thickness;
}

/** A ratio of cells at a joint that is worth a mark. */
const notable = 1.2;

/** Lengths of cells along chains, one after the other, those of their neighbours faint; and where cells jump from piece to piece. */
export function chainPlots(chains: readonly CellsAlong[]): { runs: Along[]; joints: { at: number; ratio: number }[] } {
	const runs: Along[] = [];
	const joints: { at: number; ratio: number }[] = [];
	let from = 0;
	for (const { along, length, x, y, isChosen, joints: chainJoints } of chains) {
		const start = from - Math.min(0, along[0] ?? 0);
		let first = 0;
		for (let k = 1; k <= along.length; k++) {
			if (k < along.length && isChosen[k] === isChosen[first]) continue;
			const of = (list: readonly number[]) => list.slice(first, k);
			runs.push({ from: start, along: of(along), value: of(length), x: of(x), y: of(y), isFaint: !isChosen[first] });
			first = k;
		}
		joints.push(...chainJoints.filter(({ ratio }) => ratio > notable).map(({ along: at, ratio }) => ({ at: start + at, ratio })));
		from = start + (along.at(-1) ?? 0);
	}
	return { runs, joints };
}
