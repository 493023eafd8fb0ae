import DxfParser from 'dxf-parser';
import { cos, hypot, sin, atan, atan2 } from '../core/numeric/elementary.ts';
import { bsplineCurve, circleCurve, CurveBuilder, ellipseCurve, lineCurve } from '../core/geometry/build.ts';
import { type Curve, type Point } from '../core/geometry/curve.ts';
import { splineCurve } from '../core/geometry/spline.ts';
import { compose, identity, mapPoint, rotation, transformCurve, translation, type Affine } from '../core/geometry/transform.ts';
import type { CoordinateFile, DrawingFile } from '../core/recipe/model/model.ts';
import { insertUnits } from './dxf-units.ts';
import { Skipped } from './skipped.ts';
import { UserError } from '../core/text/user-error.ts';

/** What a drawing may come to, insertions and all. */
const [mostEntities, mostSplinePoints] = [200_000, 150_000];

/** Blocks in blocks deeper than this are taken for a circle of references. */
const deepest = 24;

/** A loosely typed entity: the parser's own types miss half of the fields. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Entity = any;

/** Reads SPLINE with its weights, which the parser leaves out. */
class SplineHandler {
	ForEntityName = 'SPLINE' as const;
	parseEntity(scanner: Entity, group: Entity): Entity {
		const entity: Entity = { type: group.value, controlPoints: [], fitPoints: [], knotValues: [], weights: [], flags: 0 };
		for (let g = scanner.next(); !scanner.isEOF() && g.code !== 0; g = scanner.next()) {
			if (g.code === 8) entity.layer = g.value;
			else if (g.code === 10) entity.controlPoints.push({ x: g.value, y: 0 });
			else if (g.code === 20) entity.controlPoints.at(-1).y = g.value;
			else if (g.code === 11) entity.fitPoints.push({ x: g.value, y: 0 });
			else if (g.code === 21) entity.fitPoints.at(-1).y = g.value;
			else if (g.code === 40) entity.knotValues.push(g.value);
			else if (g.code === 41) entity.weights.push(g.value);
			else if (g.code === 70) entity.flags = g.value;
			else if (g.code === 71) entity.degree = g.value;
		}
		return entity;
	}
}

/** Reads the drawing of a DXF text file. Never throws: a file that cannot be read gives the sentence that says why. */
export function readDxf(text: string): CoordinateFile {
	let parsed: Entity;
	try {
		const parser = new DxfParser();
		parser.registerEntityHandler(SplineHandler as Entity);
		parsed = parser.parseSync(text);
	} catch {
		return {
			error:
				'this DXF file is damaged or breaks off: its groups do not fit together; save it anew as a text DXF of release R12 or later'
		};
	}
	if (!parsed) return { error: 'this DXF file cannot be read: it holds no sections' };
	const drawing: DrawingFile = { curves: [], points: [], skipped: [] };
	const unit = insertUnits[Number(parsed.header?.$INSUNITS)];
	if (unit) drawing.unit = unit;
	const layers = Object.values(parsed.tables?.layer?.layers ?? {}) as Entity[];
	const hidden = layers.filter((layer) => layer.visible === false || layer.frozen === true).map((layer) => String(layer.name));
	if (hidden.length > 0) drawing.hidden = hidden;
	const skipped = new Skipped();
	let [made, splinePoints] = [0, 0];
	const isTooMuch = () => made > mostEntities || splinePoints > mostSplinePoints;
	const take = (entities: Entity[], map: Affine, inherited: string | undefined, depth: number): void => {
		for (const entity of entities) {
			if (entity.type === 'SPLINE')
				splinePoints += (entity.degree > 3 ? 5 : 1) * entity.controlPoints.length || entity.fitPoints.length;
			made++;
			if (isTooMuch()) return;
			const layer = String(entity.layer ?? '0');
			const layerName = layer === '0' && inherited !== undefined ? inherited : layer;
			if (entity.inPaperSpace) continue;
			if (entity.type === 'INSERT') {
				const block = parsed.blocks?.[entity.name];
				if (!block) skipped.add(`insertion of the unknown block ${entity.name}`);
				else if (depth >= deepest) skipped.add('insertion of a block in itself');
				else
					for (const place of insertions(entity, block)) {
						if (isTooMuch()) return;
						take(block.entities ?? [], compose(map, place), layerName, depth + 1);
					}
				continue;
			}
			if (entity.type === 'POINT') {
				drawing.points.push({ ...mapPoint(map, entity.position), layer: layerName });
				continue;
			}
			const mirrored = (entity.extrusionDirectionZ ?? entity.extrusionDirection?.z ?? 1) < 0;
			const placed = mirrored ? compose(map, { ...identity, a: -1 }) : map;
			try {
				const curve = entityCurve(entity);
				if (curve === undefined) skipped.add(String(entity.type));
				else if (curve === null) skipped.add(`${entity.type} without extent`);
				else drawing.curves.push({ curve: transformCurve(curve, placed, ''), layer: layerName });
			} catch (error) {
				skipped.refused(String(entity.type), error, 'with numbers that do not fit together');
			}
		}
	};
	take(parsed.entities ?? [], identity, undefined, 0);
	if (made > mostEntities)
		return {
			error: `this DXF file comes to more than ${mostEntities} entities, blocks in blocks counted as often as they are inserted; import a part of it`
		};
	if (splinePoints > mostSplinePoints)
		return {
			error: `the splines of this DXF file have more than ${mostSplinePoints} points in all, those above degree 3 counted five times; thin them out, or import a part of it`
		};
	for (const [type, count] of unread(text)) skipped.set(type, count);
	drawing.skipped = skipped.list();
	if (drawing.curves.length === 0 && drawing.points.length === 0) {
		const held = drawing.skipped.length > 0 ? `; it holds only ${drawing.skipped.join(', ')}` : '';
		return { error: `this DXF file holds no lines, arcs, circles, polylines, ellipses or splines${held}` };
	}
	return { drawing };
}

