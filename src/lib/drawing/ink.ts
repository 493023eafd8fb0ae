import type { Shown } from '../desk/snapshot.ts';
import { paintContours } from './size-contours.ts';
import { faceOutlines } from './outlines.ts';
import type { InkScene } from './ink-scene.ts';
import { paintFlags } from './ink-labels.ts';
import { paintPieces, paintTicks } from './ink-pieces.ts';
import { paintLayerColours } from './layer-colours.ts';
import { font, LabelRoom } from './label-room.ts';
import { trace } from './strokes.ts';
import type { Palette } from './palette.ts';
import { flatten } from '../../core/geometry/parts.ts';
import { segmentCount } from '../../core/geometry/curve.ts';
import { formatAt, niceStep, ruler, screenX, screenY, worldX, worldY, type View } from './view.ts';

/** Paints the ink layer: grid below, then axis, pieces, ticks, points, what is being drawn, rulers on top. */
export function paintInk(context: CanvasRenderingContext2D, scene: InkScene): void {
	const { view } = scene;
	context.clearRect(0, 0, view.width, view.height);
	const room = new LabelRoom();
	room.take(
		ruler.left + 10 + scene.strip.width / 2,
		ruler.top + 8 + scene.strip.height / 2,
		scene.strip.width / 2,
		scene.strip.height / 2
	);
	// Coordinates below on the left, the scale below on the right.
	room.take(ruler.left + 130, view.height - 15, 130, 12);
	room.take(view.width - 60, view.height - 18, 60, 16);
	paintFrame(context, scene);
	if (scene.result) {
		paintMirror(context, scene, scene.result);
		paintFaces(context, scene, scene.result);
		if (scene.station === 'fill') paintZones(context, scene, scene.result);
		if (scene.layerColours && scene.station === 'fill') paintLayerColours(context, view, scene.layerColours);
		if (scene.station === 'fill' || scene.station === 'divide') paintCuts(context, scene, scene.result);
		paintGuides(context, scene, scene.result);
		paintOriginals(context, scene, scene.result);
		paintPieces(context, scene, scene.result);
		if (scene.station === 'divide' || scene.station === 'fill') paintTicks(context, scene, scene.result, room);
		if (scene.contours.length > 0) paintContours(context, view, scene.palette, scene.contours);
		paintHandles(context, scene);
		paintPoints(context, scene, scene.result, room);
		paintCorners(context, scene);
		paintFlags(context, scene);
		paintIrregular(context, scene, scene.result);
		paintFindings(context, scene, scene.result);
	}
	paintDrafting(context, scene);
	paintRulers(context, scene);
}

/** Paints the grid; it lies below the mesh, on a canvas of its own. */
export function paintGrid(context: CanvasRenderingContext2D, view: View, palette: Palette): void {
	context.fillStyle = palette.paper;
	context.fillRect(0, 0, view.width, view.height);
	const step = niceStep(view.scale, 14);
	for (const [spacing, colour] of [
		[step, palette.grid],
		[step * 5, palette.edge]
	] as const) {
		context.beginPath();
		for (let i = Math.ceil(worldX(view, 0) / spacing); i * spacing <= worldX(view, view.width); i++) {
			const px = Math.round(screenX(view, i * spacing)) + 0.5;
			context.moveTo(px, 0);
			context.lineTo(px, view.height);
		}
		for (let i = Math.ceil(worldY(view, view.height) / spacing); i * spacing <= worldY(view, 0); i++) {
			const py = Math.round(screenY(view, i * spacing)) + 0.5;
			context.moveTo(0, py);
			context.lineTo(view.width, py);
		}
		context.strokeStyle = colour;
		context.globalAlpha = 0.7;
		context.lineWidth = 1;
		context.stroke();
		context.globalAlpha = 1;
	}
}

