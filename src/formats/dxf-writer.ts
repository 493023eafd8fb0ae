import { cos, sin } from '../core/numeric/elementary.ts';
import { segmentRows } from '../core/geometry/build.ts';
import { ARC, LINE, segmentCount, segmentPoint, STRIDE, type Curve, type Point } from '../core/geometry/curve.ts';
import { insertUnits } from './dxf-units.ts';

/**
 * The curves as a DXF text file (the AC1015 edition), each on the layer of its own name; lines,
 * arcs and circles as such, other segments as splines, exactly.
 */
export function writeDxf(curves: readonly Curve[], unit: string): string {
	const out: string[] = [];
	const put = (code: number, value: string | number) => out.push(String(code), String(value));
	const code = Object.entries(insertUnits).find(([, name]) => name === unit)?.[0] ?? '0';
	put(0, 'SECTION');
	put(2, 'HEADER');
	put(9, '$ACADVER');
	put(1, 'AC1015');
	put(9, '$INSUNITS');
	put(70, code);
	put(0, 'ENDSEC');
	put(0, 'SECTION');
	put(2, 'TABLES');
	put(0, 'TABLE');
	put(2, 'LAYER');
	put(70, curves.length + 1);
	for (const name of ['0', ...curves.map((c) => c.name)]) {
		put(0, 'LAYER');
		put(100, 'AcDbSymbolTableRecord');
		put(100, 'AcDbLayerTableRecord');
		put(2, name);
		put(70, 0);
		put(62, 7);
		put(6, 'CONTINUOUS');
	}
	put(0, 'ENDTAB');
	put(0, 'ENDSEC');
	put(0, 'SECTION');
	put(2, 'ENTITIES');
	const degrees = (angle: number) => ((((angle * 180) / Math.PI) % 360) + 360) % 360;
	for (const curve of curves) {
		const start = (type: string, marker: string) => {
			put(0, type);
			put(100, 'AcDbEntity');
			put(8, curve.name);
			put(100, marker);
		};
		const point = (base: number, p: Point) => {
			put(base, p.x);
			put(base + 10, p.y);
		};
		if (curve.kinds.every((k) => k === LINE || k === ARC) && segmentCount(curve) > 1) {
			start('LWPOLYLINE', 'AcDbPolyline');
			put(90, segmentCount(curve) + (curve.closed ? 0 : 1));
			put(70, curve.closed ? 1 : 0);
			for (let i = 0; i < segmentCount(curve); i++) {
				point(10, segmentPoint(curve, i, 0));
				const sweep = curve.kinds[i] === ARC ? curve.data[i * STRIDE + 8]! : 0;
				if (sweep !== 0) put(42, sin(sweep / 4) / cos(sweep / 4));
			}
			if (!curve.closed) point(10, segmentPoint(curve, segmentCount(curve) - 1, 1));
			continue;
		}
		for (let i = 0; i < segmentCount(curve); i++) {
			const d = curve.data.subarray(i * STRIDE, (i + 1) * STRIDE);
			if (curve.kinds[i] === LINE) {
				start('LINE', 'AcDbLine');
				point(10, { x: d[0]!, y: d[1]! });
				point(11, { x: d[2]!, y: d[3]! });
			} else if (curve.kinds[i] === ARC) {
				const full = Math.abs(Math.abs(d[8]!) - 2 * Math.PI) < 1e-12;
				start(full ? 'CIRCLE' : 'ARC', 'AcDbCircle');
				point(10, { x: d[4]!, y: d[5]! });
				put(40, d[6]!);
				if (full) continue;
				put(100, 'AcDbArc');
				put(50, degrees(Math.min(d[7]!, d[7]! + d[8]!)));
				put(51, degrees(Math.max(d[7]!, d[7]! + d[8]!)));
			} else {
				const rows = segmentRows(curve, i);
				const degree = rows.length / 3 - 1;
				start('SPLINE', 'AcDbSpline');
				put(70, 12);
				put(71, degree);
				put(72, 2 * (degree + 1));
				put(73, degree + 1);
				put(74, 0);
				for (let k = 0; k < 2 * (degree + 1); k++) put(40, k <= degree ? 0 : 1);
				for (let k = 0; k <= degree; k++) put(41, rows[3 * k + 2]!);
				for (let k = 0; k <= degree; k++) point(10, { x: rows[3 * k]!, y: rows[3 * k + 1]! });
			}
		}
	}
	put(0, 'ENDSEC');
	put(0, 'EOF');
	return `${out.join('\n')}\n`;
}
