/** The letters of what is written on the ink layer. */
export const font = "11px 'IBM Plex Mono', monospace";

/** Where labels stand already, so that none covers another; a grid of boxes, so that many cost little. */
export class LabelRoom {
	private readonly cells = new Map<string, { x: number; y: number; halfWidth: number; halfHeight: number }[]>();

	/** Takes a box by its middle and half its sides, in pixels; returns whether it was free. */
	take(x: number, y: number, halfWidth: number, halfHeight: number): boolean {
		const keys: string[] = [];
		for (let i = Math.floor((x - halfWidth) / labelCell); i <= Math.floor((x + halfWidth) / labelCell); i++)
			for (let j = Math.floor((y - halfHeight) / labelCell); j <= Math.floor((y + halfHeight) / labelCell); j++)
				keys.push(`${i} ${j}`);
		const meets = (b: { x: number; y: number; halfWidth: number; halfHeight: number }) =>
			Math.abs(b.x - x) < b.halfWidth + halfWidth && Math.abs(b.y - y) < b.halfHeight + halfHeight;
		if (keys.some((key) => this.cells.get(key)?.some(meets))) return false;
		for (const key of keys) {
			const list = this.cells.get(key);
			if (list) list.push({ x, y, halfWidth, halfHeight });
			else this.cells.set(key, [{ x, y, halfWidth, halfHeight }]);
		}
		return true;
	}
}

const labelCell = 64;
