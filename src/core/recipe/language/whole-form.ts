import {
	Alternation,
	Alternative,
	type IProduction,
	NonTerminal,
	Option,
	Repetition,
	RepetitionMandatory,
	RepetitionMandatoryWithSeparator,
	RepetitionWithSeparator,
	type Rule,
	Terminal
} from 'chevrotain';
import { language } from './language.ts';
import type { StatementRecord } from './statement.ts';

/** Rules that stand for themselves in a form, and what a reader calls them. */
const called: Readonly<Record<string, string>> = {
	definedName: 'NAME =',
	dottedName: 'NAME',
	names: 'NAME, …',
	expression: 'VALUE',
	expressions: 'VALUE, …',
	curveReference: 'CURVE',
	curveReferences: 'CURVE, …',
	pieceSets: 'PIECES',
	quoted: '"TEXT"',
	pointChain: 'POINT to POINT …',
	spacingEnd: 'END',
	drawingFile: '"FILE" [only "LAYER", …] [scaled VALUE] [turned VALUE] [moved VALUE]'
};

/** A form with what is optional in brackets, as the grammar has it; `|` parts what is chosen from. */
export function wholeForm(record: StatementRecord): string {
	const rule = language().parser.getGAstProductions()[`${record.kind}Statement`]!;
	return sequence(rule).replace(/ +/g, ' ').trim();
}

const sequence = ({ definition }: Rule | { definition: IProduction[] }): string => definition.map(written).join(' ');

function written(production: IProduction): string {
	if (production instanceof Terminal) return tokenText(production);
	if (production instanceof NonTerminal) {
		const { nonTerminalName, referencedRule } = production;
		return called[nonTerminalName] ?? sequence(referencedRule);
	}
	if (production instanceof Option) return `[${sequence(production)}]`;
	if (production instanceof Alternation) {
		const choices = production.definition.map((choice) => sequence(choice as Alternative).trim()).filter((text) => text !== '');
		return choices.length > 1 ? `(${choices.join(' | ')})` : (choices[0] ?? '');
	}
	if (production instanceof Repetition || production instanceof RepetitionMandatory) return repeated(production);
	if (production instanceof RepetitionWithSeparator || production instanceof RepetitionMandatoryWithSeparator)
		return `[${sequence(production)}, …]`;
	return '';
}

/** Clauses that come in any order stand one by one in brackets; of a list the next item follows a comma. */
function repeated(production: Repetition | RepetitionMandatory): string {
	const [only, ...more] = production.definition;
	if (only instanceof Alternation && more.length === 0)
		return only.definition.map((choice) => `[${sequence(choice as Alternative).trim()}]`).join(' ');
	if (only instanceof Terminal && only.terminalType.name === 'Comma') return ', …';
	const text = sequence(production);
	return production instanceof Repetition ? `[${text} …]` : `${text} …`;
}

function tokenText({ terminalType }: Terminal): string {
	const { name, LABEL } = terminalType;
	const sign = /^“(.+)”$/.exec(LABEL ?? '')?.[1];
	return sign ?? { Name: 'NAME', NumberLiteral: 'NUMBER', Unit: 'UNIT', Quoted: '"TEXT"' }[name] ?? name;
}
