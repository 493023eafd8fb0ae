import { isBoundary } from '../core/mesh/mesh.ts';
import { extent } from '../core/geometry/curve.ts';
import { flatten } from '../core/geometry/parts.ts';
import { log } from '../core/numeric/elementary.ts';
import type { Result } from '../core/pipeline.ts';
import { groupColours } from '../core/recipe/language/boundary-kinds.ts';
import type { FigureOptions } from './figure-options.ts';
import { UserError } from '../core/text/user-error.ts';

/** What a figure is drawn from: lines and words, in millimetres from its upper left corner. */
export type Stroke =
	| { kind: 'path'; points: readonly number[][]; closed: boolean; colour: string; width: number }
	| { kind: 'bar'; x: number; y: number; width: number; height: number; colour: string }
	| { kind: 'text'; x: number; y: number; text: string; size: number };

export interface Figure {
	width: number;
	height: number;
	strokes: Stroke[];
}

/** Line widths in print, in millimetres: of elements, of pieces, of pieces in a group. */
const widths = { element: 0.08, piece: 0.25, group: 0.5 };
const graphite = '#8A97A3';
export const ink = '#22303C';
/** A figure holds no more elements than this. */
const mostElements = 300_000;

/**
 * A figure of a result: elements, pieces in the colours of their groups, a scale bar and a legend.
 *
 * @throws Error with a sentence where there are too many elements to print
 */
export function figureOf({ mesh, arrangement, model }: Result, options: FigureOptions): Figure {
	const count = mesh.triangles.length / 3 + mesh.quads.length / 4;
	if (options.mesh === 'yes' && count > mostElements)
		throw new UserError(
			`${count.toLocaleString('en')} elements are too many for a figure in lines; “mesh no” draws the outline alone, and a picture in dots can be saved from the drawing`
		);
	const width = Number(options.width);
	const margin = 4;
	const box = extent(arrangement.curves) ?? [0, 0, 1, 1];
	const scale = (width - 2 * margin) / (box[2] - box[0] || 1);
	const tall = (box[3] - box[1]) * scale;
	const px = (x: number) => margin + (x - box[0]) * scale;
	const py = (y: number) => margin + (box[3] - y) * scale;
	const strokes: Stroke[] = [];
	if (options.mesh === 'yes')
		for (const [nodes, size] of [
			[mesh.triangles, 3],
			[mesh.quads, 4]
		] as const)
			for (let k = 0; k < nodes.length; k += size)
				strokes.push({
					kind: 'path',
					points: Array.from({ length: size }, (_, i) => [px(mesh.x[nodes[k + i]!]!), py(mesh.y[nodes[k + i]!]!)]),
					closed: true,
					colour: graphite,
					width: widths.element
				});
	const colourOf = new Map<number, string>();
	if (options.legend === 'yes')
		for (const group of mesh.groups.filter(isBoundary)) for (const p of group.pieces) colourOf.set(p, groupColours[group.colour]);
	arrangement.pieces.forEach((piece, p) => {
		const line = flatten(piece, 0.02 / scale);
		const points: number[][] = [];
		for (let k = 0; k < line.length; k += 2) points.push([px(line[k]!), py(line[k + 1]!)]);
		const colour = colourOf.get(p);
		strokes.push({ kind: 'path', points, closed: false, colour: colour ?? ink, width: colour ? widths.group : widths.piece });
	});
	let y = margin + tall + 6;
	if (options.scale === 'yes') {
		const length = niceLength((box[2] - box[0]) / 5);
		strokes.push({
			kind: 'path',
			points: [
				[margin, y - 1],
				[margin, y],
				[margin + length * scale, y],
				[margin + length * scale, y - 1]
			],
			closed: false,
			colour: ink,
			width: 0.2
		});
		strokes.push({ kind: 'text', x: margin + length * scale + 2, y: y + 0.8, text: `${length} ${model.units}`, size: 3 });
		y += 6;
	}
	if (options.legend === 'yes') {
		let x = margin;
		for (const group of mesh.groups.filter(isBoundary)) {
			if (group.pieces.length === 0) continue;
			const wide = 8 + 1.9 * group.name.length;
			if (x > margin && x + wide > width - margin) {
				x = margin;
				y += 5;
			}
			strokes.push({ kind: 'bar', x, y: y - 1.6, width: 4, height: 1.2, colour: groupColours[group.colour] });
			strokes.push({ kind: 'text', x: x + 5.5, y, text: group.name, size: 3 });
			x += wide;
		}
		y += 5;
	}
	return { width, height: Math.max(y - 2, margin + tall + margin), strokes };
}

/** A length of one, two or five times a power of ten, no longer than another. */
function niceLength(most: number): number {
	const power = Number(`1e${Math.floor(log(most) / Math.LN10)}`);
	const lead = most / power;
	return Number(((lead >= 5 ? 5 : lead >= 2 ? 2 : 1) * power).toPrecision(3));
}

const brief = (value: number) => String(Number(value.toFixed(3)));
const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;');

/** A figure as SVG, its sizes in millimetres. */
export function figureSvg({ width, height, strokes }: Figure): string {
	// Neighbours of one kind share an element, so that a mesh is not a million of them.
	const parts: string[] = [];
	let open: { colour: string; width: number; data: string[] } | undefined;
	const close = () => {
		if (open)
			parts.push(
				`<path d="${open.data.join('')}" fill="none" stroke="${open.colour}" stroke-width="${open.width}" stroke-linejoin="round" stroke-linecap="round"/>`
			);
		open = undefined;
	};
	for (const stroke of strokes) {
		if (stroke.kind !== 'path') {
			close();
			parts.push(
				stroke.kind === 'text'
					? `<text x="${brief(stroke.x)}" y="${brief(stroke.y)}" font-family="sans-serif" font-size="${stroke.size}" fill="${ink}">${escaped(stroke.text)}</text>`
					: `<rect x="${brief(stroke.x)}" y="${brief(stroke.y)}" width="${stroke.width}" height="${stroke.height}" fill="${stroke.colour}"/>`
			);
			continue;
		}
		if (open?.colour !== stroke.colour || open.width !== stroke.width) {
			close();
			open = { colour: stroke.colour, width: stroke.width, data: [] };
		}
		open!.data.push(pathData(stroke.points, stroke.closed));
	}
	close();
	return [
		`<svg xmlns="http://www.w3.org/2000/svg" width="${brief(width)}mm" height="${brief(height)}mm" viewBox="0 0 ${brief(width)} ${brief(height)}">`,
		...parts,
		'</svg>',
		''
	].join('\n');
}

const pathData = (points: readonly number[][], closed: boolean) =>
	`${points.map(([x, y], k) => `${k === 0 ? 'M' : 'L'}${brief(x!)} ${brief(y!)}`).join('')}${closed ? 'Z' : ''}`;
