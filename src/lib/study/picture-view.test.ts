import { describe, expect, it } from 'vitest';
import { finish } from '../../core/numeric/work.ts';
import { Pipeline } from '../../core/pipeline.ts';
import { drawPicture } from '../../formats/picture.ts';
import { atScale, viewOf } from './picture-view.ts';

const picture = (width: number) =>
	drawPicture(
		finish(
			new Pipeline(() => 0).run({
				text: `recipe 1\nrectangle b = (10, 0) to (${10 + width}, 3)\nregion r bounded by b\nsize 1\nfill r triangles`,
				files: {}
			})
		)
	);

describe('pictures of a study', () => {
	it('say what they show, so that they can be laid over each other and shown at one scale', () => {
		const [small, large] = [picture(4), picture(12)];
		expect(viewOf(large)).toEqual({ x: 16, y: 1.5, scale: 444 / 12 });
		expect(viewOf(small).x).toBe(12);
		const least = Math.min(viewOf(small).scale, viewOf(large).scale);
		expect(atScale(large, least)).toEqual({ x: 0, y: 0, width: 480, height: 270 });
		// A length of the model is as many units in both.
		expect((atScale(small, least).width / 480) * viewOf(small).scale).toBeCloseTo(least, 10);
	});
});
