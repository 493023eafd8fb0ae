/** minX, minY, maxX, maxY of points. */
export function boxOf(x: Float64Array, y: Float64Array): [number, number, number, number] {
	const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
	for (let i = 0; i < x.length; i++) {
		box[0] = Math.min(box[0], x[i]!);
		box[1] = Math.min(box[1], y[i]!);
		box[2] = Math.max(box[2], x[i]!);
		box[3] = Math.max(box[3], y[i]!);
	}
	return box;
}
