import { Delaunay } from 'd3-delaunay';
import Flatbush from 'flatbush';
import { numbers } from '../src/core/fill/domains.test-support.ts';
import { arrange } from '../src/core/geometry/arrangement.ts';
import { lineCurve } from '../src/core/geometry/build.ts';
import { segmentBox } from '../src/core/geometry/curve.ts';
import { finish } from '../src/core/numeric/work.ts';
import { Pipeline, type Result } from '../src/core/pipeline.ts';
import { readRows } from '../src/formats/file-kind.ts';
import type { CoordinateFiles } from '../src/core/recipe/model/model.ts';
import { pairs, summarised, type Ratio } from './ratio.ts';

/** The arrangement of 100 000 short segments, against searching an index of their boxes with each of them. */
export function arrangementAgainstSearch(): Ratio {
	const { next } = numbers(7);
	const curves = Array.from({ length: 100_000 }, (_, k) => {
		const [x, y, a] = [next(), next(), 2 * Math.PI * next()];
		return lineCurve(`s${k}`, { x, y }, { x: x + 0.004 * Math.cos(a), y: y + 0.004 * Math.sin(a) });
	});
	const boxes = curves.map((curve) => segmentBox(curve, 0));
	const { pieces } = arrange(curves);
	return {
		what: `arrangement of 100 000 random segments, which cut one another into ${pieces.length} pieces`,
		against: '“flatbush” searching the same boxes',
		...pairs(
			5,
			() => arrange(curves),
			() => {
				const index = new Flatbush(boxes.length);
				for (const box of boxes) index.add(...box);
				index.finish();
				for (const box of boxes) index.search(...box);
			}
		),
		wanted: '≤ 4'
	};
}

/** Places on a closed wavy outline, one to a line. */
const outline = (count: number): string => {
	const { next } = numbers(3);
	return Array.from({ length: count }, (_, k) => {
		const a = (2 * Math.PI * k) / count;
		const r = 10 + Math.sin(7 * a) + 0.3 * Math.sin(61 * a) + 2e-4 * next();
		return `${r * Math.cos(a)}, ${r * Math.sin(a)}`;
	}).join('\n');
};

/** A file of such an outline, as it is read. */
const rows = (count: number): CoordinateFiles[string] => readRows(new TextEncoder().encode(outline(count)));

const run = (text: string, files: CoordinateFiles): Result =>
	finish(new Pipeline(() => performance.now()).run({ text: `recipe 1\n${text}`, files }));

/** The shape stage of a spline of 3 000 points, against that of a polyline of the same. */
export function splineAgainstPolyline(): Ratio {
	const files = { 'wall.csv': rows(3000) };
	const shape = (kind: string) => run(`${kind} c = through "wall.csv" closed\nregion r at (0, 0)`, files).timings.shape!;
	shape('spline');
	shape('polyline');
	return {
		what: 'the shape stage of a closed spline of 3 000 points',
		against: 'that of a polyline of the same',
		...summarised(Array.from({ length: 9 }, () => shape('spline') / shape('polyline'))),
		wanted: '≤ 1.5'
	};
}

/** A whole run over a coast of 50 000 points, against the bare triangulation of the nodes that it ends with. */
export function coastAgainstTriangulation(): Ratio {
	const bytes = new TextEncoder().encode(outline(50_000));
	let runs = 0;
	const mesh = () => {
		// Another name each time: a statement that was worked out before is not worked out again.
		const text = `polyline c${runs++} = through "coast.csv" closed\nregion r at (0, 0)\nsize 0.5 growth 1.3\nfill r triangles`;
		return run(text, { 'coast.csv': readRows(bytes) }).mesh;
	};
	const { x, y, triangles } = mesh();
	const points = new Float64Array(2 * x.length);
	for (let i = 0; i < x.length; i++) [points[2 * i], points[2 * i + 1]] = [x[i]!, y[i]!];
	return {
		what: `a coast of 50 000 points, from its file to ${triangles.length / 3} triangles and their quality`,
		against: '“d3-delaunay” triangulating the same final nodes',
		...pairs(5, mesh, () => new Delaunay(points)),
		wanted: '≤ 2.2'
	};
}