/** The origin, and the axis as a dash-dot line. */
function paintFrame(context: CanvasRenderingContext2D, { view, palette, result }: InkScene): void {
	const [ox, oy] = [screenX(view, 0), screenY(view, 0)];
	context.strokeStyle = palette.quiet;
	context.lineWidth = 1;
	context.beginPath();
	context.moveTo(ox - 7, oy);
	context.lineTo(ox + 7, oy);
	context.moveTo(ox, oy - 7);
	context.lineTo(ox, oy + 7);
	context.stroke();
	const frame = result?.model.frame;
	if (frame?.kind !== 'axisymmetric') return;
	context.setLineDash([14, 4, 2, 4]);
	context.strokeStyle = palette.kingfisher;
	context.beginPath();
	if (frame.axis === 'x') {
		context.moveTo(0, oy);
		context.lineTo(view.width, oy);
	} else {
		context.moveTo(ox, 0);
		context.lineTo(ox, view.height);
	}
	context.stroke();
	context.setLineDash([]);
}

/** Curves that only help, as thin dashes. */
function paintGuides(context: CanvasRenderingContext2D, { view, palette }: InkScene, { model }: Shown): void {
	if (model.guides.length === 0) return;
	context.setLineDash([3, 4]);
	context.strokeStyle = palette.quiet;
	context.lineWidth = 1;
	context.beginPath();
	for (const curve of model.guides) trace(context, view, flatten({ curve, t0: 0, t1: segmentCount(curve) }, 0.3 / view.scale));
	context.stroke();
	context.setLineDash([]);
}

function paintMirror(context: CanvasRenderingContext2D, { view, palette, lines }: InkScene, result: Shown): void {
	const { frame } = result.model;
	if (frame.kind !== 'axisymmetric') return;
	context.beginPath();
	result.arrangement.pieces.forEach((_, p) =>
		trace(context, view, lines.of(p), frame.axis === 'y' ? -1 : 1, frame.axis === 'x' ? -1 : 1)
	);
	context.strokeStyle = palette.ink;
	context.globalAlpha = 0.16;
	context.lineWidth = 1.2;
	context.stroke();
	context.globalAlpha = 1;
}

/** Zones with a size of their own: a dashed outline and a soft tint. */
function paintZones(context: CanvasRenderingContext2D, { view, palette }: InkScene, result: Shown): void {
	for (const outline of result.zoneOutlines) {
		context.beginPath();
		trace(context, view, outline);
		const n = outline.length;
		if (outline[0] === outline[n - 2] && outline[1] === outline[n - 1]) {
			context.fillStyle = palette.kingfisher;
			context.globalAlpha = 0.08;
			context.fill();
			context.globalAlpha = 1;
		}
		context.strokeStyle = palette.kingfisher;
		context.lineWidth = 1.2;
		context.setLineDash([5, 4]);
		context.stroke();
		context.setLineDash([]);
	}
}

/** Regions that are selected, and what the pointer is over, an outline that is no region yet too. */
function paintFaces(context: CanvasRenderingContext2D, { view, palette, isSelected, hover }: InkScene, result: Shown): void {
	const bare = /^face (\d+)$/.exec(hover)?.[1];
	const faces = result.regions.flatMap(({ name, face }) =>
		isSelected('region', name) ? [{ face, alpha: 0.28 }] : hover === `region ${name}` ? [{ face, alpha: 0.14 }] : []
	);
	if (bare !== undefined && Number(bare) < result.arrangement.faces.length) faces.push({ face: Number(bare), alpha: 0.18 });
	for (const { face, alpha } of faces) {
		context.beginPath();
		for (const outline of faceOutlines(result.arrangement, face)) {
			trace(context, view, outline);
			context.closePath();
		}
		context.fillStyle = palette.marigold;
		context.globalAlpha = alpha;
		context.fill('evenodd');
		context.globalAlpha = 1;
	}
}

/** Lines of which points were left out, as they were. */
function paintOriginals(context: CanvasRenderingContext2D, { view, palette, station }: InkScene, { model }: Shown): void {
	if (station !== 'shape') return;
	context.strokeStyle = palette.graphite;
	context.lineWidth = 1;
	for (const { x, y, closed } of model.thinned.values()) {
		context.beginPath();
		for (let k = 0; k < x.length; k++) context.lineTo(screenX(view, x[k]!), screenY(view, y[k]!));
		if (closed) context.closePath();
		context.stroke();
	}
}

