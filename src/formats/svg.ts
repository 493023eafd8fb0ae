import { XMLParser } from 'fast-xml-parser';
import { SVGPathData } from 'svg-pathdata';
import { acos, atan2, cos, hypot, sin, tan } from '../core/numeric/elementary.ts';
import type { CoordinateFile, DrawingFile, FillRule } from '../core/recipe/model/model.ts';
import { CurveBuilder, ellipseCurve } from '../core/geometry/build.ts';
import { segmentCount, STRIDE, type Curve, type Point } from '../core/geometry/curve.ts';
import { compose, identity, rotation, transformCurve, translation, type Affine } from '../core/geometry/transform.ts';
import { absoluteUnits } from './svg-units.ts';
import { Skipped } from './skipped.ts';

/** An element in document order: one key is its tag with its children, `:@` its attributes. */
type Element = Record<string, unknown>;
type Attributes = Record<string, string>;

/** What a drawing may come to, uses of uses and all. */
const [mostElements, mostNumbers] = [200_000, 1_200_000];

const shapes = new Set(['path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon']);
const containers = new Set(['svg', 'g', 'a', 'switch', 'symbol']);
const silent = new Set(['title', 'desc', 'metadata', 'style', 'defs', 'script', '#text', '#comment', '?xml']);

/**
 * Reads the shapes of an SVG drawing: paths with all commands, basic shapes, groups, transforms, `use`,
 * viewBox and units. The y axis is turned to point up. Never throws.
 */
