import {
	closePath,
	LineCapStyle,
	LineJoinStyle,
	lineTo,
	moveTo,
	PDFDocument,
	rgb,
	setLineCap,
	setLineJoin,
	setLineWidth,
	setStrokingColor,
	StandardFonts,
	stroke as strokePath
} from 'pdf-lib';
import { type Figure, ink } from './figure.ts';

/** Points of a millimetre, the unit of PDF. */
const point = 72 / 25.4;

/** A figure as PDF, in vectors, on a page of its own size. */
export async function figurePdf({ width, height, strokes }: Figure, title: string): Promise<Uint8Array> {
	const file = await PDFDocument.create();
	file.setTitle(title);
	// The same mesh gives the same bytes.
	const always = new Date(Date.UTC(2000, 0, 1));
	file.setCreationDate(always);
	file.setModificationDate(always);
	const page = file.addPage([width * point, height * point]);
	const font = await file.embedFont(StandardFonts.Helvetica);
	const colourOf = (colour: string) => {
		const value = parseInt(colour.slice(1), 16);
		return rgb((value >> 16) / 255, ((value >> 8) & 255) / 255, (value & 255) / 255);
	};
	const px = (x: number) => x * point;
	const py = (y: number) => (height - y) * point;
	let last = '';
	for (const stroke of strokes) {
		if (stroke.kind === 'text') {
			// The built-in font has Western letters only.
			const text = stroke.text.replace(/[^\x20-\x7e\xa0-\xff]/g, '?');
			page.drawText(text, { x: px(stroke.x), y: py(stroke.y), size: stroke.size * point, font, color: colourOf(ink) });
			last = '';
		} else if (stroke.kind === 'bar') {
			page.drawRectangle({
				x: px(stroke.x),
				y: py(stroke.y + stroke.height),
				width: stroke.width * point,
				height: stroke.height * point,
				color: colourOf(stroke.colour)
			});
			last = '';
		} else {
			const style = `${stroke.colour} ${stroke.width}`;
			if (style !== last)
				page.pushOperators(
					setStrokingColor(colourOf(stroke.colour)),
					setLineWidth(stroke.width * point),
					setLineCap(LineCapStyle.Round),
					setLineJoin(LineJoinStyle.Round)
				);
			last = style;
			page.pushOperators(
				...stroke.points.map(([x, y], k) => (k === 0 ? moveTo(px(x!), py(y!)) : lineTo(px(x!), py(y!)))),
				...(stroke.closed ? [closePath()] : []),
				strokePath()
			);
		}
	}
	return file.save({ useObjectStreams: true });
}
