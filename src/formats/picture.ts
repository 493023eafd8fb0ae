import { groupColours } from '../core/mesh/boundary-kinds.ts';
import type { Result } from '../core/pipeline.ts';
import { extent } from '../core/shape/arrangement.ts';
import { flatten } from '../core/shape/parts.ts';

const width = 480;
const height = 270;
const margin = 18;
/** Above this many, elements are drawn by a regular selection, so that the picture stays small. */
const elementsDrawn = 12000;

/** Draws a result as a small SVG picture on drafting paper: mesh lines in graphite, pieces in ink or their group's colour. */
export function drawPicture(result: Result): string {
	const { mesh, arrangement } = result;
	const box = extent(arrangement.curves) ?? [0, 0, 1, 1];
	const scale = Math.min((width - 2 * margin) / (box[2] - box[0] || 1), (height - 2 * margin) / (box[3] - box[1] || 1));
	const px = (x: number) => (width / 2 + (x - (box[0] + box[2]) / 2) * scale).toFixed(1);
	const py = (y: number) => (height / 2 - (y - (box[1] + box[3]) / 2) * scale).toFixed(1);
	const outline = (nodes: Uint32Array, size: number): string => {
		const count = nodes.length / size;
		const step = Math.max(1, Math.ceil(count / elementsDrawn));
		let path = '';
		for (let e = 0; e < count; e += step) {
			for (let k = 0; k < size; k++) {
				const i = nodes[size * e + k]!;
				path += `${k === 0 ? 'M' : 'L'}${px(mesh.x[i]!)} ${py(mesh.y[i]!)}`;
			}
			path += 'Z';
		}
		return path;
	};
	const colourOf = new Map<number, string>();
	for (const group of mesh.groups) for (const p of group.pieces) colourOf.set(p, groupColours[group.colour]);
	const pieces = arrangement.pieces.slice(0, 5000).map((piece, p) => {
		const line = flatten(piece, 0.3 / scale);
		let path = '';
		for (let k = 0; k < line.length; k += 2) path += `${k === 0 ? 'M' : 'L'}${px(line[k]!)} ${py(line[k + 1]!)}`;
		return `<path d="${path}" stroke="${colourOf.get(p) ?? '#22303C'}"/>`;
	});
	return [
		`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}">`,
		`<rect width="${width}" height="${height}" fill="#F5F2EA"/>`,
		`<g fill="none" stroke="#8A97A3" stroke-width="0.5"><path d="${outline(mesh.triangles, 3)}${outline(mesh.quads, 4)}"/></g>`,
		`<g fill="none" stroke-width="1.6" stroke-linecap="round">${pieces.join('')}</g>`,
		'</svg>'
	].join('');
}
