import { mapped } from '../../core/text/typed.ts';
import type { DrawingFile, Outline } from '../../core/recipe/model/model.ts';
import { extent, segmentCount } from '../../core/geometry/curve.ts';
import { flatten } from '../../core/geometry/parts.ts';

/** Points of an outline in a small picture: more would not be seen. */
const pictured = 1500;

export interface FilePicture {
	/** SVG path data, y down. */
	paths: string[];
	viewBox: string;
	box: readonly [number, number, number, number];
}

/** A small picture of what a file holds, with the columns and layers that are chosen; undefined when that is nothing. */
export function picture(
	outlines: readonly Outline[],
	columns: readonly [x: number, y: number],
	drawing: DrawingFile | undefined,
	wanted: Readonly<Record<string, boolean>>
): FilePicture | undefined {
	const lines: Float64Array[] = [];
	let box: [number, number, number, number] | undefined;
	if (drawing) {
		const curves = drawing.curves.filter((c) => wanted[c.layer]).map((c) => c.curve);
		box = extent(curves);
		const size = box ? Math.max(box[2] - box[0], box[3] - box[1]) : 1;
		for (const curve of curves.slice(0, 5000)) lines.push(flatten({ curve, t0: 0, t1: segmentCount(curve) }, size / 3000));
	}
	for (const outline of outlines) {
		const [x, y] = mapped(columns, (c, k) => outline.columns?.[c - 1] ?? (k === 0 ? outline.x : outline.y));
		const step = Math.max(1, Math.floor(x.length / pictured));
		const line: number[] = [];
		for (let k = 0; k < x.length; k++) {
			const [px, py] = [x[k]!, y[k]!];
			box = box ? [Math.min(box[0], px), Math.min(box[1], py), Math.max(box[2], px), Math.max(box[3], py)] : [px, py, px, py];
			if (k % step === 0 || k === x.length - 1) line.push(px, py);
		}
		lines.push(Float64Array.from(line));
	}
	if (!box || lines.length === 0) return undefined;
	const [width, height] = [box[2] - box[0], box[3] - box[1]];
	const margin = 0.06 * Math.max(width, height) || 1;
	const brief = (v: number) => Number(v.toPrecision(6));
	const paths = lines.map((line) => {
		const points: string[] = [];
		for (let k = 0; k < line.length; k += 2) points.push(`${brief(line[k]!)} ${brief(-line[k + 1]!)}`);
		return `M${points.join('L')}`;
	});
	return { paths, box, viewBox: `${box[0] - margin} ${-box[3] - margin} ${width + 2 * margin} ${height + 2 * margin}` };
}
