import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { lineCurve } from '../../geometry/build.ts';
import { language } from './language.ts';
import { namesOf, renameEverywhere } from '../edits/edits.ts';
import { evaluateRecipe } from '../model/evaluate.ts';
import { evaluateNumber, evaluatePoint } from '../model/expressions.ts';
import { deleteThings } from '../edits/intents.ts';
import { namesIn } from './names.ts';
import { expectedNext, parseRecipe, parseStatement, syntaxFindings } from './parse.ts';
import { sharedWords } from './grammar.ts';
import { statementPage } from './statement-page.ts';
import { stated, workOrder, type StatementRecord } from './statement.ts';
import { statements } from '../statements/table.ts';
import type { Expression, Statement, Word } from './syntax.ts';
import { applyEdits } from '../../text/edit.ts';
import { keyword } from './tokens.ts';

interface CrossSyntax extends Statement {
	kind: 'cross';
	name: Word;
	centre: Expression;
	arm: Expression;
}

/** A toy: two lines that cross, all of it in one record. */
const cross: StatementRecord<CrossSyntax, { arm: number }> = {
	kind: 'cross',
	title: 'Cross',
	words: ['cross', 'around', 'arm'],
	stage: 'shape',
	clauses: ['name', 'arm'],
	form: 'cross ${name} = around ${centre} arm ${length}',
	doc: 'Two lines that cross, each twice as long as an arm.',
	grammar(p) {
		p.CONSUME(keyword('cross'));
		const name = p.SUBRULE(p.definedName);
		p.CONSUME(keyword('around'));
		const centre = p.SUBRULE(p.expression);
		const arm = p.clause('arm', () => {
			p.CONSUME(keyword('arm'));
			return p.SUBRULE2(p.expression);
		});
		return { kind: 'cross', name, centre, arm };
	},
	evaluate({ name, centre, arm }, context) {
		const { x, y } = evaluatePoint(centre, context.scope);
		const a = evaluateNumber(arm, context.scope, 'length');
		context.add(lineCurve(`${name.text}.across`, { x: x - a, y }, { x: x + a, y }), name.text);
		context.add(lineCurve(`${name.text}.up`, { x, y: y - a }, { x, y: y + a }), name.text);
		return { arm: a };
	},
	defines: ({ name }) => ({ space: 'value', name }),
	uses: ({ centre, arm }) => namesIn(centre, arm)
};
// The language is put together when it is first needed: in this file, with the toy in its table.
(statements as unknown as StatementRecord[]).push(cross as unknown as StatementRecord);

const text = `recipe 1
let wide = 4
point p = (1, 2)
cross mark = around p arm wide/2
divide mark into 3
region r at (0, 0)
`;

describe('a statement that is added by its record alone', () => {
	const recipe = parseRecipe(text);

	it('is read, and what it lacks is told', () => {
		expect(syntaxFindings(recipe)).toEqual([]);
		expect(recipe.lines[3]!.statement).toMatchObject({ kind: 'cross', name: { text: 'mark' } });
		const [finding] = syntaxFindings(parseRecipe('cross c = around (0, 0) ram 3\n'));
		expect(finding!.message).toMatch(/found “ram”; did you mean “arm”/);
		expect(syntaxFindings(parseRecipe('crss c = 3\n'))[0]!.message).toMatch(/did you mean “cross”/);
	});

	it('is offered by the completion', () => {
		expect(language().starts).toContain('cross');
		expect(expectedNext('cross c = around (0, 0) ')).toContain('“arm”');
	});

	it('is worked out, and kept in the model', () => {
		const model = evaluateRecipe(recipe, {});
		expect(model.findings).toEqual([]);
		expect(model.curves.map((c) => c.name)).toEqual(['mark.across', 'mark.up']);
		expect(stated(model, cross)).toEqual([{ arm: 2, line: 3 }]);
	});

	it('follows what it names, and its name is followed', () => {
		expect(namesOf(recipe.lines[3]!.statement!).map((use) => use.name)).toEqual(['mark', 'p', 'wide']);
		const renamed = applyEdits(text, renameEverywhere(recipe, 'value', 'mark', 'plus'));
		expect(renamed).toContain('cross plus = around p');
		expect(renamed).toContain('divide plus into 3');
		expect(applyEdits(text, renameEverywhere(recipe, 'value', 'wide', 'w'))).toContain('arm w/2');
	});

	it('goes with all that needs it', () => {
		const left = deleteThings(recipe, { values: ['mark'] });
		expect(left).not.toMatch(/cross|divide/);
		expect(left).toContain('point p');
	});

	it('is in the documentation', () => {
		expect(statementPage(statements)).toContain(
			'## cross\n\n*Cross.* `cross name = around centre arm length`\n\nTwo lines that cross, each twice as long as an arm.'
		);
	});
});

describe('the records of statements', () => {
	const written = statements.filter((record) => record.kind !== 'cross');

	it.each(written.map((record) => [record.kind, record] as const))('%s is complete', (kind, record) => {
		expect(record.title).toMatch(/^[A-ZÉ]/);
		expect(record.doc).toMatch(/^[A-Z].*\.$/s);
		expect(record.form.startsWith(record.words[0]!)).toBe(true);
		expect(workOrder).toContain(record.stage);
		// Its form, filled in, is read as a statement of its kind.
		const filled = record.form.replace(/\$\{([^}]*)\}/g, '$1');
		expect([filled, parseStatement(filled)]).toEqual([filled, { statement: expect.objectContaining({ kind }) }]);
		expect(written.filter((other) => other.kind === kind)).toHaveLength(1);
	});

	it('are told in docs/statements.md', async () => {
		await expect(statementPage(written)).toMatchFileSnapshot('../../../../docs/statements.md');
	});

	it('use words that stand once in docs/words.md', () => {
		const page = readFileSync('docs/words.md', 'utf8').split('## Words of the recipe')[1]!.split('## ')[0]!;
		const told = [...page.matchAll(/^\| ([^|]*) \|/gm)].flatMap(([, cell]) =>
			[...cell!.matchAll(/`([^`]+)`/g)].map(([, word]) => word!)
		);
		const starts = new Set(written.map((record) => record.words[0]!));
		const words = [...new Set([...sharedWords, ...written.flatMap((record) => record.words)])];
		expect(told.toSorted()).toEqual(
			[...new Set([...words.filter((word) => !starts.has(word) && word !== 'guide'), 'end'])].toSorted()
		);
	});
});
