import { cos, sin } from './elementary.ts';

/** So many angles are remembered, a power of two. */
const count = 1 << 12;
const angles = new Float64Array(count).fill(NaN);
/** The cosine and the sine of each, one after the other. */
const vectors = new Float64Array(2 * count);
const bits = new Float64Array(1);
const words = new Uint32Array(bits.buffer);

/**
 * Where the cosine of an angle stands in {@link unitVectors}; its sine follows it. Both as `elementary.ts` has them. A drawing
 * with many circles asks for the same angles over and over, and looking one up takes a tenth of working it out.
 */
export function unitVectorAt(angle: number): number {
	bits[0] = angle;
	const hash = Math.imul(words[0]! ^ Math.imul(words[1]!, 0x85ebca6b), 0x9e3779b1) >>> 20;
	if (angles[hash] !== angle) {
		angles[hash] = angle;
		vectors[2 * hash] = cos(angle);
		vectors[2 * hash + 1] = sin(angle);
	}
	return 2 * hash;
}

/** Cosine and sine of the angles asked for last; each pair holds until the next one is asked for. */
export const unitVectors: Float64Array = vectors;
