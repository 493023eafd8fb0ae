import { hypot } from '../core/numeric/elementary.ts';
import { ARC, CUBIC, extent, LINE, segmentCount, segmentPoint, STRIDE, type Curve, type Point } from '../core/geometry/curve.ts';
import { flatten } from '../core/geometry/parts.ts';
import { absoluteUnits } from './svg-units.ts';

/** The curves as an SVG drawing, a path with its name as id for each, y turned down again; 1 unit of the recipe is 1 user unit. */
export function writeSvg(curves: readonly Curve[], unit: string): string {
	const [minX, minY, maxX, maxY] = extent(curves) ?? [0, 0, 1, 1];
	const margin = 0.02 * Math.max(maxX - minX, maxY - minY) || 1;
	const [width, height] = [maxX - minX + 2 * margin, maxY - minY + 2 * margin];
	const line = margin / 10;
	const suffix = unit in absoluteUnits ? unit : '';
	const head = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}${suffix}" height="${height}${suffix}" viewBox="${minX - margin} ${-maxY - margin} ${width} ${height}">`;
	const style = `<g fill="none" stroke="#22303C" stroke-width="${line}">`;
	return [head, style, ...curves.map((c) => `<path id="${escape(c.name)}" d="${pathData(c)}"/>`), '</g>', '</svg>', ''].join(
		'\n'
	);
}

const escape = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;');

function pathData(curve: Curve): string {
	const at = (p: Point) => `${p.x} ${-p.y}`;
	const parts = [`M${at(segmentPoint(curve, 0, 0))}`];
	for (let i = 0; i < segmentCount(curve); i++) {
		const d = curve.data.subarray(i * STRIDE, (i + 1) * STRIDE);
		const end = segmentPoint(curve, i, 1);
		if (curve.kinds[i] === LINE) parts.push(`L${at(end)}`);
		else if (curve.kinds[i] === ARC) {
			// Two halves, because one arc command cannot be a full circle.
			const sweep = d[8]! > 0 ? 0 : 1;
			for (const u of [0.5, 1]) parts.push(`A${d[6]} ${d[6]} 0 0 ${sweep} ${at(segmentPoint(curve, i, u))}`);
		} else if (curve.kinds[i] === CUBIC) parts.push(`C${at({ x: d[4]!, y: d[5]! })} ${at({ x: d[6]!, y: d[7]! })} ${at(end)}`);
		else {
			const size = hypot(end.x - d[0]!, end.y - d[1]!) || 1;
			const line = flatten({ curve, t0: i, t1: i + 1 }, 1e-6 * size);
			for (let k = 2; k < line.length; k += 2) parts.push(`L${at({ x: line[k]!, y: line[k + 1]! })}`);
		}
	}
	return parts.join('') + (curve.closed ? 'Z' : '');
}