/** A round grip for the count, square ones for the cells at the ends. */
function paintHandles(context: CanvasRenderingContext2D, { palette, handles }: InkScene): void {
	for (const { kind, px, py, isSelected } of handles) {
		context.beginPath();
		if (kind === 'count') context.arc(px, py, 6, 0, 2 * Math.PI);
		else context.rect(px - 5, py - 5, 10, 10);
		context.fillStyle = isSelected ? palette.marigold : palette.sheet;
		context.fill();
		context.strokeStyle = palette.marigold;
		context.lineWidth = 2;
		context.stroke();
		if (kind !== 'count') continue;
		// Two arrow heads: it goes both ways.
		context.beginPath();
		for (const way of [-1, 1]) {
			context.moveTo(px + way * 1.5, py - 2.5);
			context.lineTo(px + way * 4, py);
			context.lineTo(px + way * 1.5, py + 2.5);
		}
		context.stroke();
	}
}

/** Letters at the corners, rings where one could be, and bars across the sides: facing sides have as many. */
function paintCorners(context: CanvasRenderingContext2D, { palette, corners }: InkScene): void {
	if (!corners) return;
	context.strokeStyle = palette.marigold;
	context.lineWidth = 2.5;
	for (const { px, py, dx, dy, count } of corners.bars)
		for (let k = 0; k < count; k++) {
			const shift = 5 * (k - (count - 1) / 2);
			context.beginPath();
			context.moveTo(px + shift * dx - 7 * dy, py + shift * dy + 7 * dx);
			context.lineTo(px + shift * dx + 7 * dy, py + shift * dy - 7 * dx);
			context.stroke();
		}
	context.lineWidth = 1.5;
	context.fillStyle = palette.sheet;
	for (const { px, py } of corners.rings) {
		context.beginPath();
		context.arc(px, py, 4.5, 0, 2 * Math.PI);
		context.fill();
		context.stroke();
	}
	context.font = font;
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	for (const { px, py, letter } of corners.corners) {
		context.beginPath();
		context.arc(px, py, 8.5, 0, 2 * Math.PI);
		context.fillStyle = palette.marigold;
		context.fill();
		context.fillStyle = palette.ink;
		context.fillText(letter, px, py + 0.5);
	}
}

function paintPoints(
	context: CanvasRenderingContext2D,
	{ view, palette, station, isSelected, hover }: InkScene,
	result: Shown,
	room: LabelRoom
): void {
	context.font = font;
	context.textAlign = 'left';
	context.textBaseline = 'bottom';
	const isLit = (name: string) => isSelected('point', name) || hover === `point ${name}`;
	const points = [...result.model.points].sort((p, q) => Number(isLit(q.name)) - Number(isLit(p.name)));
	for (const { name, x, y } of points) {
		const [px, py] = [screenX(view, x), screenY(view, y)];
		const lit = isLit(name);
		context.beginPath();
		context.arc(px, py, lit ? 5 : station === 'shape' ? 3.2 : 2.2, 0, 2 * Math.PI);
		context.fillStyle = lit ? palette.marigold : palette.sheet;
		context.fill();
		context.strokeStyle = palette.ink;
		context.lineWidth = 1.2;
		context.stroke();
		if (station !== 'shape' && !lit) continue;
		if (px < 0 || py < 0 || px > view.width || py > view.height) continue;
		// Beside the point, wherever there is room for it; without any it comes when one looks nearer.
		const half = name.length * 3.4 + 1;
		const at = [
			[px + 6 + half, py - 10],
			[px - 6 - half, py - 10],
			[px + 6 + half, py + 11],
			[px - 6 - half, py + 11]
		].find(([lx, ly]) => room.take(lx!, ly!, half, 6)) as [number, number] | undefined;
		if (!at) continue;
		context.fillStyle = palette.quiet;
		context.fillText(name, at[0] - half, at[1] + 6);
	}
}

