import { polylineCurve } from '../../geometry/build.ts';
import { fileClauses, fileShape, fileWords, type Outlined, outlineOf, usesOf, endsOf } from '../outlined.ts';
import type { StatementRecord } from '../statement.ts';
import { keyword } from '../tokens.ts';

export interface PolylineSyntax extends Outlined {
	kind: 'polyline';
}

export const polyline: StatementRecord<PolylineSyntax> = {
	kind: 'polyline',
	title: 'Polyline',
	words: ['polyline', 'closed', 'to', ...fileWords],
	stage: 'shape',
	rules: [fileShape],
	clauses: ['name', 'shape', ...fileClauses],
	form: 'polyline ${name} = ${p} to ${q} to ${r}',
	doc: 'Straight lines from point to point, written out or `through "file"`; joints that turn by more than 20° are junctions.',
	grammar(p) {
		p.CONSUME(keyword('polyline'));
		const name = p.SUBRULE(p.definedName);
		const shape = p.OR([{ ALT: () => p.SUBRULE(p.own(fileShape)) }, { ALT: () => ({ points: p.SUBRULE(p.pointChain) }) }]);
		const closed = p.OPTION(() => p.CONSUME(keyword('closed'))) !== undefined;
		return { kind: 'polyline', name, points: [], ...shape, closed, parameter: 'chord' };
	},
	evaluate(statement, shop) {
		const { x, y, closed, lines } = outlineOf(statement, shop);
		const name = statement.name.text;
		shop.add(polylineCurve(name, x, y, closed), name, lines);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	ends: endsOf,
	file: ({ file }) => file,
	uses: usesOf
};
