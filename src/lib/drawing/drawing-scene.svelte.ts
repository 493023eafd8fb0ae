import { thingKey, type Desk } from '../desk/desk.svelte.ts';
import type { Shown } from '../desk/snapshot.ts';
import type { Drafting } from './drafting.svelte.ts';
import type { PointerPlace } from './pointer-place.ts';
import { faceAt, insideOutline } from '../../core/geometry/faces.ts';
import { rowKey } from './file-points.ts';
import { RowGrip } from './row-grip.svelte.ts';
import { pieceAt, pieceInBox, pieceInLoop, PieceLines, regionAt } from './outlines.ts';
import { snapAt } from './snap.ts';
import { screenX, screenY, worldX, worldY, type View } from './view.ts';

/** What gestures work on: the view, and what lies where in it. */
export class DrawingScene {
	view = $state.raw<View>({ x: 50, y: 30, scale: 4, width: 0, height: 0 });
	/** The point that is being dragged, and where it is now. */
	moving = $state.raw<{ name: string; x: number; y: number } | undefined>();
	/** The outline without a region that was clicked, and where. */
	face = $state.raw<{ face: number; px: number; py: number } | undefined>();
	readonly lines = new PieceLines();

	constructor(
		readonly desk: Desk,
		readonly drafting: Drafting
	) {}

	/** The last result with what newer statements draw, so that what was just typed can be snapped to. */
	get shown(): Shown | undefined {
		const { result, newest } = this.desk;
		return result && newest && newest !== result.model ? { ...result, model: newest } : result;
	}

	/** Sets what the tool's next answer would be: the place under the pointer, and the curve. */
	aim({ px, py, snapping }: PointerPlace): void {
		const { desk, drafting, view } = this;
		const piece = this.pieceUnder(px, py);
		const curve = piece < 0 ? undefined : desk.result!.arrangement.pieces[piece]!.owner;
		drafting.under = curve === undefined ? undefined : desk.result!.model.curves[curve]!.name;
		drafting.cursor = snapAt(view, px, py, this.shown, { snapping, from: drafting.from, curve });
		const picks = ['curve', 'curves', 'either'].includes(drafting.wants);
		desk.hover = picks && piece >= 0 ? thingKey('piece', desk.names[piece]!) : '';
	}

	/** Selects what lies under a pixel; nothing there clears the selection. */
	pick(px: number, py: number, adding: boolean): void {
		const thing = this.thingAt(px, py);
		const bare = /^face (\d+)$/.exec(thing ?? '')?.[1];
		this.face = bare !== undefined && this.desk.isCurrent ? { face: Number(bare), px, py } : undefined;
		if (bare !== undefined) {
			if (!adding) this.desk.selection.clear();
		} else if (thing) this.desk.select([thing], adding);
		else if (!adding) this.desk.selection.clear();
	}

	pointUnder(px: number, py: number) {
		const { view } = this;
		return this.desk.result?.model.points.find((p) => Math.hypot(screenX(view, p.x) - px, screenY(view, p.y) - py) < 8);
	}

	/** The piece under a pixel, or −1. */
	pieceUnder(px: number, py: number): number {
		const { lines, view } = this;
		const { result } = this.desk;
		if (!result) return -1;
		lines.use(result.arrangement, view.scale);
		return pieceAt(result, lines, worldX(view, px), worldY(view, py), 7 / view.scale);
	}

	/** What lies under a pixel: a point in Shape, a piece, a region, or an outline that is none. */
	thingAt(px: number, py: number): string | undefined {
		const { desk, view } = this;
		const { result } = desk;
		if (!result) return undefined;
		if (desk.station === 'shape') {
			const point = desk.tool === 'select' ? this.pointUnder(px, py) : undefined;
			if (point) return thingKey('point', point.name);
		}
		const piece = this.pieceUnder(px, py);
		if (piece >= 0) return thingKey('piece', desk.names[piece]!);
		const place = { x: worldX(view, px), y: worldY(view, py) };
		const region = regionAt(result, place.x, place.y);
		if (region >= 0) return thingKey('region', result.regions[region]!.name);
		const face = desk.station === 'deliver' ? -1 : faceAt(result.arrangement, place);
		return face >= 0 ? `face ${face}` : undefined;
	}

	/** What a closed line of pixels, flat x, y pairs, goes around or across. */
	thingsInLasso(line: readonly number[]): string[] {
		const { desk, view, lines } = this;
		const { result } = desk;
		if (!result) return [];
		const loop = Float64Array.from(line, (v, k) => (k % 2 === 0 ? worldX(view, v) : worldY(view, v)));
		const rows = this.rowsInLoop(loop);
		if (rows.length > 0) return rows;
		lines.use(result.arrangement, view.scale);
		const pieces = desk.names.filter((_, p) => pieceInLoop(lines.of(p), loop)).map((name) => thingKey('piece', name));
		if (desk.station !== 'shape') return pieces;
		const points = result.model.points.filter((p) => insideOutline(loop, p.x, p.y));
		return [...pieces, ...points.map((p) => thingKey('point', p.name))];
	}

	/** Points of the selected curve of a file within a loop, with the curve; none where the loop goes around all of them. */
	private rowsInLoop(loop: Float64Array): string[] {
		const shown = new RowGrip(this.desk).points(this.view);
		const inside = shown.filter((p) => insideOutline(loop, p.x, p.y));
		if (inside.length === 0 || inside.length === shown.length) return [];
		return [...this.desk.selected('piece').map((name) => thingKey('piece', name)), ...inside.map(rowKey)];
	}

	thingsInBox(x0: number, y0: number, x1: number, y1: number): string[] {
		const { desk, view, lines } = this;
		const { result } = desk;
		if (!result) return [];
		const [minX, maxX] = [worldX(view, Math.min(x0, x1)), worldX(view, Math.max(x0, x1))];
		const [minY, maxY] = [worldY(view, Math.max(y0, y1)), worldY(view, Math.min(y0, y1))];
		lines.use(result.arrangement, view.scale);
		const pieces = desk.names
			.filter((_, p) => pieceInBox(lines.of(p), minX, minY, maxX, maxY))
			.map((name) => thingKey('piece', name));
		if (desk.station !== 'shape') return pieces;
		const points = result.model.points.filter((p) => p.x >= minX && p.x <= maxX && p.y >= minY && p.y <= maxY);
		return [...pieces, ...points.map((p) => thingKey('point', p.name))];
	}
}
