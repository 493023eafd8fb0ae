import type { BoundaryKind } from '../language/boundary-kinds.ts';
import { kindOf } from './shared/group-words.ts';
import type { Model, WithLine } from '../model/model.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, word } from '../language/rules.ts';
import { stated, type StatementRecord } from '../language/statement.ts';
import type { Expression, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword, Name } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

/** The solid that a mesh is delivered as: lengths in recipe units, angles in radians. */
export interface SolidStatement {
	shape: { kind: 'slab'; thickness: number; layers: number; growth: number } | { kind: 'revolve'; angle: number; into: number };
	/** Names of the groups of its two flat sides, the one nearer to the viewer first; undefined where they have none. */
	sides?: [string, string];
	kind: BoundaryKind;
}

export interface SolidSyntax extends Statement {
	kind: 'solid';
	shape: 'slab' | 'wedge' | 'revolve';
	amount: Expression;
	growth?: Expression;
	into?: Expression;
	sides?: [Word, Word];
	boundary?: Word;
}

/** The most layers or cells around. */
const most = 10_000;

export const solid: StatementRecord<SolidSyntax, SolidStatement> = {
	kind: 'solid',
	title: 'Solid',
	words: ['solid', 'slab', 'wedge', 'revolve', 'growth', 'into', 'sides', 'as'],
	stage: 'deliveries',
	once: true,
	clauses: ['shape', 'into', 'growth', 'sides', 'kind'],
	form: 'solid slab ${10} into ${4}',
	doc: 'Makes a solid of the plane mesh, as it is delivered: a slab, cut `into` layers, or, in an axisymmetric frame, a wedge of one cell or a body of revolution of several. `sides a, b` names the groups of its two flat sides, planes of symmetry unless `as` says otherwise.',
	grammar(p) {
		p.CONSUME(keyword('solid'));
		const { shape, amount } = p.clause('shape', () => {
			const shape = p.OR([
				{ ALT: () => p.CONSUME(keyword('slab')).image },
				{ ALT: () => p.CONSUME(keyword('wedge')).image },
				{ ALT: () => p.CONSUME(keyword('revolve')).image }
			]) as SolidSyntax['shape'];
			return { shape, amount: p.SUBRULE(p.expression) };
		});
		const parts = inAnyOrder<{ growth: Expression; into: Expression; sides: [Word, Word]; boundary: Word }>(
			(parse) => p.MANY(parse),
			(choices) => p.OR2(choices),
			{
				growth: () =>
					p.clause('growth', () => {
						p.CONSUME(keyword('growth'));
						return p.SUBRULE3(p.expression);
					}),
				into: () =>
					p.clause('into', () => {
						p.CONSUME(keyword('into'));
						return p.SUBRULE4(p.expression);
					}),
				sides: () =>
					p.clause('sides', (): [Word, Word] => {
						p.CONSUME(keyword('sides'));
						const first = word(p.CONSUME(Name));
						p.CONSUME(Comma);
						return [first, word(p.CONSUME2(Name))];
					}),
				boundary: () =>
					p.clause('kind', () => {
						p.CONSUME(keyword('as'));
						return word(p.CONSUME3(Name));
					})
			}
		);
		return { kind: 'solid', shape, amount, ...parts };
	},
	evaluate({ shape, amount, growth, into, sides, boundary }, context) {
		const whole = (e: Expression | undefined, what: string, usual: number) => {
			const count = e ? context.number(e, 'number') : usual;
			if (!(Number.isInteger(count) && count >= 1 && count <= most))
				fail(e!, `${what} are a whole number from 1 to ${most}, found ${count}`);
			return count;
		};
		const refuse = (e: Expression | undefined, message: string) => {
			if (e) fail(e, message);
		};
		for (const name of sides ?? []) context.free('group', name);
		const shared = {
			kind: kindOf(boundary, 'symmetry'),
			...(sides ? { sides: [sides[0].text, sides[1].text] as [string, string] } : {})
		};
		if (shape === 'slab') {
			const ratio = growth ? context.number(growth, 'number') : 1;
			if (!(ratio > 0.1 && ratio < 10)) fail(growth!, `a growth of ${ratio} does not work: it must be from 0.1 to 10, like 1.2`);
			return {
				...shared,
				shape: {
					kind: 'slab',
					thickness: context.positive(amount, 'a thickness'),
					layers: whole(into, 'layers', 1),
					growth: ratio
				}
			};
		}
		refuse(growth, 'cells around an axis are all of one angle; a growth makes a slab');
		if (shape === 'wedge') refuse(into, 'a wedge has one cell around; “solid revolve 90 deg into 12” has more');
		if (context.model.frame.kind !== 'axisymmetric')
			fail(
				amount,
				`a ${shape === 'wedge' ? 'wedge' : 'body of revolution'} turns about the axis; write “frame axisymmetric about x” above`
			);
		const angle = context.number(amount, 'angle');
		const largest = shape === 'wedge' ? Math.PI / 2 : 2 * Math.PI + 1e-9;
		if (!(angle > 0 && angle <= largest))
			fail(
				amount,
				shape === 'wedge'
					? 'a wedge opens by more than 0° and up to 90°, like “4 deg”'
					: 'a body of revolution turns by more than 0° and up to 360°, like “90 deg”'
			);
		const count = shape === 'wedge' ? 1 : whole(into, 'cells around', Math.max(3, Math.ceil(angle / (Math.PI / 18) - 1e-9)));
		if (angle / count > Math.PI / 2 + 1e-9)
			fail(into ?? amount, 'a cell around the axis turns by 90° at most; use more of them with “into”');
		return { ...shared, shape: { kind: 'revolve', angle: Math.min(angle, 2 * Math.PI), into: count } };
	},
	definesAlso: ({ sides = [] }) => sides.map((name) => ({ space: 'group', name })),
	uses: ({ amount, growth, into }) => namesIn(amount, growth, into)
};

/** The solid of a recipe; undefined where it is delivered in the plane. */
export const solidOf = (model: Model): WithLine<SolidStatement> | undefined => stated(model, solid).at(-1);
