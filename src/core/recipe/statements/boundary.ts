import { fileNamed } from './shared/curve-files.ts';
import { namesIn } from '../language/names.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Statement, Word } from '../language/syntax.ts';
import { keyword } from '../language/tokens.ts';
import { fail } from '../model/evaluation-context.ts';
import { type DrawingClauses, drawingFile, takeCurves } from './drawing.ts';

export interface BoundarySyntax extends Statement, DrawingClauses {
	kind: 'boundary';
	/** Its curves are named after `boundary` without one. */
	name?: Word;
}

export const boundary: StatementRecord<BoundarySyntax> = {
	kind: 'boundary',
	title: 'Boundary of a mesh',
	words: ['boundary', 'from', 'only', 'scaled', 'turned', 'moved'],
	stage: 'shape',
	clauses: ['name', 'file', 'only', 'scaled', 'turned', 'moved'],
	form: 'boundary ${old} = from "${old.cgns}"',
	doc: 'The outline of a mesh in CGNS or VTK XML, and what lies between its regions, as polylines through its nodes: `old.inlet` is the sides of the group `inlet`, `old.inlet_1` and `old.inlet_2` its chains where there are several, `old.outline` those in no group, `old.interface` those between regions; a wall of two sides is one curve. Without a name they are `boundary.inlet` and so on.',
	grammar(p) {
		p.CONSUME(keyword('boundary'));
		const name = p.OPTION(() => p.SUBRULE(p.definedName));
		p.CONSUME(keyword('from'));
		return {
			kind: 'boundary',
			...(name ? { name } : {}),
			...(p.SUBRULE(p.ruleOf(drawingFile)) as DrawingClauses)
		};
	},
	evaluate(statement, context) {
		const { file, name } = statement;
		const read = fileNamed(file, context);
		if (!('drawing' in read) || !read.drawing.mesh)
			fail(
				file,
				`“${file.text}” holds no mesh; take ${'drawing' in read ? `its curves with “drawing name = from "${file.text}"”` : `its points with “polyline name = from "${file.text}"”`}`
			);
		takeCurves(read.drawing, name?.text ?? 'boundary', statement, context);
	},
	defines: ({ name }) => name && { space: 'value', name },
	file: ({ file }) => file,
	uses: ({ placing }) => namesIn(placing?.scaled, placing?.turned, placing?.moved)
};