/** How far it is from one angle to another, counter-clockwise, above zero and a full turn at most; throws for what is no angle. */
function turnFrom(from: number, to: number): number {
	if (!(Math.abs(from) < 1e6 && Math.abs(to) < 1e6)) throw new UserError('an angle beyond 1e6');
	const full = 2 * Math.PI;
	const turn = to - from - full * Math.floor((to - from) / full);
	return turn > 1e-12 ? turn : full;
}

/** Where an INSERT puts its block: once, or in rows and columns. */
function insertions(entity: Entity, block: Entity): Affine[] {
	const base = block.position ?? { x: 0, y: 0 };
	const [sx, sy] = [entity.xScale ?? 1, entity.yScale ?? 1];
	const turn = rotation(((entity.rotation ?? 0) * Math.PI) / 180, { x: 0, y: 0 });
	const flip = (entity.extrusionDirection?.z ?? 1) < 0 ? { ...identity, a: -1 } : identity;
	const places: Affine[] = [];
	for (let row = 0; row < Math.min(entity.rowCount || 1, 1000); row++)
		for (let column = 0; column < Math.min(entity.columnCount || 1, 1000); column++) {
			const step = mapPoint(turn, { x: column * (entity.columnSpacing ?? 0), y: row * (entity.rowSpacing ?? 0) });
			const at = translation(entity.position.x + step.x, entity.position.y + step.y);
			const scale = { ...identity, a: sx, d: sy };
			places.push(compose(flip, compose(at, compose(turn, compose(scale, translation(-base.x, -base.y))))));
		}
	return places;
}

