import { settleCounts } from './counts.ts';
import type { Block } from './layout.ts';

/** Random blocks that fill a rectangle, cut in two again and again, so that sides are split where others end on them. */
export interface Network {
	blocks: Pick<Block, 'sides'>[];
	pieces: number;
}

interface Box {
	x0: number;
	y0: number;
	x1: number;
	y1: number;
}

/** @param random numbers from 0 to 1 */
export function cutRectangle(count: number, random: () => number): Network {
	const boxes: Box[] = [{ x0: 0, y0: 0, x1: 1 << 20, y1: 1 << 20 }];
	while (boxes.length < count) {
		const k = boxes.reduce((best, b, i) => (area(b) * (0.3 + random()) > area(boxes[best]!) * 0.6 ? i : best), 0);
		const box = boxes[k]!;
		const upright = box.x1 - box.x0 > box.y1 - box.y0;
		const share = 0.25 + 0.5 * random();
		if (upright) {
			const x = Math.round(box.x0 + share * (box.x1 - box.x0));
			boxes.splice(k, 1, { ...box, x1: x }, { ...box, x0: x });
		} else {
			const y = Math.round(box.y0 + share * (box.y1 - box.y0));
			boxes.splice(k, 1, { ...box, y1: y }, { ...box, y0: y });
		}
	}
	const corners = boxes.flatMap(({ x0, y0, x1, y1 }) => [
		[x0, y0],
		[x1, y0],
		[x1, y1],
		[x0, y1]
	]);
	const numbers = new Map<string, number>();
	const piece = (key: string): number => {
		if (!numbers.has(key)) numbers.set(key, numbers.size);
		return numbers.get(key)!;
	};
	/** The pieces of a side: its stretches between the corners that lie on it. */
	const side = (from: number[], to: number[]): number[] => {
		const axis = from[0] === to[0] ? 1 : 0;
		const [low, high] = [Math.min(from[axis]!, to[axis]!), Math.max(from[axis]!, to[axis]!)];
		const stops = [
			...new Set(
				corners.flatMap((c) => (c[1 - axis] === from[1 - axis] && c[axis]! >= low && c[axis]! <= high ? [c[axis]!] : []))
			)
		];
		stops.sort((a, b) => a - b);
		return stops.slice(1).map((stop, k) => 2 * piece(`${axis} ${from[1 - axis]} ${stops[k]} ${stop}`));
	};
	const blocks = boxes.map(({ x0, y0, x1, y1 }) => ({
		sides: [
			side([x0, y0], [x1, y0]),
			side([x1, y0], [x1, y1]),
			side([x1, y1], [x0, y1]),
			side([x0, y1], [x0, y0])
		] as Block['sides']
	}));
	return { blocks, pieces: numbers.size };
}

const area = ({ x0, y0, x1, y1 }: Box) => (x1 - x0) * (y1 - y0);

/** Pins, so many, that can all stand: they are taken from counts that agree. */
export function feasiblePins({ blocks, pieces }: Network, count: number, random: () => number): Map<number, number> {
	const wanted = Array.from({ length: pieces }, () => 2 + 30 * random());
	const { counts } = settleCounts(blocks, new Map(), wanted);
	const pins = new Map<number, number>();
	while (pins.size < Math.min(count, pieces)) {
		const p = Math.floor(random() * pieces);
		pins.set(p, counts[p]!.count);
	}
	return pins;
}
