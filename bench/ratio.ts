import { Session } from 'node:inspector';

/** One line of docs/benchmarks.md: a ratio of two times taken in turn in the same run. */
export interface Ratio {
	what: string;
	against: string;
	/** Median of the pairs, with the lowest and the highest. */
	median: number;
	low: number;
	high: number;
	wanted: string;
	/** What is timed, once; where it is known, its profile is taken if the ratio is above what is wanted. */
	run?: () => void;
}

export function time(run: () => void): number {
	const start = performance.now();
	run();
	return performance.now() - start;
}

/** How long a run takes when what others left behind is collected before. */
function timeAlone(run: () => void): number {
	globalThis.gc?.();
	return time(run);
}

/** Times two runs in turn, after one of each. */
export function pairs(count: number, a: () => void, b: () => void): Pick<Ratio, 'median' | 'low' | 'high' | 'run'> {
	a();
	b();
	return { ...summarised(Array.from({ length: count }, () => timeAlone(a) / timeAlone(b))), run: a };
}

/** Samples of a profile are no farther apart than this, in microseconds. */
const mostBetween = 3000;

/** The functions in which a run spends most of its time, with their shares of it. */
export function profileOf(run: () => void): { name: string; share: number }[] {
	const session = new Session();
	session.connect();
	session.post('Profiler.enable');
	session.post('Profiler.start');
	run();
	const times = new Map<string, number>();
	let all = 0;
	// On a session of the same thread the answer comes at once.
	session.post('Profiler.stop', (error, result) => {
		if (error) throw error;
		const { nodes, samples = [], timeDeltas = [] } = result.profile;
		const nameOf = new Map(nodes.map(({ id, callFrame }) => [id, callFrame.functionName || '(without a name)']));
		for (let k = 0; k < samples.length; k++) {
			const name = nameOf.get(samples[k]!)!;
			// What taking the profile takes.
			if (name === 'dispatch' || name === '(program)' || name === '(idle)') continue;
			// One that comes late, as the machine was busy with something else, says nothing of the time since the last.
			const spent = Math.min(timeDeltas[k]!, mostBetween);
			times.set(name, (times.get(name) ?? 0) + spent);
			all += spent;
		}
	});
	session.disconnect();
	return Array.from(times, ([name, value]) => ({ name, share: value / all })).sort((a, b) => b.share - a.share);
}

/** The median of ratios, with the lowest and the highest. */
export function summarised(ratios: readonly number[]): Pick<Ratio, 'median' | 'low' | 'high'> {
	const sorted = [...ratios].sort((p, q) => p - q);
	return { median: sorted[(sorted.length - 1) >> 1]!, low: sorted[0]!, high: sorted.at(-1)! };
}
