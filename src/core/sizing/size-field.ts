import { keepHiddenClass } from '../numeric/hidden-class.ts';
import Flatbush from 'flatbush';
import { cos, hypot, sin, tan } from '../numeric/elementary.ts';
import type { Report } from '../findings/report.ts';
import { grownSizes } from './grown-sizes.ts';
import type { SizeRule, SizesAt } from './size-rule.ts';
import { zonesOf, type ZoneStatement } from '../recipe/statements/size.ts';
import type { Domain } from '../domain/domain.ts';
import { insideOutline } from '../geometry/faces.ts';
import { flatten } from '../geometry/parts.ts';
import { resolvePieces } from '../domain/references.ts';

/** The size that the zones ask for, at any place. */
export interface SizeField extends SizesAt {
	/** Largest slope of the size over distance. */
	slope: number;
	/** Elements in a full turn of a curve, and across a gap; undefined where nothing is asked. */
	perTurn: number | undefined;
	acrossGap: number | undefined;
	/** The zones with an inside: the field has their size there at most, and their size itself nowhere else. */
	plateaus: { size: number; box: [number, number, number, number] }[];
	/** Whether there are zones; without any it is the background everywhere. */
	hasZones: boolean;
	/** Outlines of the zones that have one, flat x, y pairs, closed. */
	outlines: Float64Array[];
	/** All that the field is made of: the same numbers, the same field. */
	numbers: Float64Array;
}

/** The distance from places. */
interface Away {
	/** 0 inside, the distance outside. */
	distance(x: number, y: number): number;
}

/** A zone with its geometry worked out: its size inside, and the distance to it outside. */
interface Zone {
	size: number;
	slope: number;
	away: Away;
	/** minX, minY, maxX, maxY of its inside. */
	box: [number, number, number, number];
	/** Boxes around all parts of its inside where it has its size; its own box where that is not said. */
	insides?: [number, number, number, number][];
	/** The numbers of its shape. */
	shape: readonly ArrayLike<number>[];
}

type Place = Pick<Zone, 'away' | 'box' | 'shape' | 'insides'>;

/**
 * The field of all zones. Sizes of neighbouring elements differ by no more than the growth rate:
 * over a distance of one size h the next may be g·h, so that the slope is at most g − 1 (the
 * gradient limit of Persson 2006, which for sources with known distances has this closed form:
 * the minimum of size + slope · distance).
 *
 * @param background the size where no zone is near, toward which a zone fades
 * @param growth largest ratio of neighbouring sizes
 */
export function sizeField(
	{ model, arrangement, regions }: Pick<Domain, 'model' | 'arrangement' | 'regions'>,
	background: number,
	growth: number,
	report: Report
): SizeField {
	const slope = growth - 1;
	const zones: Zone[] = [];
	const outlines: Float64Array[] = [];
	let perTurn: number | undefined;
	let acrossGap: number | undefined;
	for (const statement of zonesOf(model)) {
		const lineReport = report.about(statement.line);
		const { zone } = statement;
		if (zone.kind === 'turn') perTurn = zone.number;
		else if (zone.kind === 'gap') acrossGap = zone.number;
		else {
			if (zone.kind === 'result') {
				zones.push(resultZone(zone, slope));
				continue;
			}
			const place = distanceTo(zone, statement.size!, { model, arrangement, regions }, outlines, lineReport);
			if (!place) continue;
			const size = statement.size!;
			if (size > background && Number.isFinite(background)) lineReport.add('zone-coarse', { size, around: background });
			const rise = Math.max(0, background - size);
			const fade = statement.fade === undefined ? slope : Math.min(slope, rise / statement.fade);
			if (statement.fade !== undefined && rise > statement.fade * slope * (1 + 1e-9) && Number.isFinite(background))
				lineReport.add('fade-short', { size, around: background, growth, needed: rise / slope, fade: statement.fade });
			zones.push({ size, slope: fade > 0 ? fade : slope, ...place });
		}
	}
	const numbers = [background, growth];
	for (const { size, slope: zoneSlope, shape } of zones) {
		numbers.push(size, zoneSlope);
		for (const list of shape) {
			numbers.push(list.length);
			for (let k = 0; k < list.length; k++) numbers.push(list[k]!);
		}
	}
	const plateaus = zones.flatMap(({ size, box, insides }) =>
		(insides ?? [box]).flatMap((part) => (part[2] > part[0] && part[3] > part[1] ? [{ size, box: part }] : []))
	);
	return new ZoneField(background, zones, slope, perTurn, acrossGap, plateaus, outlines, Float64Array.from(numbers));
}

