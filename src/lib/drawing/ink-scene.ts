import type { IrregularNodes } from '../../core/quality/irregular.ts';
import type { Curve } from '../../core/geometry/curve.ts';
import type { SizeContour } from '../../core/sizing/contours.ts';
import type { Station } from '../desk/desk.svelte.ts';
import type { ThingKind } from '../desk/selection.svelte.ts';
import type { Shown } from '../desk/snapshot.ts';
import type { CornerMarks } from './corners.ts';
import type { Handle } from './handles.ts';
import type { LayerColours } from './layer-colours.ts';
import type { PieceLines } from './outlines.ts';
import type { Palette } from './palette.ts';
import type { Place } from './tools/tool.ts';
import type { View } from './view.ts';

/** All that the ink layer shows. */
export interface InkScene {
	view: View;
	palette: Palette;
	result: Shown | undefined;
	lines: PieceLines;
	names: readonly string[];
	station: Station;
	isSelected: (kind: ThingKind, name: string) => boolean;
	hover: string;
	unlabelled: ReadonlySet<number>;
	/** What the present tool would draw. */
	preview: readonly Curve[];
	/** Places given so far to what is being drawn. */
	placed: readonly Place[];
	/** Lengths shown while a point is dragged. */
	dimensions: readonly { x: number; y: number; text: string }[];
	snap: Place | undefined;
	box: { x0: number; y0: number; x1: number; y1: number } | undefined;
	/** A line drawn around what is to be selected, flat x, y pairs in pixels. */
	lasso: readonly number[];
	/** Nodes at which other than four quadrilaterals meet, where they are to be seen. */
	irregular: IrregularNodes | undefined;
	mark: { x: number; y: number } | undefined;
	/** Grips of the selected piece in Divide. */
	handles: readonly Handle[];
	/** Corners of the selected structured region in Fill. */
	corners: CornerMarks | undefined;
	/** Nodes that groups share, in the colour of their owner, in pixels. */
	flags: readonly { px: number; py: number; colour: string }[];
	/** Layers in the colours of what is plotted along them. */
	layerColours: LayerColours | undefined;
	/** Contours of the element size, where they are to be seen. */
	contours: readonly SizeContour[];
	/** The room that the tools take at the upper left, where no names are written. */
	strip: { width: number; height: number };
}

/** What the ink is painted from: large things by themselves, small ones as text; with the same parts it looks the same. */
export function inkParts(scene: InkScene, selection: readonly string[]): unknown[] {
	const { view, palette, result, station, hover, unlabelled, preview, placed, contours } = scene;
	const { dimensions, snap, box, lasso, mark, handles, corners, flags, strip } = scene;
	return [
		...[view, palette, result?.arrangement, result?.divisions.pieces, contours, station, hover],
		// Curves of a tool are made anew with every look at it.
		preview.length > 0 ? preview : undefined,
		scene.irregular,
		scene.layerColours,
		JSON.stringify([selection, [...unlabelled], placed, dimensions, snap, box, lasso, mark, handles, corners, flags, strip]),
		result &&
			JSON.stringify([
				result.model.points,
				result.model.frame,
				result.model.guides.map(({ name, data }) => [name, ...data]),
				result.regions,
				result.blocks.map(({ cuts }) => cuts.map((cut) => [cut[0], cut[1], cut.length])),
				result.mesh.groups,
				result.findings.map(({ at, severity, code }) => [at, severity, code]),
				result.zoneOutlines.map((outline) => [...outline])
			])
	];
}
