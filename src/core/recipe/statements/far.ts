import { extent } from '../../geometry/curve.ts';
import { circleCurve, CurveBuilder, lineCurve } from '../../geometry/build.ts';
import { curvesOf } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Expression, Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface FarSyntax extends Statement {
	kind: 'far';
	name: Word;
	shape: 'box' | 'circle' | 'wake';
	curves: CurveReference[];
	by: Expression;
}

export const far: StatementRecord<FarSyntax> = {
	kind: 'far',
	title: 'Far boundary',
	words: ['far', 'box', 'circle', 'wake', 'around', 'by'],
	stage: 'shape',
	clauses: [],
	form: 'far ${name} = ${box} around ${curves} by ${n}',
	doc: "The far boundary n times a body's length from its middle: a box, a circle, or a `wake`, a half circle upstream and straight sides along x. Sides: `.bottom`, `.right`, `.top`, `.left`.",
	grammar(p) {
		p.CONSUME(keyword('far'));
		const name = p.SUBRULE(p.definedName);
		const shape = p.OR([
			{ ALT: () => p.CONSUME(keyword('box')) },
			{ ALT: () => p.CONSUME(keyword('circle')) },
			{ ALT: () => p.CONSUME(keyword('wake')) }
		]).image;
		p.CONSUME(keyword('around'));
		const curves = p.SUBRULE(p.curveReferences);
		p.CONSUME(keyword('by'));
		return { kind: 'far', name, shape, curves, by: p.SUBRULE(p.expression) };
	},
	evaluate(statement, context) {
		const list = curvesOf(statement.curves, context).map((c) => context.model.curves[c]!);
		const [minX, minY, maxX, maxY] = extent(list)!;
		const by = context.number(statement.by, 'number');
		if (!(by >= 1)) fail(statement.by, `the far boundary is at least 1 length away, found ${by}`);
		const reach = by * Math.max(maxX - minX, maxY - minY);
		const middle = { x: (minX + maxX) / 2, y: (minY + maxY) / 2 };
		const name = statement.name.text;
		if (statement.shape === 'circle') return context.add(circleCurve(name, middle, reach));
		const [left, right, bottom, top] = [middle.x - reach, middle.x + reach, middle.y - reach, middle.y + reach];
		const side = (sideName: string, ax: number, ay: number, bx: number, by: number) =>
			context.add(lineCurve(`${name}.${sideName}`, { x: ax, y: ay }, { x: bx, y: by }), name);
		if (statement.shape === 'box') {
			side('bottom', left, bottom, right, bottom);
			side('right', right, bottom, right, top);
			side('top', right, top, left, top);
			side('left', left, top, left, bottom);
			return;
		}
		// The C shape: a half circle upstream, straight sides downstream (along x).
		side('bottom', middle.x, bottom, right, bottom);
		side('right', right, bottom, right, top);
		side('top', right, top, middle.x, top);
		const [a, b] = [
			{ x: middle.x, y: top },
			{ x: middle.x, y: bottom }
		];
		context.add(new CurveBuilder().arc(a, b, middle, reach, Math.PI / 2, Math.PI).build(`${name}.left`, false), name);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	actsOn: ({ curves }) => [curves],
	uses: ({ curves, by }) => namesIn(curves, by)
};