class ZoneField implements SizeField {
	readonly hasZones: boolean;

	constructor(
		private readonly background: number,
		private readonly zones: readonly Zone[],
		readonly slope: number,
		readonly perTurn: number | undefined,
		readonly acrossGap: number | undefined,
		readonly plateaus: SizeField['plateaus'],
		readonly outlines: Float64Array[],
		readonly numbers: Float64Array
	) {
		this.hasZones = zones.length > 0;
	}

	/** The smallest size over all zones, each growing away from itself; the background where none says anything. */
	at(x: number, y: number): number {
		const { zones } = this;
		let least = this.background;
		for (let k = 0; k < zones.length; k++) {
			const { size, slope, box, away } = zones[k]!;
			// Far from its box there is no need for the distance itself.
			const dx = Math.max(box[0] - x, 0, x - box[2]);
			const dy = Math.max(box[1] - y, 0, y - box[3]);
			if (size + slope * Math.max(dx, dy) < least) least = Math.min(least, size + slope * away.distance(x, y));
		}
		return least;
	}
}

/** The rule of a region with a size and a growth; a field without zones says nothing that its size does not, and is left out. */
export const ruleIn = (field: SizeField, size: number, growth: number): SizeRule =>
	field.hasZones ? { size, growth, field, plateaus: field.plateaus } : { size, growth };

function distanceTo(
	zone: ZoneStatement['zone'],
	size: number,
	{ model, arrangement, regions }: Pick<Domain, 'model' | 'arrangement' | 'regions'>,
	outlines: Float64Array[],
	report: Report
): Place | undefined {
	switch (zone.kind) {
		case 'at': {
			const { x: px, y: py } = zone.point;
			// The elements around the point have the size, not only one at it.
			return {
				away: new FromDisc(px, py, size),
				box: [px - size, py - size, px + size, py + size],
				shape: [[px, py]]
			};
		}
		case 'circle': {
			const { centre, radius } = zone;
			const ring = Array.from({ length: 65 }, (_, k) => (2 * Math.PI * k) / 64);
			outlines.push(Float64Array.from(ring.flatMap((a) => [centre.x + radius * cos(a), centre.y + radius * sin(a)])));
			return {
				away: new FromDisc(centre.x, centre.y, radius),
				box: [centre.x - radius, centre.y - radius, centre.x + radius, centre.y + radius],
				shape: [[centre.x, centre.y, radius]]
			};
		}
		case 'polygon':
			outlines.push(closedOutline(zone.outline));
			return distanceToPolygon(zone.outline);
		case 'near': {
			const lines: Float64Array[] = [];
			const points = zone.references.flatMap((r) =>
				r.piece === undefined ? (model.points.find((p) => p.name === r.name) ?? []) : []
			);
			const curves = zone.references.filter((r) => r.piece !== undefined || !model.points.some((p) => p.name === r.name));
			for (const { piece } of resolvePieces(model, arrangement, curves, report, regions))
				lines.push(flatten(arrangement.pieces[piece]!, 1e-3 * Math.max(arrangement.pieces[piece]!.length, 1e-9)));
			for (const p of points) lines.push(Float64Array.of(p.x, p.y, p.x, p.y));
			return lines.length === 0 ? undefined : nearLines(lines, zone.within);
		}
		case 'line':
			outlines.push(zone.points);
			return nearLines([zone.points], zone.within);
		case 'wake': {
			const pieces = resolvePieces(model, arrangement, zone.references, report, regions);
			if (pieces.length === 0) return undefined;
			const [ex, ey] = [cos(zone.along), sin(zone.along)];
			let [low, high, behind] = [Infinity, -Infinity, 0];
			let count = 0;
			let far = -Infinity;
			for (const { piece } of pieces) {
				const line = flatten(arrangement.pieces[piece]!, 1e-3 * arrangement.pieces[piece]!.length);
				for (let k = 0; k < line.length; k += 2) {
					const [along, side] = [line[k]! * ex + line[k + 1]! * ey, line[k + 1]! * ex - line[k]! * ey];
					[low, high] = [Math.min(low, side), Math.max(high, side)];
					far = Math.max(far, along);
					behind += along;
					count++;
				}
			}
			const from = behind / count;
			const to = far + zone.length;
			const wide = tan(zone.widening) * (to - from);
			const corner = (along: number, side: number) => [along * ex - side * ey, along * ey + side * ex];
			const band = Float64Array.of(
				...[corner(from, low), corner(to, low - wide), corner(to, high + wide), corner(from, high)].flat()
			);
			outlines.push(closedOutline(band));
			return distanceToPolygon(band);
		}
		default:
			return undefined;
	}
}

