import { lineCurve } from '../../geometry/build.ts';
import type { Point } from '../../geometry/curve.ts';
import { identity, mapPoint, rotation } from '../../geometry/transform.ts';
import { cos, sin } from '../../numeric/elementary.ts';
import { formatNumber, isLiteral } from '../language/literals.ts';
import { evaluatePoint } from '../model/expressions.ts';
import { numberGrip, pairGrip, writtenDimension } from '../edits/grips.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, withNeeded } from '../language/rules.ts';
import type { Grip, ValueReader, StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface RectangleSyntax extends Statement {
	kind: 'rectangle';
	name: Word;
	corner?: Expression;
	opposite?: Expression;
	/** With three points: a point on the side opposite to that from corner to opposite. */
	third?: Expression;
	centre?: Expression;
	width?: Expression;
	height?: Expression;
	turned?: Expression;
}

export const rectangle: StatementRecord<RectangleSyntax> = {
	kind: 'rectangle',
	title: 'Rectangle',
	words: ['rectangle', 'around', 'size', 'turned', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'rectangle ${name} = (${x}, ${y}) to (${x}, ${y})',
	doc: 'Four lines, `.bottom`, `.right`, `.top`, `.left`, run counter-clockwise: by two opposite corners; by the ends of its bottom and a point on its top; or by centre and size.',
	grammar(p) {
		p.CONSUME(keyword('rectangle'));
		const name = p.SUBRULE(p.definedName);
		const shape = p.OR({
			// Before a place the word wins; there is no function of its name.
			IGNORE_AMBIGUITIES: true,
			DEF: [
				{
					ALT: () => {
						p.CONSUME(keyword('around'));
						const centre = p.SUBRULE(p.expression);
						const found = inAnyOrder<{ size: { width: Expression; height: Expression }; turned: Expression }>(
							(parse) => p.MANY(parse),
							(choices) => p.OR2(choices),
							{
								size: () => {
									p.CONSUME(keyword('size'));
									const width = p.SUBRULE2(p.expression);
									p.CONSUME(Comma);
									return { width, height: p.SUBRULE3(p.expression) };
								},
								turned: () => p.SUBRULE(p.turnClause)
							}
						);
						const { size, turned } = withNeeded(found, { size: () => p.CONSUME2(keyword('size')) });
						return { centre, ...size, turned };
					}
				},
				{
					ALT: () => {
						const corner = p.SUBRULE4(p.expression);
						p.CONSUME(keyword('to'));
						const opposite = p.SUBRULE5(p.expression);
						const third = p.OPTION2(() => {
							p.CONSUME2(keyword('to'));
							return p.SUBRULE6(p.expression);
						});
						return { corner, opposite, third };
					}
				}
			]
		});
		return { kind: 'rectangle', name, ...shape };
	},
	evaluate(statement, context) {
		const name = statement.name.text;
		let corners: Point[];
		if (statement.centre) {
			const centre = evaluatePoint(statement.centre, context.scope);
			const halfWidth = context.positive(statement.width!, 'a width') / 2;
			const halfHeight = context.positive(statement.height!, 'a height') / 2;
			const turn = statement.turned ? rotation(context.number(statement.turned, 'angle'), centre) : identity;
			corners = [
				[-1, -1],
				[1, -1],
				[1, 1],
				[-1, 1]
			].map(([i, j]) => mapPoint(turn, { x: centre.x + i! * halfWidth, y: centre.y + j! * halfHeight }));
		} else {
			const p = evaluatePoint(statement.corner!, context.scope);
			const q = evaluatePoint(statement.opposite!, context.scope);
			if (statement.third) corners = threePointRectangle(statement, p, q, evaluatePoint(statement.third, context.scope));
			else {
				if (p.x === q.x || p.y === q.y)
					fail(statement.opposite!, 'the two corners lie on one line; a rectangle needs opposite corners');
				const [a, b] = [
					{ x: Math.min(p.x, q.x), y: Math.min(p.y, q.y) },
					{ x: Math.max(p.x, q.x), y: Math.max(p.y, q.y) }
				];
				corners = [a, { x: b.x, y: a.y }, b, { x: a.x, y: b.y }];
			}
		}
		['bottom', 'right', 'top', 'left'].forEach((side, k) =>
			context.add(lineCurve(`${name}.${side}`, corners[k]!, corners[(k + 1) % 4]!), name)
		);
	},
	grips: gripsOfRectangle,
	dimensions({ corner, opposite, third, width, height }, look) {
		if (width) return [...writtenDimension('width', width, look), ...writtenDimension('height', height, look)];
		if (third || !corner || opposite?.kind !== 'pair') return [];
		const [p, q] = [look.point(corner), look.point(opposite)];
		return (['x', 'y'] as const).flatMap((axis) =>
			// From the first corner to where the second lies of it; the number is worked out, an expression is kept.
			isLiteral(opposite[axis])
				? [
						{
							label: axis === 'x' ? 'width' : 'height',
							value: Math.abs(q[axis] - p[axis]),
							set: (source: string) => {
								const sign = q[axis] < p[axis] ? '-' : '+';
								const number = Number(source);
								return [
									{
										of: opposite[axis],
										as: Number.isFinite(number)
											? p[axis] + (sign === '-' ? -number : number)
											: `${formatNumber(p[axis])} ${sign} (${source})`
									}
								];
							}
						}
					]
				: []
		);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.corner, s.opposite, s.third, s.centre, s.width, s.height, s.turned)
};

/** All corners and the middles of all sides, whichever way it is written. */
function gripsOfRectangle(statement: RectangleSyntax, look: ValueReader): Grip[] {
	const { corner, opposite, third, centre, width, height, turned } = statement;
	if (centre) {
		const m = look.point(centre);
		const angle = turned ? look.number(turned) : 0;
		const [w, h] = [look.number(width!) / 2, look.number(height!) / 2];
		const [ux, uy] = [cos(angle), sin(angle)];
		const along = (to: Point) => Math.abs((to.x - m.x) * ux + (to.y - m.y) * uy);
		const across = (to: Point) => Math.abs((to.y - m.y) * ux - (to.x - m.x) * uy);
		const place = (i: number, j: number) => ({ x: m.x + i * w * ux - j * h * uy, y: m.y + i * w * uy + j * h * ux });
		const sides = (i: number, j: number): Grip[] => {
			const grips = [
				...(i ? numberGrip(width, place(i, j), (to) => 2 * along(to)) : []),
				...(j ? numberGrip(height, place(i, j), (to) => 2 * across(to)) : [])
			];
			return grips.length > 0 ? [{ ...place(i, j), move: (to) => grips.flatMap(({ move }) => move(to)) }] : [];
		};
		return [...pairGrip(centre, look), ...around.flatMap(([i, j]) => sides(i, j))];
	}
	if (third) return [corner, opposite, third].flatMap((e) => pairGrip(e, look));
	const [a, b] = [corner!, opposite!];
	const [p, q] = [look.point(a), look.point(b)];
	return around.flatMap(([i, j]): Grip[] => {
		// The end of each axis that this place moves, if any: that of the corner which lies there.
		const movers = (
			[
				['x', i],
				['y', j]
			] as const
		).flatMap(([axis, side]) => {
			if (side === 0) return [];
			const e = p[axis] < q[axis] === side < 0 ? a : b;
			return e.kind === 'pair' && isLiteral(e[axis]) ? [{ axis, of: e[axis] }] : [];
		});
		const place = (axis: 'x' | 'y', side: number) =>
			side === 0 ? (p[axis] + q[axis]) / 2 : side < 0 ? Math.min(p[axis], q[axis]) : Math.max(p[axis], q[axis]);
		const other = ({ axis, of }: { axis: 'x' | 'y'; of: Expression }) => (a.kind === 'pair' && a[axis] === of ? q : p)[axis];
		return movers.length === 0
			? []
			: [
					{
						x: place('x', i),
						y: place('y', j),
						// A side on the side that faces it would leave nothing.
						move: (to) =>
							movers.flatMap((mover) => (to[mover.axis] === other(mover) ? [] : [{ of: mover.of, as: to[mover.axis] }]))
					}
				];
	});
}

/** Corners, and middles of sides, from the middle in halves of width and height. */
const around = [
	[-1, -1],
	[0, -1],
	[1, -1],
	[1, 0],
	[1, 1],
	[0, 1],
	[-1, 1],
	[-1, 0]
] as const;

/** The first two points are the ends of its bottom, the third lies on its top. */
function threePointRectangle(statement: RectangleSyntax, p: Point, q: Point, r: Point): Point[] {
	const [dx, dy] = [q.x - p.x, q.y - p.y];
	const height = (dx * (r.y - p.y) - dy * (r.x - p.x)) / (dx * dx + dy * dy);
	if (!(Math.abs(height) > 1e-12))
		fail(statement.third!, 'the three points lie on one line; the third gives the height of the rectangle');
	const [ux, uy] = [-dy * height, dx * height];
	const corners = [p, q, { x: q.x + ux, y: q.y + uy }, { x: p.x + ux, y: p.y + uy }];
	return height > 0 ? corners : [q, p, corners[3]!, corners[2]!];
}
