import { initWasm, Resvg } from '@resvg/resvg-wasm';
import wasm from '@resvg/resvg-wasm/index_bg.wasm?bytes';
import font from './fonts/DejaVuSans.ttf?bytes';

let ready: Promise<void> | undefined;

/**
 * An SVG picture in dots, on white; the same bytes wherever it runs.
 *
 * @param width in dots
 */
export async function pngOf(svg: string, width: number): Promise<Uint8Array> {
	await (ready ??= initWasm(wasm));
	const drawn = new Resvg(svg, {
		background: 'white',
		fitTo: { mode: 'width', value: width },
		font: { fontBuffers: [font], defaultFontFamily: 'DejaVu Sans', sansSerifFamily: 'DejaVu Sans' }
	});
	const image = drawn.render();
	const bytes = image.asPng();
	image.free();
	drawn.free();
	return bytes;
}
