import { lineCurve } from '../../geometry/build.ts';
import type { Point } from '../../geometry/curve.ts';
import { identity, mapPoint, rotation } from '../../geometry/transform.ts';
import { evaluatePoint } from '../expressions.ts';
import { namesIn } from '../names.ts';
import type { StatementRecord } from '../statement.ts';
import type { Expression, Statement, Word } from '../syntax.ts';
import { Comma, keyword } from '../tokens.ts';
import { fail } from '../workshop.ts';

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
		const shape = p.OR([
			{
				ALT: () => {
					p.CONSUME(keyword('around'));
					const centre = p.SUBRULE(p.expression);
					p.CONSUME(keyword('size'));
					const width = p.SUBRULE2(p.expression);
					p.CONSUME(Comma);
					const height = p.SUBRULE3(p.expression);
					return { centre, width, height, turned: p.OPTION(() => p.SUBRULE(p.turnClause)) };
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
		]);
		return { kind: 'rectangle', name, ...shape };
	},
	evaluate(statement, shop) {
		const name = statement.name.text;
		let corners: Point[];
		if (statement.centre) {
			const centre = evaluatePoint(statement.centre, shop.scope);
			const halfWidth = shop.positive(statement.width!, 'a width') / 2;
			const halfHeight = shop.positive(statement.height!, 'a height') / 2;
			const turn = statement.turned ? rotation(shop.number(statement.turned, 'angle'), centre) : identity;
			corners = [
				[-1, -1],
				[1, -1],
				[1, 1],
				[-1, 1]
			].map(([i, j]) => mapPoint(turn, { x: centre.x + i! * halfWidth, y: centre.y + j! * halfHeight }));
		} else {
			const p = evaluatePoint(statement.corner!, shop.scope);
			const q = evaluatePoint(statement.opposite!, shop.scope);
			if (statement.third) corners = threePointRectangle(statement, p, q, evaluatePoint(statement.third, shop.scope));
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
			shop.add(lineCurve(`${name}.${side}`, corners[k]!, corners[(k + 1) % 4]!), name)
		);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: (s) => namesIn(s.corner, s.opposite, s.third, s.centre, s.width, s.height, s.turned)
};

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
