import { CurveBuilder, lineCurve, tangent } from '../../geometry/build.ts';
import { ARC, arcOf, type Curve, lengthAt, LINE, pointAt, segmentCount } from '../../geometry/curve.ts';
import { endOf, meetings } from '../../geometry/meet.ts';
import { reverseCurve } from '../../geometry/transform.ts';
import { cos, sin } from '../../numeric/elementary.ts';
import { sizeOf, toleranceOf } from '../model/construction.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { CurveReference, Statement } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';

export interface ExtendSyntax extends Statement {
	kind: 'extend';
	curve: CurveReference;
	to: CurveReference;
}

export const extend: StatementRecord<ExtendSyntax> = {
	kind: 'extend',
	title: 'Extension',
	words: ['extend', 'to'],
	stage: 'shape',
	clauses: [],
	form: 'extend ${curve} to ${other}',
	doc: 'Lengthens the nearer end of a curve until it meets another: lines and arcs as they are, other curves straight on.',
	grammar(p) {
		p.CONSUME(keyword('extend'));
		const curve = p.SUBRULE(p.curveReference);
		p.CONSUME(keyword('to'));
		return { kind: 'extend', curve, to: p.SUBRULE2(p.curveReference) };
	},
	evaluate(statement, context) {
		const c = context.curve(statement.curve);
		const { curves } = context.model;
		const curve = curves[c]!;
		if (curve.closed) fail(statement.curve, `“${curve.name}” is closed and has no end to extend`);
		const targets = context
			.curves(statement.to)
			.filter((k) => k !== c)
			.map((k) => curves[k]!);
		const tolerance = toleranceOf([curve, ...targets]);
		const reach = 3 * sizeOf(targets.concat(curve));
		let best: { length: number; curve: Curve } | undefined;
		for (const atEnd of [true, false]) {
			const run = atEnd ? curve : reverseCurve(curve);
			const last = segmentCount(run) - 1;
			const more = continuation(run, reach);
			for (const target of targets)
				for (const place of meetings(more, target, tolerance)) {
					const length = lengthAt(more, place.s);
					if (length <= 4 * tolerance || (best && best.length <= length)) continue;
					const builder = new CurveBuilder();
					if (last > 0) builder.along(run, 0, last);
					if (run.kinds[last] === LINE) builder.line(pointAt(run, last), place);
					else if (run.kinds[last] === ARC) {
						const { centre, radius, from, sweep } = arcOf(run, last);
						builder.arc(pointAt(run, last), place, centre, radius, from, sweep + Math.sign(sweep) * (length / radius));
					} else builder.along(run, last).line(endOf(run), place);
					const extended = builder.build(curve.name, false);
					best = { length, curve: atEnd ? extended : reverseCurve(extended) };
				}
		}
		if (!best) fail(statement.to, `“${curve.name}” does not meet “${statement.to.name}” however far it goes on`);
		context.replace([[c, best.curve]]);
	},
	uses: ({ curve, to }) => namesIn(curve, to),
	needs: ({ curve, to }) => [curve, to]
};

/** What follows the end of a curve: the rest of its circle after an arc, otherwise a straight line. */
function continuation(curve: Curve, reach: number): Curve {
	const last = segmentCount(curve) - 1;
	const end = endOf(curve);
	if (curve.kinds[last] === ARC) {
		const { centre, radius, from, sweep } = arcOf(curve, last);
		const rest = Math.sign(sweep) * (2 * Math.PI - Math.abs(sweep)) * (1 - 1e-9);
		const angle = from + sweep + rest;
		const stop = { x: centre.x + radius * cos(angle), y: centre.y + radius * sin(angle) };
		return new CurveBuilder().arc(end, stop, centre, radius, from + sweep, rest).build('', false);
	}
	const d = tangent(curve, last, 1);
	return lineCurve('', end, { x: end.x + reach * d.x, y: end.y + reach * d.y });
}