/** Lines between blocks that were found by themselves, thin. */
function paintCuts(context: CanvasRenderingContext2D, { view, palette }: InkScene, { blocks }: Shown): void {
	context.strokeStyle = palette.kingfisher;
	context.lineWidth = 1.4;
	context.beginPath();
	for (const { cuts } of blocks)
		for (const cut of cuts)
			for (let k = 0; k < cut.length; k += 2) {
				const [px, py] = [screenX(view, cut[k]!), screenY(view, cut[k + 1]!)];
				if (k === 0) context.moveTo(px, py);
				else context.lineTo(px, py);
			}
	context.stroke();
}

/** More irregular nodes than this in sight are not marked one by one. */
const mostIrregular = 4000;

/** Irregular nodes: rings where fewer than four quadrilaterals meet, dots where more do. */
function paintIrregular(context: CanvasRenderingContext2D, { view, palette, irregular }: InkScene, { mesh }: Shown): void {
	if (!irregular) return;
	context.lineWidth = 1.6;
	let painted = 0;
	irregular.nodes.forEach((node, k) => {
		const [px, py] = [screenX(view, mesh.x[node]!), screenY(view, mesh.y[node]!)];
		if (px < 0 || py < 0 || px > view.width || py > view.height || painted++ > mostIrregular) return;
		context.beginPath();
		context.arc(px, py, 3.6, 0, 2 * Math.PI);
		context.strokeStyle = palette.brick;
		context.fillStyle = palette.kingfisher;
		if (irregular.counts[k]! < 4) context.stroke();
		else context.fill();
	});
}

/** Findings with a place, as small open triangles. */
function paintFindings(context: CanvasRenderingContext2D, { view, palette, mark }: InkScene, result: Shown): void {
	for (const { at, severity, code } of result.findings) {
		if (!at || severity === 'note' || code === 'unlabelled') continue;
		const [px, py] = [screenX(view, at.x), screenY(view, at.y)];
		context.beginPath();
		context.moveTo(px, py - 8);
		context.lineTo(px + 8, py + 6);
		context.lineTo(px - 8, py + 6);
		context.closePath();
		context.fillStyle = palette.paper;
		context.strokeStyle = severity === 'error' ? palette.brick : palette.marigold;
		context.lineWidth = 2;
		context.fill();
		context.stroke();
	}
	if (!mark) return;
	context.beginPath();
	context.arc(screenX(view, mark.x), screenY(view, mark.y), 16, 0, 2 * Math.PI);
	context.strokeStyle = palette.brick;
	context.lineWidth = 2;
	context.stroke();
}