/** The zones of results, by their sizes: an edit elsewhere makes none of them anew. */
const resultZones = new WeakMap<Float64Array, Zone>();

/** A size at a place between those of a result grows from so many of them. */
const visited = 6;

/**
 * The sizes at the places of a result, grown with the slope: of the largest function below them that grows no faster (see
 * {@link grownSizes}), at any place what the nearest places leave of it.
 */
function resultZone({ x, y, sizes }: { x: Float64Array; y: Float64Array; sizes: Float64Array }, slope: number): Zone {
	const cached = resultZones.get(sizes);
	if (cached?.slope === slope) return cached;
	const grown = grownSizes(x, y, sizes, slope);
	const tree = new Flatbush(x.length);
	const box: Zone['box'] = [Infinity, Infinity, -Infinity, -Infinity];
	let least = Infinity;
	for (let k = 0; k < x.length; k++) {
		const [px, py] = [x[k]!, y[k]!];
		tree.add(px, py, px, py);
		box[0] = Math.min(box[0], px);
		box[1] = Math.min(box[1], py);
		box[2] = Math.max(box[2], px);
		box[3] = Math.max(box[3], py);
		least = Math.min(least, grown[k]!);
	}
	tree.finish();
	const away = new FromResult(tree, x, y, grown, slope, least);
	const zone: Zone = { size: least, slope, away, insides: [], box, shape: [x, y, sizes] };
	resultZones.set(sizes, zone);
	return zone;
}

class FromResult implements Away {
	constructor(
		private readonly tree: Flatbush,
		private readonly x: Float64Array,
		private readonly y: Float64Array,
		private readonly grown: Float64Array,
		private readonly slope: number,
		private readonly least: number
	) {}

	distance(px: number, py: number): number {
		const { tree, x, y, grown, slope } = this;
		let size = Infinity;
		for (const k of tree.neighbors(px, py, visited)) size = Math.min(size, grown[k]! + slope * hypot(px - x[k]!, py - y[k]!));
		return (size - this.least) / slope;
	}
}

class FromDisc implements Away {
	constructor(
		private readonly x: number,
		private readonly y: number,
		private readonly radius: number
	) {}

	distance(px: number, py: number): number {
		return Math.max(0, hypot(px - this.x, py - this.y) - this.radius);
	}
}