export function readSvg(text: string): CoordinateFile {
	let tree: Element[];
	try {
		tree = new XMLParser({
			preserveOrder: true,
			ignoreAttributes: false,
			attributeNamePrefix: '',
			parseAttributeValue: false,
			removeNSPrefix: true,
			processEntities: true
		}).parse(text) as Element[];
	} catch {
		return { error: 'this SVG file is not well-formed XML; open it in a drawing program and save it anew' };
	}
	const root = tree.find((e) => tagOf(e) === 'svg');
	if (!root) return { error: 'this file holds no “svg” element' };
	const drawing: DrawingFile = { curves: [], points: [], skipped: [] };
	const byId = new Map<string, Element>();
	const index = (e: Element): void => {
		const { id } = attributesOf(e);
		if (id) byId.set(id, e);
		childrenOf(e).forEach(index);
	};
	index(root);
	const skipped = new Skipped();

	const fills: FillRule[] = [];
	/** Whether any shape is filled on purpose: by its attributes, or as a path of several outlines. */
	let isSaid = false;
	let [visited, numbers] = [0, 0];
	const visit = (e: Element, map: Affine, layer: string | undefined, above: Painting, depth: number): void => {
		if (++visited > mostElements || numbers > mostNumbers) return;
		const tag = tagOf(e);
		const attributes = attributesOf(e);
		const style = styleOf(attributes);
		if (style.display === 'none') return;
		const placed = attributes.transform ? compose(map, parseTransform(attributes.transform)) : map;
		const painting = { ...above, ...(style.fill ? { fill: style.fill } : {}), ...(style.rule ? { rule: style.rule } : {}) };
		if (containers.has(tag)) {
			const within = tag === 'g' ? (attributes.id ?? layer) : layer;
			for (const child of childrenOf(e)) visit(child, placed, within, painting, depth);
		} else if (tag === 'use') {
			const target = byId.get((attributes.href ?? '').replace(/^#/, ''));
			if (!target || depth > 20) return skipped.add('use of nothing that is there');
			const at = translation(number(attributes.x), number(attributes.y));
			visit(target, compose(placed, at), layer ?? attributes.id, painting, depth + 1);
		} else if (shapes.has(tag)) {
			numbers += signsOf(attributes.d ?? attributes.points ?? '');
			if (numbers > mostNumbers) return;
			try {
				const isFilled = painting.fill !== 'none' && tag !== 'line';
				const curves = shapeCurves(tag, attributes, isFilled);
				isSaid ||= isFilled && (painting.fill !== undefined || curves.length > 1);
				const shape = isFilled && curves.length > 0 ? { shape: fills.push(painting.rule) - 1 } : {};
				for (const curve of curves)
					drawing.curves.push({ curve: transformCurve(curve, placed, ''), layer: layer ?? attributes.id ?? 'shapes', ...shape });
			} catch (error) {
				skipped.refused(tag, error, 'whose data breaks off or is damaged');
			}
		} else if (!silent.has(tag)) skipped.add(tag);
	};
	const { map, unit } = viewport(attributesOf(root));
	if (unit) drawing.unit = unit;
	for (const child of childrenOf(root)) visit(child, map, undefined, { rule: 'nonzero' }, 0);
	if (isSaid) drawing.fills = fills;
	if (visited > mostElements)
		return {
			error: `this SVG file comes to more than ${mostElements} elements, what is used again counted as often; import a part of it`
		};
	if (numbers > mostNumbers)
		return {
			error: `the shapes of this SVG file hold more than ${mostNumbers} numbers, about ${mostNumbers / 2} points; thin them out, or import a part of it`
		};
	drawing.skipped = skipped.list();
	if (drawing.curves.length === 0) {
		const held = drawing.skipped.length > 0 ? `; it holds only ${drawing.skipped.join(', ')}` : '';
		return { error: `this SVG file holds no shapes${held}` };
	}
	return { drawing };
}

const tagOf = (e: Element): string => Object.keys(e).find((key) => key !== ':@') ?? '';
const childrenOf = (e: Element): Element[] => {
	const value = e[tagOf(e)];
	return Array.isArray(value) ? (value as Element[]) : [];
};
const attributesOf = (e: Element): Attributes => (e[':@'] ?? {}) as Attributes;

/** How many numbers and commands a list of points or a path holds, before it is read. */
function signsOf(text: string): number {
	let count = 0;
	let isNumber = false;
	for (let k = 0; k < text.length; k++) {
		const code = text.charCodeAt(k);
		const isDigit = (code >= 48 && code <= 57) || code === 46;
		// An exponent belongs to its number: its digits are not counted again.
		const isExponent = isNumber && (code === 69 || code === 101);
		if (isExponent) count--;
		else if ((isDigit && !isNumber) || code > 64) count++;
		isNumber = isDigit;
	}
	return count;
}

const number = (text: string | undefined): number => (text === undefined ? 0 : Number.parseFloat(text) || 0);

/** What elements inherit of how they are painted. */
interface Painting {
	/** Absent where nothing is said, which is black. */
	fill?: string;
	rule: FillRule;
}

function styleOf(attributes: Attributes): { display?: string; fill?: string; rule?: FillRule } {
	const style: Record<string, string> = {};
	for (const part of (attributes.style ?? '').split(';')) {
		const [key, value] = part.split(':').map((s) => s.trim());
		if (key && value) style[key] = value;
	}
	const pick = (key: string) => style[key] ?? attributes[key];
	const [display, fill, rule] = [pick('display'), pick('fill'), pick('fill-rule')];
	return {
		...(display ? { display } : {}),
		...(fill && fill !== 'inherit' ? { fill } : {}),
		...(rule === 'evenodd' || rule === 'nonzero' ? { rule } : {})
	};
}

/** The map from user units to the drawing's: y turned up, and scaled where the width has a real unit. */
function viewport(attributes: Attributes): { map: Affine; unit?: string } {
	const box = (attributes.viewBox ?? '')
		.trim()
		.split(/[\s,]+/)
		.map(Number);
	const hasBox = box.length === 4 && box.every(Number.isFinite) && box[2]! > 0 && box[3]! > 0;
	const [x, y, width, height] = hasBox
		? (box as [number, number, number, number])
		: [0, 0, number(attributes.width), number(attributes.height)];
	const unit = absoluteUnits[/[a-z]+$/.exec((attributes.width ?? '').trim())?.[0] ?? ''];
	const scale = unit && hasBox ? number(attributes.width) / width : 1;
	return {
		map: { a: scale, b: 0, c: 0, d: -scale, e: hasBox ? -scale * x : 0, f: scale * (y + height) },
		...(unit && hasBox ? { unit } : {})
	};
}

/** The matrix of a `transform` attribute: a list of matrix, translate, scale, rotate, skewX, skewY. */
function parseTransform(text: string): Affine {
	let map = identity;
	for (const [, name, list] of text.matchAll(/(\w+)\s*\(([^)]*)\)/g)) {
		const v = list!
			.trim()
			.split(/[\s,]+/)
			.map(Number);
		const angle = ((v[0] ?? 0) * Math.PI) / 180;
		const step: Affine | undefined =
			name === 'matrix' && v.length === 6
				? { a: v[0]!, b: v[2]!, c: v[1]!, d: v[3]!, e: v[4]!, f: v[5]! }
				: name === 'translate'
					? translation(v[0] ?? 0, v[1] ?? 0)
					: name === 'scale'
						? { ...identity, a: v[0] ?? 1, d: v[1] ?? v[0] ?? 1 }
						: name === 'rotate'
							? rotation(angle, { x: v[1] ?? 0, y: v[2] ?? 0 })
							: name === 'skewX'
								? { ...identity, b: tan(angle) }
								: name === 'skewY'
									? { ...identity, c: tan(angle) }
									: undefined;
		if (step && Object.values(step).every(Number.isFinite)) map = compose(map, step);
	}
	return map;
}

function shapeCurves(tag: string, attributes: Attributes, filled: boolean): Curve[] {
	const get = (key: string) => number(attributes[key]);
	switch (tag) {
		case 'path':
			return pathCurves(attributes.d ?? '', filled);
		case 'line':
			return pathCurves(`M${get('x1')} ${get('y1')}L${get('x2')} ${get('y2')}`, false);
		case 'polyline':
		case 'polygon': {
			const values = (attributes.points ?? '').match(/[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/g) ?? [];
			if (values.length < 4) return [];
			const even = values.slice(0, values.length - (values.length % 2));
			return pathCurves(`M${even.join(' ')}${tag === 'polygon' ? 'Z' : ''}`, filled);
		}
		case 'circle':
		case 'ellipse': {
			const [rx, ry] = tag === 'circle' ? [get('r'), get('r')] : [get('rx'), get('ry')];
			if (!(rx > 0 && ry > 0)) return [];
			if (rx === ry) {
				const [cx, cy] = [get('cx'), get('cy')];
				const a = { x: cx + rx, y: cy };
				return [new CurveBuilder().arc(a, a, { x: cx, y: cy }, rx, 0, 2 * Math.PI).build('', true)];
			}
			return [ellipseCurve('', { x: get('cx'), y: get('cy') }, { x: rx, y: 0 }, { x: 0, y: ry })];
		}
		default: {
			const [x, y, w, h] = [get('x'), get('y'), get('width'), get('height')];
			if (!(w > 0 && h > 0)) return [];
			const rx = Math.min(attributes.rx === undefined ? get('ry') : get('rx'), w / 2);
			const ry = Math.min(attributes.ry === undefined ? get('rx') : get('ry'), h / 2);
			if (!(rx > 0 && ry > 0)) return pathCurves(`M${x} ${y}h${w}v${h}h${-w}Z`, true);
			const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`;
			return pathCurves(
				`M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}Z`,
				true
			);
		}
	}
}

/** The subpaths of a path; those of a filled one are closed. */
function pathCurves(data: string, filled: boolean): Curve[] {
	const curves: Curve[] = [];
	let builder = new CurveBuilder();
	let start: Point = { x: 0, y: 0 };
	let at: Point = { x: 0, y: 0 };
	const finish = (closed: boolean) => {
		if (builder.count > 0) {
			if (closed) builder.close();
			curves.push(builder.build('', closed || builder.endsAtStart));
		}
		builder = new CurveBuilder();
	};
	const commands = new SVGPathData(data).toAbs().normalizeHVZ(false, true, true).normalizeST().commands;
	for (const c of commands) {
		if (c.type === SVGPathData.CLOSE_PATH) {
			finish(true);
			at = start;
			continue;
		}
		if (!('x' in c && 'y' in c)) continue;
		const to = { x: c.x, y: c.y };
		if (c.type === SVGPathData.MOVE_TO) {
			finish(filled && builder.count > 1);
			start = to;
		} else if (c.type === SVGPathData.LINE_TO) {
			if (to.x !== at.x || to.y !== at.y) builder.line(at, to);
		} else if (c.type === SVGPathData.CURVE_TO) {
			const [p, q] = [
				{ x: c.x1, y: c.y1 },
				{ x: c.x2, y: c.y2 }
			];
			const still = [p, q, to].every((r) => r.x === at.x && r.y === at.y);
			if (!still) builder.cubic(at, p, q, to);
		} else if (c.type === SVGPathData.QUAD_TO) {
			if (c.x1 !== at.x || c.y1 !== at.y || to.x !== at.x || to.y !== at.y)
				builder.rational([at.x, at.y, 1, c.x1, c.y1, 1, to.x, to.y, 1]);
		} else if (c.type === SVGPathData.ARC) arcTo(builder, at, to, c);
		at = to;
	}
	finish(filled && builder.count > 1);
	return curves;
}

/** An elliptical arc from its ends (SVG 1.1, appendix F.6): finds the centre, and arcs of circles stay arcs. */
function arcTo(
	builder: CurveBuilder,
	a: Point,
	b: Point,
	{ rX, rY, xRot, lArcFlag, sweepFlag }: { rX: number; rY: number; xRot: number; lArcFlag: 0 | 1; sweepFlag: 0 | 1 }
): void {
	if (a.x === b.x && a.y === b.y) return;
	let [rx, ry] = [Math.abs(rX), Math.abs(rY)];
	if (!(rx > 0 && ry > 0)) {
		builder.line(a, b);
		return;
	}
	const turn = (xRot * Math.PI) / 180;
	const [co, si] = [cos(turn), sin(turn)];
	const [hx, hy] = [(a.x - b.x) / 2, (a.y - b.y) / 2];
	const [px, py] = [co * hx + si * hy, -si * hx + co * hy];
	const grow = (px * px) / (rx * rx) + (py * py) / (ry * ry);
	if (grow > 1) [rx, ry] = [rx * Math.sqrt(grow), ry * Math.sqrt(grow)];
	const top = rx * rx * ry * ry - rx * rx * py * py - ry * ry * px * px;
	const factor = Math.sqrt(Math.max(0, top) / (rx * rx * py * py + ry * ry * px * px)) * (lArcFlag === sweepFlag ? -1 : 1);
	const [qx, qy] = [(factor * rx * py) / ry, (-factor * ry * px) / rx];
	const centre = { x: co * qx - si * qy + (a.x + b.x) / 2, y: si * qx + co * qy + (a.y + b.y) / 2 };
	const from = atan2((py - qy) / ry, (px - qx) / rx);
	const [ux, uy, vx, vy] = [(px - qx) / rx, (py - qy) / ry, (-px - qx) / rx, (-py - qy) / ry];
	let sweep = acos(Math.min(1, Math.max(-1, (ux * vx + uy * vy) / (hypot(ux, uy) * hypot(vx, vy)))));
	if (ux * vy - uy * vx < 0) sweep = -sweep;
	if (sweepFlag && sweep < 0) sweep += 2 * Math.PI;
	if (!sweepFlag && sweep > 0) sweep -= 2 * Math.PI;
	if (rx === ry) {
		builder.arc(a, b, centre, rx, from + turn, sweep);
		return;
	}
	const arc = ellipseCurve('', centre, { x: rx * co, y: rx * si }, { x: -ry * si, y: ry * co }, from, sweep);
	// The ends stay exactly where the path says.
	for (let i = 0; i < segmentCount(arc); i++) {
		const o = arc.data[i * STRIDE + 4]!;
		if (i === 0) arc.control.set([a.x, a.y], o);
		if (i === segmentCount(arc) - 1) arc.control.set([b.x, b.y], o + 6);
		builder.rational(arc.control.slice(o, o + 9));
	}
}
