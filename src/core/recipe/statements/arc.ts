import { arcCurve, tangent } from '../../geometry/build.ts';
import { type Curve, type Point, segmentCount, segmentPoint } from '../../geometry/curve.ts';
import { endOf, startOf } from '../../geometry/meet.ts';
import { hypot } from '../../numeric/elementary.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { isLiteral } from '../language/literals.ts';
import { movePair, numberGrip, pairGrip, writtenDimension } from '../edits/grips.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder } from '../language/rules.ts';
import type { Grip, ValueReader, StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail, round, same, type EvaluationContext } from '../model/evaluation-context.ts';

export interface ArcSyntax extends Statement {
	kind: 'arc';
	name: Word;
	start: Expression;
	end: Expression;
	centre?: Expression;
	through?: Expression;
	radius?: Expression;
	tangent?: CurveReference;
	clockwise: boolean;
	/** With a radius: the longer of the two arcs. */
	long?: boolean;
}

export const arc: StatementRecord<ArcSyntax> = {
	kind: 'arc',
	title: 'Arc',
	words: ['arc', 'to', 'around', 'clockwise', 'through', 'radius', 'long', 'tangent'],
	stage: 'shape',
	clauses: [],
	form: 'arc ${name} = ${start} to ${end} around ${centre}',
	doc: 'An arc of a circle: around a centre, counter-clockwise unless it says `clockwise`; through a point; of a radius, the shorter of the two unless `long`; or going on smoothly from the end of another curve that it starts on.',
	grammar(p) {
		p.CONSUME(keyword('arc'));
		const name = p.SUBRULE(p.definedName);
		const start = p.SUBRULE(p.expression);
		p.CONSUME(keyword('to'));
		const end = p.SUBRULE2(p.expression);
		const shape = p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('around'));
					const centre = p.SUBRULE3(p.expression);
					return { centre, clockwise: p.OPTION(() => p.CONSUME(keyword('clockwise'))) !== undefined };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('through'));
					return { through: p.SUBRULE4(p.expression), clockwise: false };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('radius'));
					const radius = p.SUBRULE5(p.expression);
					const { clockwise, long } = inAnyOrder<{ clockwise: true; long: true }>(
						(parse) => p.MANY(parse),
						(choices) => p.OR2(choices),
						{
							clockwise: () => p.CONSUME2(keyword('clockwise')) && true,
							long: () => p.CONSUME(keyword('long')) && true
						}
					);
					return { radius, clockwise: clockwise ?? false, long: long ?? false };
				}
			},
			{
				ALT: () => {
					p.CONSUME(keyword('tangent'));
					return { tangent: p.SUBRULE(p.curveReference), clockwise: false };
				}
			}
		]);
		return { kind: 'arc', name, start, end, ...shape };
	},
	evaluate(statement, context) {
		const point = (e: Expression): Point => evaluatePoint(e, context.scope);

		const [a, b] = [point(statement.start), point(statement.end)];
		if (same(a, b)) fail(statement.end, 'the arc ends where it starts; a full circle is a “circle”');
		if (statement.centre) return context.add(arcAround(statement, a, b, point(statement.centre)));
		if (statement.radius) return context.add(arcOfRadius(statement, a, b, context.positive(statement.radius, 'a radius')));
		if (statement.tangent) return context.add(arcTangent(statement, a, b, context));
		context.add(arcThrough(statement, a, b, point(statement.through!)));
	},
	defines: ({ name }) => ({ space: 'value', name }),
	ends: ({ start, end }) => ({ start, end }),
	grips: gripsOfArc,
	dimensions: ({ radius }, look) => writtenDimension('radius', radius, look),
	uses: (s) => namesIn(s.start, s.end, s.centre, s.through, s.radius, s.tangent),
	needs: ({ tangent }) => (tangent ? [tangent] : [])
};

