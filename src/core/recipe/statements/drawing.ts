import { addTo } from '../../numeric/lists.ts';
import { transformCurve } from '../../geometry/transform.ts';
import { didYouMean } from '../../text/nearest.ts';
import { fileNamed, layerName, placement } from './shared/curve-files.ts';
import type { DrawingFile } from '../model/model.ts';
import { namesIn } from '../language/names.ts';
import { inAnyOrder, type NamedRule, placingParts } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Placing, Statement, Word } from '../language/syntax.ts';
import { Comma, keyword } from '../language/tokens.ts';
import { fileScale } from '../language/units.ts';
import { fail, type EvaluationContext } from '../model/evaluation-context.ts';

export interface DrawingSyntax extends Statement {
	kind: 'drawing';
	name: Word;
	file: Word;
	layers?: Word[];
	placing?: Placing;
}

/** What follows `from` where curves are taken from a file. */
export type DrawingClauses = Pick<DrawingSyntax, 'file' | 'layers' | 'placing'>;

/** `"part.dxf" only "walls", "holes"` */
export const drawingFile: NamedRule<DrawingClauses> = {
	name: 'drawingFile',
	parse(p) {
		const file = p.clause('file', () => p.SUBRULE(p.quoted));
		const { layers, ...placing } = inAnyOrder<Required<Placing> & { layers: Word[] }>(
			(parse) => p.MANY2(parse),
			(choices) => p.OR(choices),
			{
				layers: () =>
					p.clause('only', () => {
						p.CONSUME(keyword('only'));
						const list = [p.SUBRULE2(p.quoted)];
						p.MANY(() => {
							p.CONSUME(Comma);
							list.push(p.SUBRULE3(p.quoted));
						});
						return list;
					}),
				...placingParts(p)
			}
		);
		return { file, layers, placing };
	}
};

/** Takes the curves of a file, or of some layers of it, as `name.layer_1`, `name.layer_2` and so on. */
export function takeCurves(
	drawing: DrawingFile,
	name: string,
	{ file, layers: wantedLayers, placing }: DrawingClauses,
	context: EvaluationContext
): void {
	const unitScale = fileScale(drawing.unit, context.scope.units);
	const map = placement(placing, context, unitScale);
	const layers = [...new Set(drawing.curves.map((c) => c.layer))];
	for (const wanted of wantedLayers ?? [])
		if (!layers.includes(wanted.text))
			fail(
				wanted,
				`“${file.text}” has no curves on a layer “${wanted.text}”${didYouMean(wanted.text, layers) || `; there are ${layers.join(', ')}`}`
			);
	const chosen = drawing.curves.filter((c) => !wantedLayers || wantedLayers.some((l) => l.text === c.layer));
	if (chosen.length === 0) fail(file, `“${file.text}” holds no curves`);
	const { curvesByName, curves } = context.model;
	const perLayer = new Map<string, number>();
	for (const { curve, layer } of chosen) {
		const layerCurve = `${name}.${layerName(layer)}`;
		const number = (perLayer.get(layerCurve) ?? 0) + 1;
		perLayer.set(layerCurve, number);
		context.add(transformCurve(curve, map, `${layerCurve}_${number}`), name);
		addTo(curvesByName, layerCurve, curves.length - 1);
	}
}

export const drawing: StatementRecord<DrawingSyntax> = {
	kind: 'drawing',
	title: 'Drawing',
	words: ['drawing', 'from', 'only', 'scaled', 'turned', 'moved'],
	stage: 'shape',
	rules: [drawingFile],
	clauses: ['name', 'file', 'only', 'scaled', 'turned', 'moved'],
	form: 'drawing ${name} = from "${part.dxf}"',
	doc: "The curves of a DXF or SVG file: `part` is all of them, `part.walls` those of a layer, `part.walls_2` the second of these. A file that says its unit is converted to the recipe's.",
	grammar(p) {
		p.CONSUME(keyword('drawing'));
		const name = p.SUBRULE(p.definedName);
		p.CONSUME(keyword('from'));
		return { kind: 'drawing', name, ...(p.SUBRULE(p.ruleOf(drawingFile)) as DrawingClauses) };
	},
	evaluate(statement, context) {
		const { file } = statement;
		const read = fileNamed(file, context);
		if (!('drawing' in read)) fail(file, `“${file.text}” holds coordinates; take it with “polyline name = from "${file.text}"”`);
		if (read.drawing.mesh) fail(file, `“${file.text}” holds a mesh; take its outline with “boundary name = from "${file.text}"”`);
		takeCurves(read.drawing, statement.name.text, statement, context);
	},
	defines: ({ name }) => ({ space: 'value', name }),
	file: ({ file }) => file,
	uses: ({ placing }) => namesIn(placing?.scaled, placing?.turned, placing?.moved)
};