/** The curve of an entity; null for one without extent, undefined for a kind that is not read. */
function entityCurve(entity: Entity): Curve | null | undefined {
	switch (entity.type) {
		case 'LINE': {
			const [a, b] = entity.vertices as [Point, Point];
			return a.x === b.x && a.y === b.y ? null : lineCurve('', a, b);
		}
		case 'LWPOLYLINE':
		case 'POLYLINE': {
			if (entity.isPolyfaceMesh || entity.is3dPolygonMesh) return undefined;
			const vertices = (entity.vertices as Entity[]).filter((v) => !v.splineVertex || v.curveFittingVertex !== undefined);
			return bulgedPolyline(vertices, Boolean(entity.shape));
		}
		case 'ARC': {
			const { center, radius, startAngle } = entity;
			const sweep = turnFrom(startAngle, entity.endAngle);
			if (!(radius > 0)) return null;
			const at = (angle: number) => ({ x: center.x + radius * cos(angle), y: center.y + radius * sin(angle) });
			return new CurveBuilder().arc(at(startAngle), at(startAngle + sweep), center, radius, startAngle, sweep).build('', false);
		}
		case 'CIRCLE':
			return entity.radius > 0 ? circleCurve('', entity.center, entity.radius) : null;
		case 'ELLIPSE': {
			const { center, majorAxisEndPoint: u, axisRatio } = entity;
			if (!(hypot(u.x, u.y) > 0) || !(axisRatio > 0)) return null;
			const sweep = turnFrom(entity.startAngle ?? 0, entity.endAngle ?? 2 * Math.PI);
			return ellipseCurve(
				'',
				center,
				u,
				{ x: -u.y * axisRatio, y: u.x * axisRatio },
				entity.startAngle ?? 0,
				Math.min(sweep, 2 * Math.PI)
			);
		}
		case 'SPLINE': {
			const { controlPoints, fitPoints, knotValues, weights, degree } = entity;
			if (controlPoints.length > 0)
				return bsplineCurve('', degree, controlPoints, weights.length > 0 ? weights : controlPoints.map(() => 1), knotValues);
			if (fitPoints.length < 2) return null;
			const list = (fitPoints as Point[]).filter((p, k, all) => k === 0 || p.x !== all[k - 1]!.x || p.y !== all[k - 1]!.y);
			const closed = (entity.flags & 1) !== 0 && list.length > 2;
			const pick = (axis: 'x' | 'y') => Float64Array.from(list, (p) => p[axis]);
			return splineCurve('', pick('x'), pick('y'), closed, 'chord');
		}
		default:
			return undefined;
	}
}

/** A polyline whose segments may be arcs: `bulge` is the tangent of a quarter of the arc's angle. */
function bulgedPolyline(vertices: (Point & { bulge?: number })[], closed: boolean): Curve | null {
	const builder = new CurveBuilder();
	const count = vertices.length;
	for (let k = 0; k < (closed ? count : count - 1); k++) {
		const [a, b] = [vertices[k]!, vertices[(k + 1) % count]!];
		const [dx, dy] = [b.x - a.x, b.y - a.y];
		if (dx === 0 && dy === 0) continue;
		const bulge = a.bulge ?? 0;
		if (bulge === 0) {
			builder.line(a, b);
			continue;
		}
		const sweep = 4 * atan(bulge);
		const height = (1 / bulge - bulge) / 4;
		const centre = { x: (a.x + b.x) / 2 - height * dy, y: (a.y + b.y) / 2 + height * dx };
		const radius = hypot(a.x - centre.x, a.y - centre.y);
		builder.arc(a, b, centre, radius, atan2(a.y - centre.y, a.x - centre.x), sweep);
	}
	if (builder.count === 0) return null;
	return builder.build('', closed || (builder.count > 1 && builder.endsAtStart));
}

const readKinds = new Set([
	'LINE',
	'LWPOLYLINE',
	'POLYLINE',
	'ARC',
	'CIRCLE',
	'ELLIPSE',
	'SPLINE',
	'POINT',
	'INSERT',
	'VERTEX',
	'SEQEND',
	'ENDSEC'
]);

/** Entities of the ENTITIES section of kinds that are not read, with their counts. */
function unread(text: string): Map<string, number> {
	const counts = new Map<string, number>();
	// A DXF file is pairs of lines: a group code, and its value.
	const lines = text.split(/\r\n|\r|\n/);
	let inEntities = false;
	for (let k = 0; k + 1 < lines.length; k += 2) {
		const [code, value] = [lines[k]!.trim(), lines[k + 1]!.trim()];
		if (code === '2' && lines[k - 1]?.trim() === 'SECTION') inEntities = value === 'ENTITIES';
		if (code !== '0') continue;
		if (value === 'ENDSEC') inEntities = false;
		else if (inEntities && !readKinds.has(value)) counts.set(value, (counts.get(value) ?? 0) + 1);
	}
	return counts;
}