/** Its ends and the place that it runs through; around a centre, both ends keep to one distance, and the centre takes them along. */
function gripsOfArc(statement: ArcSyntax, look: ValueReader): Grip[] {
	const { start, end, centre, through, radius } = statement;
	const [a, b] = [look.point(start), look.point(end)];
	if (!centre) {
		const bulge = (p: Point) => {
			const [ap, bp, ab] = [hypot(p.x - a.x, p.y - a.y), hypot(p.x - b.x, p.y - b.y), hypot(b.x - a.x, b.y - a.y)];
			const area = Math.abs((b.x - a.x) * (p.y - a.y) - (b.y - a.y) * (p.x - a.x)) / 2;
			return area > 0 ? (ap * bp * ab) / (4 * area) : 0;
		};
		const middle = radius && middleOfArc(statement, a, b, look.number(radius));
		return [...[start, end, through].flatMap((e) => pairGrip(e, look)), ...(middle ? numberGrip(radius, middle, bulge) : [])];
	}
	const m = look.point(centre);
	const isFree = (e: Expression) => e.kind === 'pair' && isLiteral(e.x) && isLiteral(e.y);
	const atDistance = (p: Point, r: number) => {
		const distance = hypot(p.x - m.x, p.y - m.y);
		return { x: m.x + ((p.x - m.x) * r) / distance, y: m.y + ((p.y - m.y) * r) / distance };
	};
	const radiusOf = (p: Point) => hypot(p.x - m.x, p.y - m.y);
	const endGrip = (e: Expression, p: Point, other: Expression, q: Point): Grip[] =>
		isFree(e)
			? [
					{
						...p,
						move: (to) =>
							isFree(other) && radiusOf(to) > 0
								? [...movePair(e, to), ...movePair(other, atDistance(q, radiusOf(to)))]
								: movePair(e, atDistance(to, radiusOf(q)))
					}
				]
			: [];
	const along = (to: Point) => (p: Point) => ({ x: p.x + to.x - m.x, y: p.y + to.y - m.y });
	const centreGrip: Grip[] = [centre, start, end].every(isFree)
		? [{ ...m, move: (to) => [...movePair(centre, to), ...movePair(start, along(to)(a)), ...movePair(end, along(to)(b))] }]
		: [];
	return [...centreGrip, ...endGrip(start, a, end, b), ...endGrip(end, b, start, a)];
}

function middleOfArc(statement: ArcSyntax, a: Point, b: Point, radius: number): Point | undefined {
	const curve = arcOfRadius(statement, a, b, radius);
	return segmentPoint(curve, 0, 0.5);
}

function arcAround(statement: ArcSyntax, a: Point, b: Point, m: Point): Curve {
	const [ra, rb] = [hypot(a.x - m.x, a.y - m.y), hypot(b.x - m.x, b.y - m.y)];
	if (ra === 0) fail(statement.centre!, 'the centre lies on the start of the arc');
	if (Math.abs(ra - rb) > 1e-6 * ra)
		fail(statement.centre!, `the start is ${round(ra)} from this centre and the end ${round(rb)}; both must be at one distance`);
	return arcCurve(statement.name.text, a, b, m, statement.clockwise);
}

function arcThrough(statement: ArcSyntax, a: Point, b: Point, p: Point): Curve {
	// Circumcentre relative to a.
	const [bx, by, px, py] = [b.x - a.x, b.y - a.y, p.x - a.x, p.y - a.y];
	const cross = bx * py - by * px;
	const [bb, pp] = [bx * bx + by * by, px * px + py * py];
	if (Math.abs(cross) <= 1e-12 * Math.sqrt(bb * pp))
		fail(statement.through!, 'this point lies on the straight line through both ends, so no arc passes through all three');
	const centre = { x: a.x + (py * bb - by * pp) / (2 * cross), y: a.y + (bx * pp - px * bb) / (2 * cross) };
	return arcCurve(statement.name.text, a, b, centre, cross > 0);
}

function arcOfRadius(statement: ArcSyntax, a: Point, b: Point, radius: number): Curve {
	const [dx, dy] = [b.x - a.x, b.y - a.y];
	const chord = hypot(dx, dy);
	if (radius < (chord / 2) * (1 - 1e-12))
		fail(
			statement.radius!,
			`the ends are ${round(chord)} apart, so the radius is at least ${round(chord / 2)}, found ${round(radius)}`
		);
	const height = Math.sqrt(Math.max(0, radius * radius - (chord * chord) / 4));
	// The centre of the short counter-clockwise arc lies to the left of the chord.
	const side = (statement.clockwise ? -1 : 1) * (statement.long ? -1 : 1);
	const centre = { x: (a.x + b.x) / 2 - (side * height * dy) / chord, y: (a.y + b.y) / 2 + (side * height * dx) / chord };
	return arcCurve(statement.name.text, a, b, centre, statement.clockwise);
}

function arcTangent(statement: ArcSyntax, a: Point, b: Point, context: EvaluationContext): Curve {
	const other = context.model.curves[context.curve(statement.tangent!)]!;
	const count = segmentCount(other);
	const size = hypot(b.x - a.x, b.y - a.y);
	const away = (p: Point) => hypot(p.x - a.x, p.y - a.y);
	let d: Point;
	if (away(endOf(other)) <= 1e-6 * size) d = tangent(other, count - 1, 1);
	else if (away(startOf(other)) <= 1e-6 * size) {
		const out = tangent(other, 0, 0);
		d = { x: -out.x, y: -out.y };
	} else fail(statement.tangent!, `“${other.name}” has no end at the start of the arc, (${round(a.x)}, ${round(a.y)})`);
	const [bx, by] = [b.x - a.x, b.y - a.y];
	const across = d.x * by - d.y * bx;
	if (Math.abs(across) <= 1e-12 * size) fail(statement.end, `the end lies straight ahead of “${other.name}”; that is a line`);
	// The centre is on the normal at a, as far from b as from a.
	const r = (bx * bx + by * by) / (2 * across);
	return arcCurve(statement.name.text, a, b, { x: a.x - r * d.y, y: a.y + r * d.x }, across < 0);
}
