import type { Fill, FillInput } from '../method.ts';

/** Cuts every quadrilateral along its shorter diagonal: of a grid, two triangles with a right angle to a cell. */
export function halveQuads(input: FillInput, fill: Fill): Fill {
	const given = input.x.length;
	const x = (p: number) => (p < given ? input.x[p]! : fill.x[p - given]!);
	const y = (p: number) => (p < given ? input.y[p]! : fill.y[p - given]!);
	const { quads } = fill;
	const triangles = new Uint32Array((6 * quads.length) / 4);
	for (let q = 0, t = 0; q < quads.length; q += 4, t += 6) {
		const [a, b, c, d] = [quads[q]!, quads[q + 1]!, quads[q + 2]!, quads[q + 3]!];
		const one = (x(c) - x(a)) ** 2 + (y(c) - y(a)) ** 2;
		const other = (x(d) - x(b)) ** 2 + (y(d) - y(b)) ** 2;
		// Of equal diagonals the first, so that the cuts of a grid run alongside.
		triangles.set(one <= other * (1 + 1e-12) ? [a, b, c, a, c, d] : [a, b, d, b, c, d], t);
	}
	return { x: fill.x, y: fill.y, triangles, quads: new Uint32Array(0) };
}
