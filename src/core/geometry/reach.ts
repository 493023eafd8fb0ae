import { ARC, type Curve, STRIDE } from './curve.ts';

/** Coordinates lie between −reach and reach, and a curve is no smaller than one over it: products of six coordinates stay numbers. */
export const reach = 1e30;

/** What of a curve is out of what numbers hold: too far away, or too small; undefined where nothing is. */
export function beyondReach({ kinds, data, control }: Curve): 'far' | 'small' | undefined {
	let size = 0;
	for (let i = 0; i < kinds.length; i++) {
		// Ends, control points, centre and radius are lengths; what follows are angles, or places in a list.
		const lengths = kinds[i] === ARC ? 7 : 8;
		for (let k = STRIDE * i; k < STRIDE * i + lengths; k++) if (!(Math.abs(data[k]!) <= reach)) return 'far';
		const at = STRIDE * i;
		size = Math.max(size, Math.abs(data[at + 2]! - data[0]!), Math.abs(data[at + 3]! - data[1]!));
		if (kinds[i] === ARC) size = Math.max(size, data[at + 6]!);
		else size = Math.max(size, Math.abs(data[at + 4]! - data[0]!), Math.abs(data[at + 5]! - data[1]!));
	}
	for (let k = 0; k < control.length; k++) if (!(Math.abs(control[k]!) <= reach)) return 'far';
	return size < 1 / reach ? 'small' : undefined;
}