function paintDrafting(
	context: CanvasRenderingContext2D,
	{ view, palette, preview, placed, snap, box, lasso, dimensions }: InkScene
): void {
	if (box) {
		context.fillStyle = palette.marigold;
		context.globalAlpha = 0.12;
		context.fillRect(box.x0, box.y0, box.x1 - box.x0, box.y1 - box.y0);
		context.globalAlpha = 1;
		context.strokeStyle = palette.marigold;
		context.lineWidth = 1;
		context.strokeRect(box.x0 + 0.5, box.y0 + 0.5, box.x1 - box.x0, box.y1 - box.y0);
	}
	if (lasso.length > 0) {
		context.beginPath();
		for (let k = 0; k < lasso.length; k += 2) context.lineTo(lasso[k]!, lasso[k + 1]!);
		context.closePath();
		context.fillStyle = palette.marigold;
		context.globalAlpha = 0.12;
		context.fill();
		context.globalAlpha = 1;
		context.strokeStyle = palette.marigold;
		context.lineWidth = 1;
		context.stroke();
	}
	if (preview.length > 0) {
		context.strokeStyle = palette.kingfisher;
		context.lineWidth = 1.8;
		context.beginPath();
		for (const curve of preview) trace(context, view, flatten({ curve, t0: 0, t1: segmentCount(curve) }, 0.3 / view.scale));
		context.stroke();
	}
	context.fillStyle = palette.kingfisher;
	for (const place of placed) context.fillRect(screenX(view, place.x) - 3.5, screenY(view, place.y) - 3.5, 7, 7);
	context.font = font;
	context.textAlign = 'center';
	context.textBaseline = 'middle';
	for (const { x, y, text } of dimensions) {
		const [px, py] = [screenX(view, x), screenY(view, y)];
		context.fillStyle = palette.sheet;
		context.fillRect(px - text.length * 3.5 - 3, py - 7, text.length * 7 + 6, 14);
		context.fillStyle = palette.kingfisher;
		context.fillText(text, px, py + 0.5);
	}
	if (snap) {
		const [px, py] = [screenX(view, snap.x), screenY(view, snap.y)];
		context.strokeStyle = palette.kingfisher;
		context.lineWidth = 1.5;
		context.beginPath();
		if (snap.snap === 'grid' || snap.snap === 'free') {
			context.moveTo(px - 5, py);
			context.lineTo(px + 5, py);
			context.moveTo(px, py - 5);
			context.lineTo(px, py + 5);
		} else context.rect(px - 5, py - 5, 10, 10);
		context.stroke();
		if (snap.snap !== 'grid' && snap.snap !== 'free' && snap.snap !== 'typed') {
			context.font = font;
			context.textAlign = 'left';
			context.textBaseline = 'middle';
			context.fillStyle = palette.kingfisher;
			context.fillText(snap.snap, px + 12, py - 12);
		}
	}
}

function paintRulers(context: CanvasRenderingContext2D, { view, palette, snap }: InkScene): void {
	context.fillStyle = palette.sheet;
	context.fillRect(0, 0, view.width, ruler.top);
	context.fillRect(0, 0, ruler.left, view.height);
	context.font = "10px 'IBM Plex Mono', monospace";
	context.fillStyle = palette.quiet;
	context.strokeStyle = palette.graphite;
	context.lineWidth = 1;
	const major = niceStep(view.scale, 70);
	const minor = major / 5;
	context.beginPath();
	context.textAlign = 'left';
	context.textBaseline = 'top';
	for (let i = Math.ceil(worldX(view, ruler.left) / minor); i * minor <= worldX(view, view.width); i++) {
		const px = Math.round(screenX(view, i * minor)) + 0.5;
		const isMajor = i % 5 === 0;
		context.moveTo(px, ruler.top);
		context.lineTo(px, ruler.top - (isMajor ? 12 : 4));
		if (isMajor && px < view.width - 34) context.fillText(formatAt(i * minor, major), px + 3, 3);
	}
	context.textAlign = 'right';
	context.textBaseline = 'bottom';
	for (let i = Math.ceil(worldY(view, view.height) / minor); i * minor <= worldY(view, ruler.top); i++) {
		const py = Math.round(screenY(view, i * minor)) + 0.5;
		const isMajor = i % 5 === 0;
		context.moveTo(ruler.left, py);
		context.lineTo(ruler.left - (isMajor ? 12 : 4), py);
		if (isMajor && py > ruler.top + 12) context.fillText(formatAt(i * minor, major), ruler.left - 4, py - 1);
	}
	context.moveTo(0, ruler.top + 0.5);
	context.lineTo(view.width, ruler.top + 0.5);
	context.moveTo(ruler.left + 0.5, 0);
	context.lineTo(ruler.left + 0.5, view.height);
	context.stroke();
	context.fillStyle = palette.sheet;
	context.fillRect(0, 0, ruler.left, ruler.top);
	if (!snap) return;
	context.fillStyle = palette.kingfisher;
	context.fillRect(screenX(view, snap.x) - 0.5, ruler.top - 6, 2, 6);
	context.fillRect(ruler.left - 6, screenY(view, snap.y) - 0.5, 6, 2);
}
