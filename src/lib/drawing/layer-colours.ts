import { interpolateCividis } from 'd3-scale-chromatic';
import type { LayerProfile } from '../../core/fill/method.ts';
import { screenX, screenY, type View } from './view.ts';

/** Layers along walls in colours: a value to each stack, of all layers the lowest and the highest. */
export interface LayerColours {
	of: readonly { profile: LayerProfile; value: Float64Array }[];
	low: number;
	high: number;
}

/** Colours for values along walls; undefined where none is a number. */
export function layerColours(of: LayerColours['of']): LayerColours | undefined {
	let [low, high] = [Infinity, -Infinity];
	for (const { value } of of) for (const v of value) if (Number.isFinite(v)) [low, high] = [Math.min(low, v), Math.max(high, v)];
	return low <= high ? { of, low, high } : undefined;
}

/** The colour of a value, from the lowest to the highest. */
export const colourOf = ({ low, high }: LayerColours, value: number): string =>
	interpolateCividis(high > low ? (value - low) / (high - low) : 1);

/** Paints each cell between two stacks in the colour of what they have on average. */
export function paintLayerColours(context: CanvasRenderingContext2D, view: View, colours: LayerColours): void {
	context.globalAlpha = 0.75;
	for (const { profile, value } of colours.of) {
		const { x, y, topX, topY, count } = profile;
		const starts = new Set(profile.runs);
		for (let k = 1; k < x.length; k++) {
			const mean = (value[k - 1]! + value[k]!) / 2;
			if (starts.has(k) || !Number.isFinite(mean) || (count[k] === 0 && count[k - 1] === 0)) continue;
			context.beginPath();
			context.moveTo(screenX(view, x[k - 1]!), screenY(view, y[k - 1]!));
			context.lineTo(screenX(view, x[k]!), screenY(view, y[k]!));
			context.lineTo(screenX(view, topX[k]!), screenY(view, topY[k]!));
			context.lineTo(screenX(view, topX[k - 1]!), screenY(view, topY[k - 1]!));
			context.closePath();
			context.fillStyle = colourOf(colours, mean);
			context.fill();
		}
	}
	context.globalAlpha = 1;
}