/** Places no farther than `within` from lines. */
function nearLines(lines: readonly Float64Array[], within: number): Place {
	return {
		away: new FromLines(lines, within),
		box: boxOf(lines, within),
		// On a line alone the size is nowhere constant.
		insides: within > 0 ? lines.map((line) => boxOf([line], within)) : [],
		shape: [...lines, [within]]
	};
}

/** A polygon with its first corner repeated. */
const closedOutline = (outline: Float64Array) => Float64Array.of(...outline, outline[0]!, outline[1]!);

const distanceToPolygon = (outline: Float64Array): Place => ({
	away: new FromPolygon(outline),
	box: boxOf([outline], 0),
	shape: [outline]
});

class FromPolygon implements Away {
	private readonly lines: FromLines;

	constructor(private readonly outline: Float64Array) {
		this.lines = new FromLines([closedOutline(outline)], 0);
	}

	distance(x: number, y: number): number {
		return insideOutline(this.outline, x, y) ? 0 : this.lines.distance(x, y);
	}
}

function boxOf(lines: readonly Float64Array[], margin: number): Zone['box'] {
	const box: Zone['box'] = [Infinity, Infinity, -Infinity, -Infinity];
	for (const line of lines)
		for (let k = 0; k < line.length; k += 2) {
			box[0] = Math.min(box[0], line[k]! - margin);
			box[1] = Math.min(box[1], line[k + 1]! - margin);
			box[2] = Math.max(box[2], line[k]! + margin);
			box[3] = Math.max(box[3], line[k + 1]! + margin);
		}
	return box;
}

/** So few segments are looked at without a tree. */
const fewSegments = 16;

/** The distance to polylines, less a distance from them, through a packed tree of their segments. */
class FromLines implements Away {
	private readonly tree: Flatbush;
	private readonly segments: Float64Array;

	constructor(
		lines: readonly Float64Array[],
		private readonly within: number
	) {
		const count = lines.reduce((sum, line) => sum + line.length / 2 - 1, 0);
		const tree = new Flatbush(count);
		const segments = new Float64Array(4 * count);
		let k = 0;
		for (const line of lines)
			for (let i = 0; i + 3 < line.length; i += 2) {
				segments.set(line.subarray(i, i + 4), 4 * k++);
				tree.add(
					Math.min(line[i]!, line[i + 2]!),
					Math.min(line[i + 1]!, line[i + 3]!),
					Math.max(line[i]!, line[i + 2]!),
					Math.max(line[i + 1]!, line[i + 3]!)
				);
			}
		tree.finish();
		[this.tree, this.segments] = [tree, segments];
	}

	distance(x: number, y: number): number {
		const { segments, tree } = this;
		const count = segments.length / 4;
		let least = Infinity;
		if (count <= fewSegments) for (let s = 0; s < count; s++) least = Math.min(least, toSegment(segments, s, x, y));
		else {
			// The nearest boxes give a bound; whatever box lies within it may hold a nearer segment.
			for (const s of tree.neighbors(x, y, 4)) least = Math.min(least, toSegment(segments, s, x, y));
			for (const s of tree.search(x - least, y - least, x + least, y + least))
				least = Math.min(least, toSegment(segments, s, x, y));
		}
		return Math.max(0, least - this.within);
	}
}

function toSegment(segments: Float64Array, s: number, x: number, y: number): number {
	const ax = segments[4 * s]!;
	const ay = segments[4 * s + 1]!;
	const dx = segments[4 * s + 2]! - ax;
	const dy = segments[4 * s + 3]! - ay;
	const t = Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
	return hypot(ax + t * dx - x, ay + t * dy - y);
}

keepHiddenClass(new ZoneField(0.5, [], 0.5, undefined, undefined, [], [], new Float64Array()));
keepHiddenClass(new FromDisc(0.5, 0.5, 0.5));
keepHiddenClass(new FromPolygon(Float64Array.of(0, 0, 1, 0, 0, 1)));
