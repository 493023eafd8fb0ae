import { isBoundary } from '../core/mesh/mesh.ts';
import { groupColours } from '../core/recipe/language/boundary-kinds.ts';
import type { Result } from '../core/pipeline.ts';
import { extent } from '../core/geometry/curve.ts';
import { flatten } from '../core/geometry/parts.ts';

/** The size of a picture, in its own units. */
export const pictureSize = { width: 480, height: 270 };
const { width, height } = pictureSize;
const margin = 18;
/** Elements smaller than this, in both directions, are too small for lines: the squares of this side that hold any are shaded. */
const grain = 2;

/**
 * Draws a result as a small SVG picture on drafting paper: mesh lines in graphite, pieces in ink or their
 * group's colour. `data-view` holds the place in its middle and its units to a length of the model. Of a mesh that was held back it shows the outline, and how large it would be.
 */
export function drawPicture(result: Result): string {
	const { mesh, arrangement } = result;
	const box = extent(arrangement.curves) ?? [0, 0, 1, 1];
	const scale = Math.min((width - 2 * margin) / (box[2] - box[0] || 1), (height - 2 * margin) / (box[3] - box[1] || 1));
	const [centreX, centreY] = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
	const px = (x: number) => (width / 2 + (x - centreX) * scale).toFixed(1);
	const py = (y: number) => (height / 2 - (y - centreY) * scale).toFixed(1);
	const columns = Math.ceil(width / grain);
	const isTaken = new Uint8Array(columns * Math.ceil(height / grain));
	const shades: string[] = [];
	const outline = (nodes: Uint32Array, size: number): string => {
		const parts: string[] = [];
		for (let e = 0; e < nodes.length; e += size) {
			let [minX, minY, maxX, maxY] = [Infinity, Infinity, -Infinity, -Infinity];
			for (let k = e; k < e + size; k++) {
				const [x, y] = [mesh.x[nodes[k]!]!, mesh.y[nodes[k]!]!];
				minX = Math.min(minX, x);
				maxX = Math.max(maxX, x);
				minY = Math.min(minY, y);
				maxY = Math.max(maxY, y);
			}
			if (scale * Math.max(maxX - minX, maxY - minY) < grain) {
				const column = Math.floor((width / 2 + ((minX + maxX) / 2 - centreX) * scale) / grain);
				const row = Math.floor((height / 2 - ((minY + maxY) / 2 - centreY) * scale) / grain);
				if (isTaken[row * columns + column]) continue;
				isTaken[row * columns + column] = 1;
				shades.push(`M${column * grain} ${row * grain}h${grain}v${grain}h-${grain}Z`);
				continue;
			}
			for (let k = 0; k < size; k++) {
				const i = nodes[e + k]!;
				parts.push(k === 0 ? 'M' : 'L', px(mesh.x[i]!), ' ', py(mesh.y[i]!));
			}
			parts.push('Z');
		}
		return parts.join('');
	};
	const colourOf = new Map<number, string>();
	for (const group of mesh.groups.filter(isBoundary)) for (const p of group.pieces) colourOf.set(p, groupColours[group.colour]);
	const pieces = arrangement.pieces.slice(0, 5000).map((piece, p) => {
		const line = flatten(piece, 0.3 / scale);
		let path = '';
		for (let k = 0; k < line.length; k += 2) path += `${k === 0 ? 'M' : 'L'}${px(line[k]!)} ${py(line[k + 1]!)}`;
		return `<path d="${path}" stroke="${colourOf.get(p) ?? '#22303C'}"/>`;
	});
	return [
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" data-view="${centreX} ${centreY} ${scale}">`,
		`<rect width="${width}" height="${height}" fill="#F5F2EA"/>`,
		`<g fill="none" stroke="#8A97A3" stroke-width="0.5"><path d="${outline(mesh.triangles, 3)}${outline(mesh.quads, 4)}"/></g>`,
		`<path d="${shades.join('')}" fill="#8A97A3" fill-opacity="0.45"/>`,
		`<g fill="none" stroke-width="1.6" stroke-linecap="round">${pieces.join('')}</g>`,
		result.held === undefined
			? ''
			: `<text x="${width / 2}" y="${height - 5}" text-anchor="middle" font-family="monospace" font-size="11" fill="#5A6772">about ${Number(result.held.toPrecision(2)).toLocaleString('en')} elements</text>`,
		'</svg>'
	].join('');
}
