import { word } from '../language/rules.ts';
import type { StatementRecord } from '../language/statement.ts';
import type { Statement, Word } from '../language/syntax.ts';
import { keyword, Name } from '../language/tokens.ts';
import { lengthUnits } from '../language/units.ts';
import { unitWords } from '../language/slips.ts';
import { failWith } from '../model/evaluation-context.ts';

export interface UnitsSyntax extends Statement {
	kind: 'units';
	unit: Word;
}

export const units: StatementRecord<UnitsSyntax> = {
	kind: 'units',
	title: 'Units',
	words: ['units'],
	stage: 'header',
	once: true,
	clauses: ['unit'],
	form: 'units ${mm}',
	doc: 'The unit of all bare lengths; without it they are in mm. It holds for the whole recipe.',
	grammar(p) {
		p.CONSUME(keyword('units'));
		return { kind: 'units', unit: p.clause('unit', () => word(p.CONSUME(Name))) };
	},
	evaluate(statement) {
		const { unit } = statement;
		if (!lengthUnits.includes(unit.text)) failWith(unit, `“${unit.text}” is no unit of length`, lengthUnits, unitWords);
	}
};
