import { screenX, screenY, type View } from './view.ts';

/** A canvas emptied and as large as its view on this screen; what is drawn on it is given in pixels of the view. */
export function cleared(canvas: HTMLCanvasElement, { width, height }: View): CanvasRenderingContext2D {
	canvas.width = width * devicePixelRatio;
	canvas.height = height * devicePixelRatio;
	const context = canvas.getContext('2d')!;
	context.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
	return context;
}

/** Adds a line, flat x, y pairs in recipe units, to the path of a context. */
export function trace(context: CanvasRenderingContext2D, view: View, line: Float64Array, flipX = 1, flipY = 1): void {
	for (let k = 0; k < line.length; k += 2) {
		const px = screenX(view, flipX * line[k]!);
		const py = screenY(view, flipY * line[k + 1]!);
		if (k === 0) context.moveTo(px, py);
		else context.lineTo(px, py);
	}
}

/** So many lines are drawn at once: of more a path becomes slow to fill in. */
const mostInStroke = 256;

/** Lines that follow one another in the same look are drawn at once: each by itself costs as much as a hundred together. */
export class Strokes {
	private look = '';
	private lines = 0;

	constructor(private readonly context: CanvasRenderingContext2D) {}

	/** What is traced next is drawn in this look. */
	with(colour: string, width: number, alpha = 1, dashed = false): void {
		const look = `${colour} ${width} ${alpha} ${dashed}`;
		if (look === this.look && this.lines++ < mostInStroke) return;
		this.end();
		const { context } = this;
		context.strokeStyle = colour;
		context.lineWidth = width;
		context.globalAlpha = alpha;
		if (dashed) context.setLineDash([6, 4]);
		context.beginPath();
		this.look = look;
	}

	/** Draws what was traced. */
	end(): void {
		const { context } = this;
		if (this.look !== '') context.stroke();
		this.look = '';
		this.lines = 0;
		context.setLineDash([]);
		context.globalAlpha = 1;
	}
}
